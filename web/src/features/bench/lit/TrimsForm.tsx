/** What was found and set of a dimmer on site, in degrees of conduction. */
import { useState } from "react";
import { readQuantity, significant } from "../../../format";
import { texts } from "../../../texts/en";
import { type Draft, NO_TRIMS, type Trims } from "../draft";

const words = texts.lit;
const NAMES = Object.keys(words.trims) as (keyof Trims)[];

interface Props {
  draft: Draft;
  change: (draft: Draft) => void;
}

export function TrimsForm({ draft, change }: Props) {
  const trims = draft.trims ?? NO_TRIMS;
  return (
    <section aria-label={words.onSite}>
      <h2>{words.onSite}</h2>
      <p className="quiet">{words.onSiteLead}</p>
      <div className="where-form trims-form">
        {NAMES.map((name) => (
          <Angle
            key={name}
            label={words.trims[name]}
            value={trims[name]}
            onValue={(value) => change({ ...draft, trims: { ...trims, [name]: value } })}
          />
        ))}
      </div>
    </section>
  );
}

interface AngleProps {
  label: string;
  value: number | null;
  onValue: (value: number | null) => void;
}

function Angle({ label, value, onValue }: AngleProps) {
  const [typed, setTyped] = useState(value === null ? "" : String(value));
  const read = typed.trim() === "" ? null : readQuantity(typed, "1");
  const isWrong = typed.trim() !== "" && (read === null || read < 1 || read > 180);
  return (
    <label>
      {label}
      <input
        className="figure"
        inputMode="decimal"
        value={typed}
        placeholder="–"
        aria-invalid={isWrong || undefined}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => !isWrong && onValue(read)}
      />
      {isWrong && <span className="wrong">{words.notAnAngle}</span>}
      {!isWrong && read !== null && (
        <small className="quiet">{words.ofScale(significant(read / 1.8, 2))}</small>
      )}
    </label>
  );
}
