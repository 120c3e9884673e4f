/** What did not go the usual way, the gravest first. */
import { texts } from "../../texts";
import type { Handover } from "./queries";

const words = texts.handover;

export function Unusual({ seen }: { seen: Handover["unusual"] }) {
  return (
    <section className="unusual" aria-label={words.unusual}>
      <h3>{words.unusual}</h3>
      {seen.length === 0 ? (
        <p className="quiet">{words.nothingUnusual}</p>
      ) : (
        <ul>
          {seen.map((one) => (
            <li key={`${one.kind}${one.text}`}>
              <b>! {one.title}.</b> {one.text}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
