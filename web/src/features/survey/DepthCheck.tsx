/** Will the control go in: the figures of its body, and the answer. */
import { engineering, significant } from "../../format";
import { texts } from "../../texts";
import { QuantityInput } from "../quantity/QuantityInput";
import { Tick } from "./fields";
import type { StepProps } from "./stepProps";

const words = texts.survey.box;
const BODY = [
  ["depth_m", words.bodyDepth],
  ["width_m", words.bodyWidth],
  ["height_m", words.bodyHeight],
] as const;
const SPACERS_M = [0.01, 0.016, 0.022, 0.03];
/** Said where none is at hand; where nothing is said the server reckons with those usually sold. */
const NONE_M = 0;

const cubic = (value_m3: number) => `${significant(value_m3 * 1e6)} cm³`;

export function DepthCheck({ survey, draft, mayEdit }: StepProps) {
  const body = draft.doc.control_body ?? {};
  const put = (name: string, value: number | null) => {
    const next = { lead_count: 0, ...body, [name]: value };
    const isEmpty = BODY.every(([key]) => (next[key as keyof typeof next] ?? null) === null);
    draft.change({ control_body: isEmpty ? null : next });
  };
  const error = (name: string) => draft.errors.find((entry) => entry.path === `control_body.${name}`)?.text;
  const depth = survey.depth;
  return (
    <section aria-label={words.fit}>
      <h3>{words.fit}</h3>
      <div className="field-grid">
        {BODY.map(([name, label]) => (
          <QuantityInput
            key={name}
            name={name}
            label={label}
            hint="25 mm"
            value={body[name] ?? null}
            error={error(name)}
            onChange={(value) => put(name, value)}
          />
        ))}
        <QuantityInput
          name="whole"
          label={words.leads}
          isWhole
          value={body["lead_count"] ?? 0}
          error={error("lead_count")}
          onChange={(value) => put("lead_count", value ?? 0)}
        />
      </div>
      <fieldset className="plain-set">
        <legend>{words.spacers}</legend>
        {SPACERS_M.map((spacer) => (
          <Tick
            key={spacer}
            label={engineering(spacer, "m")}
            disabled={!mayEdit}
            isOn={draft.doc.spacers_m.includes(spacer)}
            onChange={(isOn) =>
              draft.change({
                spacers_m: isOn
                  ? [...draft.doc.spacers_m.filter((entry) => entry !== NONE_M), spacer].sort((a, b) => a - b)
                  : draft.doc.spacers_m.filter((entry) => entry !== spacer),
              })
            }
          />
        ))}
        <Tick
          label={words.noSpacer}
          disabled={!mayEdit}
          isOn={draft.doc.spacers_m.includes(NONE_M)}
          onChange={(isOn) => draft.change({ spacers_m: isOn ? [NONE_M] : [] })}
        />
        {draft.doc.spacers_m.length === 0 && <p className="quiet">{words.spacersNotNoted}</p>}
      </fieldset>
      {depth === null ? (
        <p className="quiet">{words.fitEmpty}</p>
      ) : (
        <p className={`fit-answer fit-${depth.fit}`} role="status">
          <b>{depth.text}</b>{" "}
          {depth.available_m !== null && (
            <span className="figure">
              {words.needs} {engineering(depth.needed_m, "m")}, {words.has}{" "}
              {engineering(depth.available_m, "m")};{" "}
            </span>
          )}
          <span className="figure">
            {words.volume} {cubic(depth.conductor_volume_m3)}
            {depth.free_volume_m3 !== null && `, ${words.freeVolume} ${cubic(depth.free_volume_m3)}`}
          </span>
          <small>{depth.rule}</small>
        </p>
      )}
    </section>
  );
}
