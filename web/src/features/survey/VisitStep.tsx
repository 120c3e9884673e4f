/** Step 1: what was learned by telephone, and the sheet made of it. */
import { texts } from "../../texts";
import { QuantityInput } from "../quantity/QuantityInput";
import { Answer, Pick } from "./fields";
import type { StepProps } from "./stepProps";

export function VisitStep({ survey, draft, choices }: StepProps) {
  const words = texts.survey.visit;
  const enquiry = draft.doc.enquiry;
  const put = (name: string, value: unknown) => {
    const others = Object.entries(enquiry).filter(([key]) => key !== name);
    const next = value === null || value === "" ? others : [...others, [name, value]];
    draft.change({ enquiry: Object.fromEntries(next) as Record<string, unknown> });
  };
  const number = (name: string) => (typeof enquiry[name] === "number" ? enquiry[name] : null);
  const flag = (name: string) => (typeof enquiry[name] === "boolean" ? enquiry[name] : null);
  const word = (name: string, missing: string) =>
    typeof enquiry[name] === "string" ? enquiry[name] : missing;
  const error = (name: string) => draft.errors.find((entry) => entry.path === `enquiry.${name}`)?.text;
  return (
    <>
      <h2>{words.title}</h2>
      <p className="quiet">{words.lead}</p>
      <div className="field-grid">
        <QuantityInput
          name="year"
          label={words.wired}
          isWhole
          hint="1974"
          value={number("wired_year")}
          error={error("wired_year")}
          onChange={(value) => put("wired_year", value)}
        />
        <Pick
          label={words.complaint}
          value={word("complaint", "unknown")}
          choices={choices.complaints}
          onPick={(value) => put("complaint", value)}
        />
        {enquiry["complaint"] === "flicker_off" && (
          <QuantityInput
            name="period"
            label={words.period}
            hint="1.5"
            value={number("flash_period_s")}
            error={error("flash_period_s")}
            onChange={(value) => put("flash_period_s", value)}
          />
        )}
        <Pick
          label={words.lamps}
          value={word("lamps", "unknown")}
          choices={choices.lamps}
          onPick={(value) => put("lamps", value)}
        />
        <Pick
          label={words.radio}
          value={word("radio", "unknown")}
          choices={choices.radios}
          onPick={(value) => put("radio", value)}
        />
        <Answer
          label={words.hub}
          value={flag("is_hub_in_range")}
          onPick={(value) => put("is_hub_in_range", value)}
        />
        <QuantityInput
          name="whole"
          label={words.devices}
          isWhole
          value={number("devices_left")}
          error={error("devices_left")}
          onChange={(value) => put("devices_left", value)}
        />
        <Answer
          label={words.ways}
          value={flag("is_switched_elsewhere")}
          onPick={(value) => put("is_switched_elsewhere", value)}
        />
        <Answer
          label={words.dimming}
          value={flag("is_dimming_wanted")}
          onPick={(value) => put("is_dimming_wanted", value)}
        />
        <QuantityInput
          name="whole"
          label={words.gangs}
          isWhole
          value={number("gang_count")}
          error={error("gang_count")}
          onChange={(value) => put("gang_count", value)}
        />
      </div>
      <p className="hint">{survey.visit.hint.text}</p>
      {survey.visit.notes.map((note) => (
        <p key={note.code} className={`survey-note weighs-${note.severity}`}>
          <b>{note.text}</b>
        </p>
      ))}
      <div className="two-lists">
        <section aria-label={words.ask}>
          <h3>{words.ask}</h3>
          <ul className="plain-list">
            {survey.visit.ask.map((entry) => (
              <li key={entry.code}>{entry.text}</li>
            ))}
          </ul>
        </section>
        <section aria-label={words.bring}>
          <h3>{words.bring}</h3>
          <ul className="plain-list">
            {survey.visit.bring.map((entry) => (
              <li key={entry.code}>{entry.text}</li>
            ))}
          </ul>
        </section>
      </div>
      <p>
        <a
          className="outlined"
          href={`/api/v1/loops/${survey.loop}/visit.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          {words.print}
        </a>
      </p>
    </>
  );
}
