/** What is not as it was, in words. */
import { texts } from "../../texts";
import type { Handover } from "./queries";

const words = texts.handover;

export function Differences({ title, found }: { title: string; found: Handover["changed"] }) {
  return (
    <section aria-label={title}>
      <h3>{title}</h3>
      {found.length === 0 ? (
        <p className="quiet">{words.same}</p>
      ) : (
        <dl className="issue-lines">
          {found.map((one) => (
            <div key={`${one.section}${one.label}${one.text}`}>
              <dt>
                {one.section}: {one.label}
              </dt>
              <dd>{one.text}</dd>
            </div>
          ))}
        </dl>
      )}
    </section>
  );
}
