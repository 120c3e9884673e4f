/** What was chosen so far, newest first. */
import { say, texts } from "../../texts";
import { useWhen } from "../when";
import type { Work } from "./queries";

const words = texts.ways;

export function Choices({ choices }: { choices: Work["choices"] }) {
  const when = useWhen();
  if (choices.length === 0) return null;
  return (
    <section aria-label={words.history}>
      <h3>{words.history}</h3>
      <ul className="trail">
        {choices.map((choice) => (
          <li key={choice.id}>
            <span>
              <b>{choice.title}</b> {choice.label && say(words.with, { what: choice.label })}{" "}
              {say(words.chosenBy, { who: choice.by, when: when(choice.at) })}
              {choice.why && <q>{choice.why}</q>}{" "}
              {choice.favoured_title && say(words.favouredThen, { way: choice.favoured_title })}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
