/** What was seen at the luminaires: kept as it is chosen. */
import { say, texts } from "../../texts";
import { type Ceiling, useSeeCeiling } from "./queries";

const words = texts.ways;
type Seen = Ceiling["seen"];

interface Props {
  loop: string;
  points: Ceiling[];
  mayEdit: boolean;
}

export function CeilingForm({ loop, points, mayEdit }: Props) {
  const see = useSeeCeiling(loop);
  const set = (point: Ceiling, change: Partial<Seen>) =>
    see.mutate({ gang: point.gang, version: point.version, seen: { ...point.seen, ...change } });
  return (
    <section aria-label={words.ceilingTitle}>
      <h3>{words.ceilingTitle}</h3>
      {see.isError && (
        <p className="wrong" role="alert">
          {see.error.message}
        </p>
      )}
      {points.map((point) => (
        <fieldset key={point.gang} className="plain-set" disabled={!mayEdit || see.isPending}>
          {points.length > 1 && (
            <legend>{say(words.ceilingOf, { position: point.position, name: point.name })}</legend>
          )}
          <div className="field-grid">
            <Pick
              label={words.line}
              value={point.seen.line ?? "unknown"}
              options={words.at}
              onPick={(line) => set(point, { line: line as Seen["line"] })}
            />
            <Pick
              label={words.neutral}
              value={point.seen.neutral ?? "unknown"}
              options={words.whose}
              onPick={(neutral) => set(point, { neutral: neutral as Seen["neutral"] })}
            />
            <Pick
              label={words.spare}
              value={point.seen.spare ?? "unknown"}
              options={words.at}
              onPick={(spare) => set(point, { spare: spare as Seen["spare"] })}
            />
            <Pick
              label={words.lamps}
              value={point.seen.lamps ?? "unknown"}
              options={words.lampsThere}
              onPick={(lamps) => set(point, { lamps: lamps as Seen["lamps"] })}
            />
          </div>
        </fieldset>
      ))}
    </section>
  );
}

interface PickProps {
  label: string;
  value: string;
  options: Record<string, string>;
  onPick: (value: string) => void;
}

function Pick({ label, value, options, onPick }: PickProps) {
  return (
    <label className="field">
      {label}
      <select value={value} onChange={(event) => onPick(event.target.value)}>
        {Object.entries(options).map(([name, word]) => (
          <option key={name} value={name}>
            {word}
          </option>
        ))}
      </select>
    </label>
  );
}
