/** What still works of each lamp when one thing fails: a table, each cell in words. */
import { say, texts } from "../../texts";
import { useWorks } from "./queries";

const words = texts.setup.fails;
const SIGNS = { all: "✓", some: "◐", none: "✕" } as const;

export function Fails({ site, loop, onRadio }: { site: string; loop: string; onRadio: () => void }) {
  const query = useWorks(site);
  const table = query.data;
  if (table === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.computing}</p>
    );
  }
  if (table.lamps.length === 0) {
    return (
      <div className="empty">
        <p>{words.none}</p>
        <button type="button" className="solid" onClick={onRadio}>
          {texts.setup.join.toRadio}
        </button>
      </div>
    );
  }
  const lamps = table.lamps.toSorted((a, b) => Number(b.loop === loop) - Number(a.loop === loop));
  return (
    <>
      <p className="quiet">{words.lead}</p>
      <div className="fails-scroll">
        <table className="fails">
          <thead>
            <tr>
              <th scope="col">{words.lamp}</th>
              {table.failures.map((failure) => (
                <th key={failure.code} scope="col">
                  {failure.text}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {lamps.map((lamp) => (
              <tr key={lamp.gang} className={lamp.loop === loop ? "is-here" : ""}>
                <th scope="row">
                  {lamp.name}
                  {lamp.loop === loop && <em> {texts.setup.here}</em>}
                  {lamp.never.length > 0 && (
                    <small>
                      <span aria-hidden>✕</span> {say(words.never, { ways: lamp.never.join(", ") })}
                    </small>
                  )}
                  {lamp.unknown.length > 0 && (
                    <small>
                      <span aria-hidden>?</span> {say(words.unknown, { ways: lamp.unknown.join(", ") })}
                    </small>
                  )}
                </th>
                {table.failures.map((failure) => {
                  const cell = lamp.cells.find((one) => one.failure === failure.code);
                  if (cell === undefined) return <td key={failure.code}>–</td>;
                  return (
                    <td key={failure.code} className={`is-${cell.works}`}>
                      <span aria-hidden>{SIGNS[cell.works]}</span> {cell.works_text}
                      {cell.lost.length > 0 && (
                        <small>{say(words.lost, { ways: cell.lost.join(", ") })}</small>
                      )}
                      {cell.by !== "" && failure.code === "mesh_router_out" && (
                        <small>{say(words.by, { name: cell.by })}</small>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
