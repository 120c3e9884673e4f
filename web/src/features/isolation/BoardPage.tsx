/** The board: everything that is off at this moment, at every site, and whose locks keep it off. */
import { Link, useSearchParams } from "react-router";
import { useTitle } from "../../app/useTitle";
import { texts } from "../../texts";
import { InZone } from "../when";
import { IsolationCard } from "./IsolationCard";
import { useIsolations } from "./queries";

const words = texts.isolation;

export function BoardPage({ mayEdit, mayRelease }: { mayEdit: boolean; mayRelease: boolean }) {
  useTitle(texts.isolation.board);
  const isolations = useIsolations();
  const [params] = useSearchParams();
  const site = params.get("site");
  const rows = (isolations.data ?? []).filter((row) => site === null || row.site === site);
  const sites = [...new Set(rows.map((row) => row.site_name))];
  return (
    <div className="board">
      <h1>{words.board}</h1>
      <p className="quiet">{words.boardLead}</p>
      {isolations.isError && (
        <p className="notice wrong" role="alert">
          {texts.device.oldAway} {isolations.error.message}
        </p>
      )}
      {isolations.isSuccess && rows.length === 0 && <p className="empty">{words.boardEmpty}</p>}
      {sites.map((name) => (
        <section key={name} aria-label={name}>
          <h2>{name}</h2>
          {rows
            .filter((row) => row.site_name === name)
            .map((row) => (
              <InZone key={row.id} zone={row.zone}>
                <div>
                  <IsolationCard
                    isolation={row}
                    at={{ loop: row.loop, loopName: row.loop_name, place: 1, page: "/isolations" }}
                    mayEdit={mayEdit}
                    mayRelease={mayRelease}
                  />
                  <p className="dark-loops">
                    {words.darkLoops}:{" "}
                    {row.loops.map((loop) => (
                      <Link key={loop.id} to={`/loops/${loop.id}`} className="loop-link">
                        {loop.name}
                      </Link>
                    ))}
                  </p>
                </div>
              </InZone>
            ))}
        </section>
      ))}
    </div>
  );
}
