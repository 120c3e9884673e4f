/** Least and largest load, one filament lamp as a cure, and the gangs of the box together. */
import { Link } from "react-router";
import { say, texts } from "../../../texts";
import { Answered } from "../../Answered";
import type { Draft, Gang } from "../draft";
import type { Loop } from "../queries";
import { LoadTable } from "../lit/LoadTable";
import { LeastLoads } from "../spread/LeastLoads";
import { useCures, useTogether } from "./queries";

const words = texts.off;

export function Loads({ gang, draft }: { gang: Gang; draft: Draft }) {
  return (
    <div className="loads">
      <LoadTable gang={gang} draft={draft} />
      <LeastLoads gang={gang} draft={draft} />
      <Cures gang={gang} draft={draft} />
    </div>
  );
}

function Cures({ gang, draft }: { gang: Gang; draft: Draft }) {
  const cures = useCures(gang.id, draft);
  return (
    <section aria-label={words.filament}>
      <h3>{words.filament}</h3>
      <Answered of={cures}>
        {cures.data?.length === 0 && <p className="quiet">{words.noFilament}</p>}
        {cures.data && cures.data.length > 0 && (
          <ul className="plain-list">
            {cures.data.map((cure) => (
              <li key={`${cure.group}-${cure.p_w}`}>{cure.text}</li>
            ))}
          </ul>
        )}
      </Answered>
    </section>
  );
}

/** Which output feeds, and whether swapping cures: offered where the verdict is. */
export function Together({ loop, gang, draft }: { loop: Loop; gang: Gang; draft: Draft }) {
  const found = useTogether(gang.id, draft, true);
  const data = found.data;
  return (
    <section aria-label={words.together} aria-busy={found.isFetching}>
      <h3>{words.together}</h3>
      <Answered of={found}>
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
                          {say(words.onOutput, { name })}
                        </th>
                      ))}
                    </tr>
                  </thead>
                  <tbody>
                    {data.matrix.map((row, circuit) => (
                      <tr key={data.names[circuit]}>
                        <th scope="row">
                          <Link to={`/loops/${loop.id}/${data.positions[circuit]}`}>
                            {data.names[circuit]}
                          </Link>
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
      </Answered>
    </section>
  );
}
