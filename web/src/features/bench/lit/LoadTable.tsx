/** Least and largest load, whole: off, on, held, declared, derated and on the contact, and which limit governs. */
import { texts } from "../../../texts";
import { Answered } from "../../Answered";
import type { Draft, Gang } from "../draft";
import { useLoads } from "./queries";

const words = texts.lit;
const MARKS = { met: "✓", assumed: "?", not_met: "✗", below_declared: "?", unknown: "?" } as const;

export function LoadTable({ gang, draft }: { gang: Gang; draft: Draft }) {
  const loads = useLoads(gang.id, draft);
  const data = loads.data;
  return (
    <section className="load-table" aria-label={words.loads} aria-busy={loads.isFetching}>
      <h2>{words.loads}</h2>
      <Answered of={loads} computing={words.counting}>
        {data && (
          <>
            <p className={`load-${data.state}`}>
              <b aria-hidden>{MARKS[data.state]}</b> {data.text}
            </p>
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">{words.limit}</th>
                  <th scope="col">{words.from}</th>
                  <th scope="col">{words.says}</th>
                </tr>
              </thead>
              <tbody>
                {data.rows.map((row) => (
                  <tr key={`${row.rule}-${row.side}`} className={`load-${row.state}`}>
                    <th scope="row">
                      <b>{MARKS[row.state]}</b> {row.title}
                      {row.governs && <em> {words.governs}</em>}
                    </th>
                    <td>{words.origins[row.origin]}</td>
                    <td>{row.text}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="quiet">{words.loadsNote}</p>
            <p className="caution-line">{data.caution}</p>
          </>
        )}
      </Answered>
    </section>
  );
}
