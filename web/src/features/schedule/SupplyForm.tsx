/** The supply of a site and whose words are used there; what was judged before is out of date then. */
import type { Schemas } from "../../api/client";
import { texts } from "../../texts";
import { QuantityInput } from "../quantity/QuantityInput";
import type { SiteChange } from "./queries";

const words = texts.survey.schedule;
const TOLERANCES = [0, 0.05, 0.06, 0.1, 0.15, 0.2];

interface Props {
  site: Schemas["Site"];
  isDisabled: boolean;
  onChange: (part: SiteChange) => void;
}

export function SupplyForm({ site, isDisabled, onChange }: Props) {
  const tolerance = site.tolerance_ratio ?? 0.1;
  return (
    <fieldset className="plain-set supply-form" disabled={isDisabled} aria-label={words.supply}>
      <QuantityInput
        name="v_rms"
        label={words.volts}
        value={site.v_rms}
        isNeeded
        onChange={(v_rms) => v_rms !== null && onChange({ v_rms })}
      />
      <QuantityInput
        name="f_hz"
        label={words.hertz}
        value={site.f_hz}
        isNeeded
        onChange={(f_hz) => f_hz !== null && onChange({ f_hz })}
      />
      <label className="field">
        {words.tolerance}
        <select
          value={tolerance}
          onChange={(event) => onChange({ tolerance_ratio: Number(event.target.value) })}
        >
          {[...new Set([...TOLERANCES, tolerance])]
            .sort((a, b) => a - b)
            .map((ratio) => (
              <option key={ratio} value={ratio}>
                ± {Math.round(ratio * 100)} %
              </option>
            ))}
        </select>
      </label>
      <label className="field">
        {words.region}
        <select
          value={site.region}
          onChange={(event) => onChange({ region: event.target.value as Schemas["RegionEnum"] })}
        >
          {Object.entries(words.regions).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
    </fieldset>
  );
}
