/** Least and largest load, one filament lamp as a cure, and the gangs of the box together. */
import { Link } from "react-router";
import { texts } from "../../../texts/en";
import type { Draft, Gang } from "../draft";
import type { Loop } from "../queries";
import { LeastLoads } from "../spread/LeastLoads";
import { useCures, useDeclaredLoads, useTogether } from "./queries";

const words = texts.off;
const MARKS = { met: "✓", not_met: "✗", unknown: "?" } as const;

export function Loads({ loop, gang, draft }: { loop: Loop; gang: Gang; draft: Draft }) {
  return (
    <div className="loads">
      <Declared gang={gang} draft={draft} />
      <LeastLoads gang={gang} draft={draft} />
      <Cures gang={gang} draft={draft} />
      {loop.gangs.length > 1 && <Together loop={loop} gang={gang} draft={draft} />}
    </div>
  );
}

function Declared({ gang, draft }: { gang: Gang; draft: Draft }) {
  const loads = useDeclaredLoads(gang.id, draft);
  if (!loads.data) return null;
  return (
    <section aria-label={words.declared}>
      <h2>{words.declared}</h2>
      <ul className="declared">
        {loads.data.rows.map((row) => (
          <li key={row.rule} className={`load-${row.state}`}>
            <b aria-hidden>{MARKS[row.state]}</b>
            <span>
              <b>{row.title}</b> {row.text}
            </span>
          </li>
        ))}
      </ul>
      <p className="caution-line">{loads.data.caution}</p>
    </section>
  );
}

function Cures({ gang, draft }: { gang: Gang; draft: Draft }) {
  const cures = useCures(gang.id, draft);
  return (
    <section aria-label={words.filament}>
      <h3>{words.filament}</h3>
      {cures.isPending && <p className="quiet">{texts.spread.computing}</p>}
      {cures.data?.length === 0 && <p className="quiet">{words.noFilament}</p>}
      <ul className="plain-list">
        {cures.data?.map((cure) => (
          <li key={`${cure.group}-${cure.p_w}`}>{cure.text}</li>
        ))}
      </ul>
    </section>
  );
}

function Together({ loop, gang, draft }: { loop: Loop; gang: Gang; draft: Draft }) {
  const found = useTogether(gang.id, draft, true);
  const data = found.data;
  return (
    <section aria-label={words.together} aria-busy={found.isFetching}>
      <h3>{words.together}</h3>
      {found.isPending && <p className="quiet">{texts.spread.computing}</p>}
      {data && (
        <>
          <p className={data.swap_cures ? "swap-cures" : ""} role="status">
            {data.swap_cures && <b>{words.swapCures} </b>}
            {data.text}
          </p>
          {data.is_known && (
            <>
              <p>{data.feeding_text}</p>
              <table className="rows figures">
                <thead>
                  <tr>
                    <th scope="col">{words.circuit}</th>
                    {data.names.map((name) => (
                      <th scope="col" key={name}>
                        {words.onOutput(name)}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {data.matrix.map((row, circuit) => (
                    <tr key={data.names[circuit]}>
                      <th scope="row">
                        <Link to={`/loops/${loop.id}/${circuit + 1}`}>{data.names[circuit]}</Link>
                      </th>
                      {row.map((share, output) => (
                        <td key={output} className="figure">
                          {Math.round(share * 100)} %
                          {data.best[output] === circuit ? ` ${words.bestMark}` : ""}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
              <p className="quiet">{words.swapNote}</p>
            </>
          )}
        </>
      )}
    </section>
  );
}
