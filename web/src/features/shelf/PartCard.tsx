/** One part: every figure with its sources, where it is used, and who changed it. */
import { useState } from "react";
import { JobLine } from "../jobs/JobLine";
import { useJob } from "../jobs/useJob";
import { say, texts, wordOf } from "../../texts";
import { engineering, figureText } from "../../format";
import { Link } from "react-router";
import { useChanges } from "../bench/queries";
import { type Works, WorksMark } from "../WorksMark";
import { when } from "../when";
import { AddSource } from "./AddSource";
import { type Claim, type PartDetail, usePart, useUseClaim } from "./queries";
import { refusalOf } from "./refusalOf";
import { kindWords } from "./words";

const words = texts.shelf;

export function PartCard({ id, mayEdit }: { id: string; mayEdit: boolean }) {
  const part = usePart(id);
  const [added, count] = useState(0);
  const changes = useChanges(id);
  if (part.isPending) return <p className="quiet">{texts.bench.loading}</p>;
  if (part.isError) {
    return (
      <p className="wrong" role="alert">
        {part.error.message}
      </p>
    );
  }
  const shown = part.data;
  return (
    <article className="part-card" aria-label={`${shown.maker} ${shown.name}`}>
      <h2>{shown.name}</h2>
      <p className="quiet">
        {shown.maker} · {kindWords(shown.kind)}
        {shown.v_rms ? ` · ${say(words.madeFor, { v_rms: shown.v_rms })}` : ""}
        {shown.note ? ` · ${shown.note}` : ""}
      </p>
      <Sources part={shown} mayEdit={mayEdit} />
      {mayEdit && <AddSource key={added} part={shown} onAdded={() => count(added + 1)} />}
      <Uses part={shown} mayEdit={mayEdit} />
      <h3>{words.changes}</h3>
      <ul className="trail">
        {changes.data?.results.map((change) => (
          <li key={change.id}>
            <span>
              {wordOf(texts.actions, change.action) ?? change.action}{" "}
              {[change.who, when(change.at)].filter(Boolean).join(", ")}
            </span>
          </li>
        ))}
      </ul>
    </article>
  );
}

function Sources({ part, mayEdit }: { part: PartDetail; mayEdit: boolean }) {
  const use = useUseClaim(part.id);
  const rows = part.known.flatMap((field) => {
    const claims = part.claims.filter((claim) => claim.field === field.name);
    return claims.map((claim, k) => ({ field, claim, isFirst: k === 0, count: claims.length }));
  });
  return (
    <>
      {use.isError && (
        <p className="wrong" role="alert">
          {refusalOf(use.error)}
        </p>
      )}
      <table className="rows figures sources">
        <thead>
          <tr>
            <th scope="col">{words.figure}</th>
            <th scope="col">{words.value}</th>
            <th scope="col">{words.range}</th>
            <th scope="col">{words.source}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ field, claim, isFirst, count }) => (
            <tr key={claim.id} className={claim.in_use ? "" : "is-unused"}>
              {isFirst && (
                <th scope="row" rowSpan={count}>
                  {field.label}
                  {count > 1 && <small className="contradicts">{words.contradicts}</small>}
                </th>
              )}
              <td className="figure">
                {figureText(claim.typical, field)}
                {count > 1 && claim.in_use && <b> ✓ {words.inUse}</b>}
              </td>
              <td className="figure quiet">{range(claim, field.unit)}</td>
              <td>
                <span className="source">{texts.parts.sources[claim.source]}</span> <span>{claim.where}</span>
                {claim.by && <small>{[claim.by, when(claim.at)].filter(Boolean).join(", ")}</small>}
                {mayEdit && !claim.in_use && (
                  <button
                    type="button"
                    className="outlined"
                    disabled={use.isPending}
                    onClick={() => use.mutate({ version: part.version ?? 1, claim: claim.id })}
                  >
                    {words.use}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function range(claim: Claim, unit: string): string {
  if (claim.low === claim.high) return "";
  return `${engineering(claim.low, unit)} ${texts.spread.to} ${engineering(claim.high, unit)}`;
}

function Uses({ part, mayEdit }: { part: PartDetail; mayEdit: boolean }) {
  const work = useJob("serve", part.id);
  const older = part.older_count;
  const more = part.use_count - part.uses.length;
  return (
    <>
      <h3>{words.uses}</h3>
      {part.uses.length === 0 && <p className="quiet">{words.noUses}</p>}
      <ul className="trail">
        {part.uses.map((use) => (
          <li key={use.gang}>
            <Link to={`/loops/${use.loop}/${use.position}`}>
              {use.site_name}, {use.loop_name}
            </Link>
            <WorksMark works={use.works as Works} />
          </li>
        ))}
      </ul>
      {more > 0 && <p className="quiet">{say(texts.people.trail.more, { count: more })}</p>}
      {older > 0 && (
        <p className="fresher">
          {say(words.usesDiffer, { count: older })}{" "}
          {mayEdit && work.open === null && (
            <button type="button" className="solid" disabled={work.isAsking} onClick={work.ask}>
              {words.serve}
            </button>
          )}
        </p>
      )}
      {work.ended && <p role="status">{say(words.served, { count: work.ended.changed })}</p>}
      <JobLine work={work} label={words.serve} />
    </>
  );
}
