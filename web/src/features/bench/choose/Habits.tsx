/** What different habits of the trade would do with this loop. */
import type { Schemas } from "../../../api/client";
import { texts } from "../../../texts";

const words = texts.choose;

export function Habits({ schools }: { schools: Schemas["School"][] }) {
  return (
    <>
      <h2>{words.habits}</h2>
      <ul className="habits">
        {schools.map((said) => (
          <li key={said.school} className={`habit-${said.code}`}>
            <b>{said.title}</b>
            <b className="habit-word">{words.said[said.code]}</b>
            <span>{said.text}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
