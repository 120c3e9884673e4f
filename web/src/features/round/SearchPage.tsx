/** Words found anywhere on record. */
import { Link, useSearchParams } from "react-router";
import { useTitle } from "../../app/useTitle";
import { useTyped } from "../../app/useTyped";
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { addressOf, type At } from "../bench/steps";
import { useEverywhere } from "./queries";

const words = texts.everywhere;
const SHORTEST = 2;
type Kind = Schemas["FoundKind"]["kind"];
type Row = Schemas["FoundRow"];

/** Where the record of a kind is shown at its loop; of others the loop itself is. */
const SHOWN: Partial<Record<Kind, At>> = {
  box: { step: "box", tab: null },
  photo: { step: "box", tab: null },
  fit: { step: "fit", tab: null },
  left: { step: "fit", tab: null },
  prove: { step: "prove", tab: "list" },
  case: { step: "prove", tab: "wrong" },
  evidence: { step: "prove", tab: "wrong" },
  closing: { step: "prove", tab: "wrong" },
  issue: { step: "handover", tab: "sign" },
  ask_back: { step: "handover", tab: "sign" },
};

export function SearchPage() {
  useTitle(words.title);
  const [params, setParams] = useSearchParams();
  const asked = params.get("q") ?? "";
  const [typed, setTyped] = useTyped(asked, (q) => setParams(q ? { q } : {}, { replace: true }));
  const found = useEverywhere(asked);
  return (
    <div className="round everywhere">
      <div className="round-tools">
        <h1>{words.title}</h1>
        <input
          type="search"
          className="round-search"
          aria-label={words.words}
          placeholder={words.hint}
          autoFocus
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      </div>
      {found.isError && (
        <p className="wrong" role="alert">
          {found.error.message}
        </p>
      )}
      {asked.trim().length < SHORTEST && <p className="empty">{words.short}</p>}
      {found.data?.kinds.length === 0 && found.data.words.length > 0 && <p className="empty">{words.none}</p>}
      <div role="status">
        {found.data?.kinds.map((kind) => (
          <section key={kind.kind} aria-label={words.kinds[kind.kind]}>
            <h2>
              {words.kinds[kind.kind]} <span className="quiet figure">{kind.count}</span>
            </h2>
            <ul>
              {kind.rows.map((row, k) => (
                <li key={k}>
                  <Link to={where(kind.kind, row)}>{kind.kind === "loop" ? row.loop_name : row.text}</Link>
                  <small>
                    {[row.site_name, kind.kind === "loop" ? row.text : row.loop_name]
                      .filter(Boolean)
                      .join(", ")}
                  </small>
                </li>
              ))}
            </ul>
            {kind.count > kind.rows.length && (
              <p className="quiet">{say(words.more, { count: kind.count - kind.rows.length })}</p>
            )}
          </section>
        ))}
      </div>
    </div>
  );
}

function where(kind: Kind, row: Row): string {
  if (row.part) return `/shelf?part=${row.part}`;
  if (row.loop) {
    const at = SHOWN[kind];
    return at ? addressOf(row.loop, 1, at) : `/loops/${row.loop}`;
  }
  return kind === "site" ? `/?site=${row.site ?? ""}` : `/sites/${row.site ?? ""}/schedule`;
}
