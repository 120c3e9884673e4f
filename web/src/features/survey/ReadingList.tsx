/** The readings on record; a wrong one is struck out with its reason, never lost. */
import { useState } from "react";
import { texts } from "../../texts/en";
import { FormDialog } from "../FormDialog";
import { when } from "../when";
import { useStrike } from "./queries";
import type { StepProps } from "./stepProps";

const words = texts.survey.conductors;

export function ReadingList({ survey, mayEdit }: StepProps) {
  const [striking, setStriking] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  const strike = useStrike(survey.loop);
  return (
    <section aria-label={words.list}>
      <h3>{words.list}</h3>
      {survey.readings.length === 0 && <p className="quiet">{words.none}</p>}
      <ul className="readings">
        {survey.readings.map((reading) => (
          <li key={reading.id} className={reading.struck_reason ? "is-struck" : ""}>
            <b className="figure">{reading.value_text}</b>
            <span>
              {reading.from_text} → {reading.to_text}
              <small>
                {[
                  reading.at_text,
                  reading.supply_on
                    ? reading.is_low_impedance
                      ? words.lowZ
                      : words.highZ
                    : words.continuity,
                  reading.origin === "meter" ? words.metered : words.typed,
                  reading.by,
                  when(reading.at),
                ]
                  .filter(Boolean)
                  .join(" · ")}
                {reading.struck_reason && ` · ${words.struck}: ${reading.struck_reason}`}
              </small>
            </span>
            {mayEdit && !reading.struck_reason && (
              <button
                type="button"
                className="plain"
                aria-label={`${words.strike}: ${reading.value_text}, ${reading.from_text} → ${reading.to_text}`}
                onClick={() => setStriking(reading.id)}
              >
                {words.strike}
              </button>
            )}
          </li>
        ))}
      </ul>
      {striking !== null && (
        <FormDialog
          title={words.strike}
          action={words.strike}
          isReady={reason.trim() !== ""}
          isPending={strike.isPending}
          error={strike.error}
          onSubmit={() =>
            strike.mutate(
              { id: striking, reason: reason.trim() },
              {
                onSuccess: () => {
                  setStriking(null);
                  setReason("");
                },
              },
            )
          }
          onClose={() => setStriking(null)}
        >
          <label>
            {words.strikeWhy}
            <input
              value={reason}
              maxLength={200}
              autoFocus
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
        </FormDialog>
      )}
    </section>
  );
}
