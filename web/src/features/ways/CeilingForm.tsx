/** What was seen outside the box, at luminaires and junction boxes: kept as it is chosen. */
import { say, texts } from "../../texts";
import { type Ceiling, useSeeCeiling } from "./queries";

const words = texts.ways;
type Seen = Ceiling["seen"];
const JUNCTIONS = ["unknown", "none", "1", "2", "3"];

interface Props {
  loop: string;
  points: Ceiling[];
  /** Several gangs and circuits come together in the box. */
  asksCircuit: boolean;
  mayEdit: boolean;
}

export function CeilingForm({ loop, points, asksCircuit, mayEdit }: Props) {
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
            {asksCircuit && (
              <Pick
                label={words.circuit}
                value={point.seen.hangs_on ?? "unknown"}
                options={words.circuits}
                onPick={(hangs) => set(point, { hangs_on: hangs as Seen["hangs_on"] })}
              />
            )}
            <Pick
              label={words.junction}
              value={point.seen.junction ?? "unknown"}
              options={words.junctions}
              order={JUNCTIONS}
              onPick={(junction) => set(point, { junction: junction as Seen["junction"] })}
            />
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
  /** Names that look like numbers come first in an object, whatever the order they are written in. */
  order?: readonly string[];
  onPick: (value: string) => void;
}

function Pick({ label, value, options, order, onPick }: PickProps) {
  return (
    <label className="field">
      {label}
      <select value={value} onChange={(event) => onPick(event.target.value)}>
        {(order ?? Object.keys(options)).map((name) => (
          <option key={name} value={name}>
            {options[name]}
          </option>
        ))}
      </select>
    </label>
  );
}
