/** What was seen outside the box, at luminaires and junction boxes: kept as it is chosen. */
import { say, texts } from "../../texts";
import { type Ceiling, useSeeCeiling } from "./queries";

const words = texts.ways;
type Seen = Ceiling["seen"];
interface Field {
  name: keyof Seen;
  label: string;
  options: Record<string, string>;
  order?: readonly string[];
}
const FIELDS: readonly Field[] = [
  { name: "hangs_on", label: words.circuit, options: words.circuits },
  // Names that look like numbers come first in an object, whatever the order they are written in.
  {
    name: "junction",
    label: words.junction,
    options: words.junctions,
    order: ["unknown", "none", "1", "2", "3"],
  },
  { name: "line", label: words.line, options: words.at },
  { name: "neutral", label: words.neutral, options: words.whose },
  { name: "spare", label: words.spare, options: words.at },
  { name: "lamps", label: words.lamps, options: words.lampsThere },
];

/** Another end of the cable: what was seen at the one before was not seen there. */
const elsewhere = (before: string, after: string): Partial<Seen> =>
  [before, after].every((end) => end === "unknown" || end === "none")
    ? {}
    : { line: "unknown", spare: "unknown" };

interface Props {
  loop: string;
  points: Ceiling[];
  /** Several gangs and circuits come together in the box. */
  asksCircuit: boolean;
  mayEdit: boolean;
}

export function CeilingForm({ loop, points, asksCircuit, mayEdit }: Props) {
  return (
    <section aria-label={words.ceilingTitle}>
      <h3>{words.ceilingTitle}</h3>
      {points.map((point) => (
        <Point key={point.gang} {...{ loop, point, asksCircuit, mayEdit }} isOne={points.length === 1} />
      ))}
    </section>
  );
}

type PointProps = Omit<Props, "points"> & { point: Ceiling; isOne: boolean };

function Point({ loop, point, isOne, asksCircuit, mayEdit }: PointProps) {
  const see = useSeeCeiling(loop, point.gang);
  const seen = { ...point.seen, ...see.waiting };
  return (
    <fieldset className="plain-set" disabled={!mayEdit}>
      {!isOne && <legend>{say(words.ceilingOf, { position: point.position, name: point.name })}</legend>}
      {see.error && (
        <p className="wrong" role="alert">
          {see.error.message}
        </p>
      )}
      <div className="field-grid">
        {FIELDS.filter(({ name }) => asksCircuit || name !== "hangs_on").map(({ name, ...field }) => (
          <Pick
            key={name}
            {...field}
            value={seen[name] ?? "unknown"}
            onPick={(word) => {
              const left = name === "junction" ? elsewhere(seen.junction ?? "unknown", word) : {};
              see.change({ ...seen, ...left, [name]: word }, point.version);
            }}
          />
        ))}
      </div>
    </fieldset>
  );
}

interface PickProps extends Omit<Field, "name"> {
  value: string;
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
