/** The round: every loop with its state and next step. */
import { Fragment, lazy, Suspense, useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { isShortcut } from "../../app/keys";
import type { Schemas } from "../../api/client";
import { useTitle } from "../../app/useTitle";
import { say, texts } from "../../texts";
import { addressOf, placeOf } from "../bench/steps";
import { Pages } from "../Pages";
import { dayOf, today } from "../when";
import { WorksMark } from "../WorksMark";
import { Outdated } from "../outdated/Outdated";
import { OffLine } from "../isolation/OffLine";
import type { Kind } from "../archive/ArchiveDialog";
import {
  listAddress,
  ORDERS,
  PAGE_SIZE,
  useArchivedSites,
  useLoops,
  useSites,
  type Verdict,
} from "./queries";
import { TickMenu } from "./TickMenu";

const NewLoopDialog = lazy(() => import("./NewLoopDialog").then((m) => ({ default: m.NewLoopDialog })));
const LoopsFromFile = lazy(() => import("./LoopsFromFile").then((m) => ({ default: m.LoopsFromFile })));
const BundleDialog = lazy(() => import("./BundleDialog").then((m) => ({ default: m.BundleDialog })));
const ArchiveDialog = lazy(() =>
  import("../archive/ArchiveDialog").then((m) => ({ default: m.ArchiveDialog })),
);
const NewSiteDialog = lazy(() => import("./NewSiteDialog").then((m) => ({ default: m.NewSiteDialog })));

type Stage = Schemas["StageEnum"];
type NextStep = Schemas["NextStepEnum"];
const LOAD_MARKS = { met: "✓", not_met: "✗", unknown: "?" } as const;
// Typing pauses longer than this are a wish to see the answer.
const PAUSE_MS = 200;

export function RoundPage({ mayEdit, mayKeepSites }: { mayEdit: boolean; mayKeepSites: boolean }) {
  const [params, setParams] = useSearchParams();
  const wish = {
    search: params.get("search") ?? "",
    site: params.get("site"),
    verdicts: params.getAll("state") as Verdict[],
    next: params.getAll("next") as NextStep[],
    stages: params.getAll("stage") as Stage[],
    order: ORDERS.find((order) => order === params.get("order")) ?? "name",
    page: Number(params.get("page") ?? 1),
    isArchived: params.get("archived") === "1",
    isMine: params.get("mine") === "1",
    plan: params.get("plan"),
  };
  useTitle(texts.round);
  const [typed, setTyped] = useState(wish.search);
  const [dialog, setDialog] = useState<"none" | "loop" | "site" | "file" | "bundle">("none");
  const [back, setBack] = useState<{ kind: Kind; id: string; name: string } | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const loops = useLoops(wish);
  const sites = useSites();

  const change = (name: string, values: string[]) => {
    setParams(
      (now) => {
        now.delete(name);
        if (name !== "page") now.delete("page");
        for (const value of values) now.append(name, value);
        return now;
      },
      { replace: true },
    );
  };
  useEffect(() => {
    if (typed === wish.search) return;
    const timer = setTimeout(() => change("search", typed ? [typed] : []), PAUSE_MS);
    return () => clearTimeout(timer);
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "/" && isShortcut(event)) {
        event.preventDefault();
        field.current?.focus();
      }
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);

  const rows = loops.data?.results ?? [];
  const total = loops.data?.count ?? 0;
  const unfiltered =
    wish.search === "" &&
    wish.site === null &&
    wish.plan === null &&
    !wish.isMine &&
    wish.verdicts.length === 0 &&
    wish.next.length === 0 &&
    wish.stages.length === 0;
  return (
    <div className="round">
      <div className="round-tools">
        <h1>{wish.isArchived ? texts.people.archive.show : texts.round}</h1>
        <input
          ref={field}
          type="search"
          className="round-search"
          aria-label={texts.list.search}
          placeholder={`${texts.list.search}: ${texts.list.searchHint}`}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <select
          aria-label={texts.list.site}
          value={wish.site ?? ""}
          onChange={(event) => change("site", event.target.value ? [event.target.value] : [])}
        >
          <option value="">{texts.list.allSites}</option>
          {sites.data?.results.map((site) => (
            <option key={site.id} value={site.id}>
              {site.name}
            </option>
          ))}
        </select>
        <TickMenu
          name={texts.list.state}
          all={texts.list.allStates}
          words={texts.verdicts}
          chosen={wish.verdicts}
          onChoose={(chosen) => change("state", chosen)}
        />
        <TickMenu
          name={texts.list.next}
          all={texts.list.everyNext}
          words={texts.list.nextSteps}
          chosen={wish.next}
          onChoose={(chosen) => change("next", chosen)}
        />
        <TickMenu
          name={texts.list.stage}
          all={texts.list.everyStage}
          words={texts.list.stages}
          chosen={wish.stages}
          onChoose={(chosen) => change("stage", chosen)}
        />
        <select
          aria-label={texts.list.sort}
          value={wish.order}
          onChange={(event) => change("order", event.target.value === "name" ? [] : [event.target.value])}
        >
          {ORDERS.map((order) => (
            <option key={order} value={order}>
              {texts.list.sorts[order]}
            </option>
          ))}
        </select>
        {mayEdit && !wish.isArchived && (
          <button
            type="button"
            className="outlined"
            aria-pressed={wish.isMine}
            onClick={() => change("mine", wish.isMine ? [] : ["1"])}
          >
            {wish.isMine && "✓ "}
            {texts.list.mine}
          </button>
        )}
        {wish.site && (
          <Link className="outlined" to={`/sites/${wish.site}/schedule`}>
            {texts.survey.schedule.open}
          </Link>
        )}
        {mayEdit && (mayKeepSites || (sites.data?.count ?? 0) > 0) && (
          <button type="button" className="solid" onClick={() => setDialog("loop")}>
            {texts.list.newLoop}
          </button>
        )}
      </div>
      {wish.isArchived ? (
        mayKeepSites && <ArchivedSites onBack={(site) => setBack({ kind: "sites", ...site })} />
      ) : (
        <Outdated mayEdit={mayEdit} />
      )}
      {wish.search.trim() !== "" && (
        <p>
          <Link to={`/search?q=${encodeURIComponent(wish.search)}`}>
            {say(texts.everywhere.from, { words: wish.search })}
          </Link>
        </p>
      )}
      {wish.plan && (
        <p className="notice" role="status">
          <span>{texts.visits.roundOf}</span>{" "}
          <Link to={`/visits?${wish.site ? `site=${wish.site}&` : ""}plan=${wish.plan}`}>
            {texts.visits.toPlan}
          </Link>{" "}
          <button type="button" className="outlined" onClick={() => change("plan", [])}>
            {texts.visits.wholeRound}
          </button>
        </p>
      )}
      {loops.isError && (
        <p className="wrong" role="alert">
          {loops.error.message}
        </p>
      )}
      <table className="rows" aria-busy={loops.isFetching}>
        <thead>
          <tr>
            <th scope="col">{texts.list.loop}</th>
            <th scope="col">{texts.list.verdict}</th>
            <th scope="col">{texts.list.load}</th>
            <th scope="col">{texts.list.next}</th>
            <th scope="col">{texts.list.site}</th>
            <th scope="col">{texts.list.breaker}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <Fragment key={row.id}>
              {wish.order === "breaker" && groupOf(row) !== groupOf(rows[index - 1]) && (
                <tr className="group">
                  <th scope="rowgroup" colSpan={6}>
                    {groupOf(row)}
                  </th>
                </tr>
              )}
              <Row
                row={row}
                isArchived={wish.isArchived}
                mayEdit={mayEdit}
                onBack={() => setBack({ kind: "loops", id: row.id, name: row.name })}
              />
            </Fragment>
          ))}
        </tbody>
      </table>
      {loops.isSuccess &&
        rows.length === 0 &&
        (unfiltered && !wish.isArchived ? (
          <First
            hasSite={(sites.data?.count ?? 0) > 0}
            mayEdit={mayEdit}
            mayKeepSites={mayKeepSites}
            onOpen={setDialog}
          />
        ) : (
          <p className="empty">{wish.isMine ? texts.list.mineNone : texts.list.none}</p>
        ))}
      <div className="round-foot">
        <span>{loops.isSuccess && say(texts.list.count, { count: total })}</span>
        {!wish.isArchived && (
          <a className="plain" href={listAddress(wish)}>
            {texts.list.csv}
          </a>
        )}
        {mayEdit && !wish.isArchived && (
          <button type="button" className="plain" onClick={() => setDialog("file")}>
            {texts.list.fromFile}
          </button>
        )}
        {mayEdit && mayKeepSites && !wish.isArchived && (
          <button type="button" className="plain" onClick={() => setDialog("site")}>
            {texts.list.newSite}
          </button>
        )}
        {mayKeepSites && !wish.isArchived && (
          <button type="button" className="plain" onClick={() => setDialog("bundle")}>
            {texts.bundle.open}
          </button>
        )}
        {wish.site && !wish.isArchived && (
          <a className="plain" href={`/api/v1/sites/${wish.site}/bundle.zip`}>
            {texts.bundle.ofSite}
          </a>
        )}
        {mayEdit && (
          <button
            type="button"
            className="plain"
            onClick={() => change("archived", wish.isArchived ? [] : ["1"])}
          >
            {wish.isArchived ? texts.people.archive.showPresent : texts.people.archive.show}
          </button>
        )}
        {total > PAGE_SIZE && (
          <Pages
            page={wish.page}
            pages={Math.ceil(total / PAGE_SIZE)}
            onPage={(page) => change("page", [String(page)])}
          />
        )}
      </div>
      <Suspense fallback={null}>
        {dialog === "loop" && <NewLoopDialog site={wish.site} onClose={() => setDialog("none")} />}
        {back && (
          <ArchiveDialog
            kind={back.kind}
            id={back.id}
            name={back.name}
            way="bring-back"
            onDone={() => setBack(null)}
            onClose={() => setBack(null)}
          />
        )}
        {dialog === "file" && <LoopsFromFile onClose={() => setDialog("none")} />}
        {dialog === "bundle" && <BundleDialog onClose={() => setDialog("none")} />}
        {dialog === "site" && <NewSiteDialog onClose={() => setDialog("none")} />}
      </Suspense>
    </div>
  );
}

type LoopRow = Schemas["LoopRow"];

/** Site and breaker of a row: what it is grouped by. */
function groupOf(row: LoopRow | undefined): string {
  if (!row) return "";
  const { site_name: site, breaker } = row;
  return breaker ? say(texts.list.groupOf, { site, breaker }) : say(texts.list.noBreaker, { site });
}

interface RowProps {
  row: LoopRow;
  isArchived: boolean;
  mayEdit: boolean;
  onBack: () => void;
}

function Row({ row, isArchived, mayEdit, onBack }: RowProps) {
  return (
    <tr>
      <td>
        {isArchived ? <b>{row.name}</b> : <Link to={`/loops/${row.id}`}>{row.name}</Link>}
        <small>
          {row.stage_text && <b>{row.stage_text} · </b>}
          {row.note || say(texts.list.gangs, { count: row.gang_count })}
        </small>
        <Whose row={row} />
        <OffLine loop={row.id} />
      </td>
      <td>
        <WorksMark works={row.works ?? "unknown"} />
        {row.outdated && (
          <small className="out-of-date">
            <b>{texts.outdated.mark}:</b> {row.outdated}
          </small>
        )}
        {row.why && <small>{row.why}</small>}
        {row.chosen && !row.chosen.on_bench && (
          <small>
            {say(texts.list.chosenWay, { way: row.chosen.title })} <WorksMark works={row.chosen.works} />
          </small>
        )}
      </td>
      <td className="round-load">
        {row.load && (
          <>
            <span className={`load-${row.load.state}`}>
              <b aria-label={texts.list.loadStates[row.load.state]}>{LOAD_MARKS[row.load.state]}</b>{" "}
              {row.load.text}
            </span>
            <small>{say(texts.list.whenOn, { verdict: row.load.lit_text })}</small>
          </>
        )}
      </td>
      <td>
        {isArchived && (
          <button type="button" className="outlined" onClick={onBack}>
            {texts.people.archive.back}
          </button>
        )}
        {!isArchived && row.next_step && (
          <Link to={addressOf(row.id, row.next_position, placeOf(row.next_step))}>
            {texts.list.nextSteps[row.next_step]}
          </Link>
        )}
        {!isArchived && mayEdit && row.next_step !== "case" && (
          <Link
            className="round-wrong"
            aria-label={`${texts.list.complain} ${row.name}`}
            to={`${addressOf(row.id, row.next_position, { step: "prove", tab: "wrong" })}&new=`}
          >
            {texts.list.complain}
          </Link>
        )}
      </td>
      <td>{row.site_name}</td>
      <td className="figure">{row.breaker || "?"}</td>
    </tr>
  );
}

/** Whose work a loop is, and until when. */
function Whose({ row }: { row: LoopRow }) {
  if (!row.assigned_name && !row.due_on) return null;
  const isLate = Boolean(row.due_on) && row.next_step !== "done" && String(row.due_on) < today();
  const due = row.due_on && say(isLate ? texts.list.overdue : texts.list.due, { day: dayOf(row.due_on) });
  return (
    <small>
      {row.assigned_name}
      {row.assigned_name && due && " · "}
      {isLate ? <b>! {due}</b> : due}
    </small>
  );
}

function ArchivedSites({ onBack }: { onBack: (site: { id: string; name: string }) => void }) {
  const rows = useArchivedSites().data?.results ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label={texts.people.archive.sites}>
      <h2>{texts.people.archive.sites}</h2>
      <ul className="sessions">
        {rows.map((site) => (
          <li key={site.id}>
            <b>{site.name}</b>
            <button
              type="button"
              className="outlined"
              aria-label={`${texts.people.archive.back}: ${site.name}`}
              onClick={() => onBack({ id: site.id, name: site.name })}
            >
              {texts.people.archive.back}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function firstWords(hasSite: boolean, mayEdit: boolean, mayKeepSites: boolean): string {
  if (!hasSite && !mayKeepSites) return texts.list.noSiteYet;
  return mayEdit ? texts.list.start : texts.list.empty;
}

/** An empty round leads to the first loop. */
function First({
  hasSite,
  mayEdit,
  mayKeepSites,
  onOpen,
}: {
  hasSite: boolean;
  mayEdit: boolean;
  mayKeepSites: boolean;
  onOpen: (dialog: "loop" | "site") => void;
}) {
  return (
    <div className="empty first-steps">
      <p>{firstWords(hasSite, mayEdit, mayKeepSites)}</p>
      {mayEdit && (hasSite || mayKeepSites) && (
        <p className="form-buttons">
          {mayKeepSites && (
            <button
              type="button"
              className={hasSite ? "outlined" : "solid"}
              autoFocus={!hasSite}
              onClick={() => onOpen("site")}
            >
              {texts.list.startSite}
            </button>
          )}
          <button
            type="button"
            key={String(hasSite)}
            className={hasSite ? "solid" : "outlined"}
            autoFocus={hasSite}
            disabled={!hasSite}
            onClick={() => onOpen("loop")}
          >
            {texts.list.startLoop}
          </button>
        </p>
      )}
    </div>
  );
}
