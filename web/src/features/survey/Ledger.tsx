/** Every conductor of the box: found colour, where it ends, and its role with how sure it is. */
import { say, texts } from "../../texts";
import { type Choices, chosenWord as word, type Survey } from "./queries";
import { Swatch } from "./Swatch";
import type { Box } from "./useSurveyDraft";

const words = texts.survey.conductors;

export function Ledger({ survey, choices }: { survey: Survey; choices: Choices }) {
  const box = survey.box as unknown as Box;
  const terminals = Object.values(choices.terminals).flat();
  return (
    <ol className="ledger" aria-label={words.title}>
      {box.conductors.map((conductor) => {
        const found = survey.judgement.conductors.find((entry) => entry.conductor === conductor.id);
        const colour = conductor.sleeve || conductor.colour;
        const gang =
          conductor.gang && box.gangs.length > 1
            ? `${say(texts.survey.box.gang, { gang: conductor.gang })}, `
            : "";
        return (
          <li key={conductor.id} className={`is-${found?.certainty ?? "open"}`}>
            <b className="figure">{conductor.id}</b>
            <Swatch colour={colour} />
            <span>
              <b>{found && found.certainty !== "open" ? found.text : "?"}</b>
              <small>
                {found && words.certainty[found.certainty]}
                {found && !found.is_read && `: ${words.notRead}`}
                {found?.certainty === "open" &&
                  found.is_read &&
                  `: ${[{ text: found.text, share_ratio: found.share_ratio }, ...found.others]
                    .map((o) => `${o.text} (${say(words.outOf, { share: Math.round(o.share_ratio * 100) })})`)
                    .join(` ${words.orElse} `)}`}
                {found?.certainty === "likely" &&
                  found.others.length > 0 &&
                  `; ${words.orElse} ${found.others.map((o) => o.text).join(", ")}`}
              </small>
              <small>
                {word(choices.colours, colour) || texts.survey.notKnown} · {gang}
                {word(terminals, conductor.terminal)}
              </small>
            </span>
          </li>
        );
      })}
    </ol>
  );
}
