/** Loops as rows: state, load, next step, and whose work they are. */
import { Fragment } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { addressOf, placeOf } from "../bench/steps";
import { OffLine } from "../isolation/OffLine";
import { today } from "../when";
import { WorksMark } from "../WorksMark";

export type LoopRow = Schemas["LoopRow"];

const LOAD_MARKS = { met: "✓", assumed: "?", not_met: "✗", below_declared: "?", unknown: "?" } as const;

interface Props {
  rows: readonly LoopRow[];
  isBusy: boolean;
  /** By breaker, within sites. */
  isGrouped: boolean;
  isArchived: boolean;
  mayEdit: boolean;
  onBack: (row: LoopRow) => void;
}

export function RoundTable({ rows, isBusy, isGrouped, isArchived, mayEdit, onBack }: Props) {
  return (
    <table className="rows" aria-busy={isBusy}>
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
            {isGrouped && groupOf(row) !== groupOf(rows[index - 1]) && (
              <tr className="group">
                <th scope="rowgroup" colSpan={6}>
                  {groupOf(row)}
                </th>
              </tr>
            )}
            <Row row={row} isArchived={isArchived} mayEdit={mayEdit} onBack={() => onBack(row)} />
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

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
  const due = row.due_on && say(isLate ? texts.list.overdue : texts.list.due, { day: row.due_on });
  return (
    <small>
      {row.assigned_name}
      {row.assigned_name && due && " · "}
      {isLate ? <b>! {due}</b> : due}
    </small>
  );
}
