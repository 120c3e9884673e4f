/** What was found and set of a dimmer on site, in degrees of conduction. */
import { significant } from "../../../format";
import { say, texts } from "../../../texts";
import { QuantityInput } from "../../quantity/QuantityInput";
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
          <QuantityInput
            key={name}
            name="setting_deg"
            label={words.trims[name]}
            value={trims[name]}
            hint="–"
            more={
              trims[name] === null
                ? ""
                : say(words.ofScale, { percent: significant((trims[name] ?? 0) / 1.8, 2) })
            }
            onChange={(value) => change({ ...draft, trims: { ...trims, [name]: value } })}
          />
        ))}
      </div>
    </section>
  );
}
