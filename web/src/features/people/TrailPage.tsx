/** Who changed what: read only. */
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { useTitle } from "../../app/useTitle";
import { say, texts, wordOf } from "../../texts";
import { Pages } from "../Pages";
import { when } from "../when";
import { OWN_ZONE } from "../zones";
import { useTrail } from "./queries";

const words = texts.people.trail;
const PAUSE_MS = 200;
const PAGE_SIZE = 50;
// A loop that is kept may differ in dozens of figures.
const MOST_SHOWN = 4;
const MOST_LETTERS = 90;

export function TrailPage() {
  useTitle(words.title);
  const [typed, setTyped] = useState("");
  const [search, setSearch] = useState("");
  const [page, setPage] = useState(1);
  const trail = useTrail(search, page);
  useEffect(() => {
    const timer = setTimeout(() => {
      setSearch(typed);
      setPage(1);
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [typed]);
  const pages = Math.max(1, Math.ceil((trail.data?.count ?? 0) / PAGE_SIZE));
  return (
    <div className="round trail-page">
      <div className="round-tools">
        <h1>{words.title}</h1>
        <input
          type="search"
          className="round-search"
          aria-label={words.search}
          placeholder={words.search}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <a className="outlined" href={`/api/v1/trail.csv?search=${encodeURIComponent(search)}`}>
          {words.export}
        </a>
      </div>
      <p className="quiet">{say(words.lead, { zone: OWN_ZONE })}</p>
      {trail.isError && (
        <p className="wrong" role="alert">
          {trail.error.message}
        </p>
      )}
      <table className="rows" aria-busy={trail.isFetching}>
        <thead>
          <tr>
            <th scope="col">{words.when}</th>
            <th scope="col">{words.who}</th>
            <th scope="col">{words.what}</th>
            <th scope="col">{words.of}</th>
            <th scope="col">{words.differs}</th>
          </tr>
        </thead>
        <tbody>
          {trail.data?.results.map((row) => (
            <Row key={row.id} row={row} />
          ))}
        </tbody>
      </table>
      {trail.data?.count === 0 && <p className="empty">{words.none}</p>}
      {pages > 1 && <Pages page={page} pages={pages} onPage={setPage} />}
    </div>
  );
}

function isLong(entry: Record<string, string>): boolean {
  return Object.values(entry).some((text) => text.length > MOST_LETTERS);
}

function cut(text: string | undefined, isWhole: boolean): string {
  if (text === undefined) return "";
  return isWhole || text.length <= MOST_LETTERS ? text : `${text.slice(0, MOST_LETTERS)} …`;
}

function Row({ row }: { row: Schemas["Trail"] }) {
  const [isWhole, setWhole] = useState(false);
  const shown = isWhole ? row.differs : row.differs.slice(0, MOST_SHOWN);
  const left = row.differs.length - shown.length;
  return (
    <tr>
      <td className="moment">{when(row.at)}</td>
      <td>{row.who || "–"}</td>
      <td>{wordOf(words.actions, row.action) ?? row.action}</td>
      <td>
        {wordOf(words.kinds, row.subject_kind) ?? row.subject_kind}
        {row.name && <small>{row.name}</small>}
      </td>
      <td className="differs">
        {shown.map((entry, k) => (
          <p key={`${k} ${entry["name"]}`}>
            <b>{entry["name"]}</b> {cut(entry["before"], isWhole)}
            {entry["before"] && entry["after"] && " → "}
            {entry["before"] && !entry["after"] && ` → ${words.nothing}`}
            {cut(entry["after"], isWhole)}
          </p>
        ))}
        {!isWhole && (left > 0 || shown.some(isLong)) && (
          <button type="button" className="plain" onClick={() => setWhole(true)}>
            {left > 0 ? say(words.more, { count: left }) : words.whole}
          </button>
        )}
      </td>
    </tr>
  );
}
