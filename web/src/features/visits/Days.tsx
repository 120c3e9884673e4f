/** The plan: whose day, which loop when, who sits in the dark, what it costs, and moving things about. */
import { type DragEvent, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { say, texts } from "../../texts";
import { PickMenu } from "../PickMenu";
import { ProgressLine } from "../ProgressLine";
import { dayOfWeek } from "../when";
import { type Arrangement, arrangementOf, moved, without, withVisit } from "./arrange";
import { clock, duration } from "./clock";
import { type Plan, type PlannedVisit, useCompute, usePutVisits } from "./queries";

const words = texts.visits;
const NEW = "new";

/** One of one's own changes: how the visits were before it, and the version of the plan that it made. */
interface Change {
  before: Arrangement;
  after: number;
}

/** How what stands compares with the best; of a plan that lost a loop since, nothing that was reckoned with it. */
function beside(plan: Plan): string {
  const { more } = plan;
  if (plan.has_lost) return words.lostLoops;
  if (!plan.is_by_hand) {
    if (plan.planned.length === 0) return "";
    return plan.is_optimal ? words.optimal : words.notProved;
  }
  if (!more.visits && !more.isolations && !more.minutes) return words.asGood;
  return say(words.more, {
    visits: signed(more.visits),
    isolations: signed(more.isolations),
    minutes: signed(more.minutes),
  });
}

export function Days({ plan, mayEdit }: { plan: Plan; mayEdit: boolean }) {
  const compute = useCompute(plan.id);
  const put = usePutVisits(plan.id);
  const [changes, setChanges] = useState<Change[]>([]);
  const now = arrangementOf(plan);
  const last = changes.at(-1);
  // What somebody else did since is not ours to undo.
  const mine = last?.after === plan.version ? changes : [];
  const noted = { onSuccess: (made: Plan) => setChanges([...mine, { before: now, after: made.version }]) };
  const change = (next: Arrangement) => {
    remember();
    put.mutate({ version: plan.version, visits: next }, noted);
  };
  const undo = (one: Change) =>
    put.mutate(
      { version: plan.version, visits: one.before },
      {
        onSuccess: (made) =>
          setChanges(
            mine
              .slice(0, -1)
              .map((other, k, rest) => (k < rest.length - 1 ? other : { ...other, after: made.version })),
          ),
      },
    );
  const isBusy = put.isPending || compute.isPending;
  const remember = useFocusBack(isBusy);
  const { cost } = plan;
  const waiting_min = plan.planned.reduce((sum, visit) => sum + visit.waiting_min, 0);
  return (
    <div className="days">
      <div className="plan-cost" role="status">
        <p>
          <b>{say(words.cost, { ...cost, duration: duration(cost.minutes) })}</b>{" "}
          {waiting_min > 0 && <b>{say(words.waiting, { minutes: waiting_min })}.</b>} {beside(plan)}
        </p>
        {plan.bounds.map((bound) => (
          <p key={bound.code} className="quiet">
            {bound.text}
          </p>
        ))}
      </div>
      {mayEdit && (
        <div className="plan-do">
          <button
            type="button"
            className="solid"
            disabled={isBusy || plan.jobs.length === 0}
            onClick={() => compute.mutate(undefined, noted)}
          >
            {plan.planned.length > 0 ? words.again : words.compute}
          </button>
          {last !== undefined && mine.length > 0 && (
            <button type="button" className="outlined" disabled={isBusy} onClick={() => undo(last)}>
              {texts.bench.undo}
            </button>
          )}
          {compute.isPending && (
            <ProgressLine label={words.computing} progress={compute.progress} onStop={compute.stop} />
          )}
        </div>
      )}
      {(put.isError || (compute.isError && compute.error.name !== "AbortError")) && (
        <p className="wrong" role="alert">
          {(put.error ?? compute.error)?.message}
        </p>
      )}
      {plan.jobs.length === 0 && <p className="empty">{words.noJobs}</p>}
      <div className="visit-cards">
        {plan.planned.map((visit) => (
          <VisitCard
            key={visit.number}
            visit={visit}
            plan={plan}
            isFixed={!mayEdit || isBusy}
            onMove={(loop, to, at) => change(moved(now, loop, to, at))}
            onAdd={(loop, person) => change(withVisit(now, person, loop))}
            onOut={(loop) => change(without(now, loop))}
          />
        ))}
      </div>
      {plan.left_out.length > 0 && (
        <section aria-label={words.leftOut}>
          <h2>{words.leftOut}</h2>
          <ul className="left-out">
            {plan.left_out.map((entry) => (
              <li key={entry.loop}>
                <Link to={`/loops/${entry.loop}`}>{entry.name}</Link> {entry.text}
                {mayEdit && entry.is_able && plan.planned.length > 0 && (
                  <button
                    type="button"
                    className="outlined"
                    disabled={isBusy}
                    aria-label={say(words.putIn, { loop: entry.name })}
                    onClick={() => {
                      const last = plan.planned.length - 1;
                      change(moved(now, entry.loop, last, now[last]?.loops.length ?? 0));
                    }}
                  >
                    {words.putInShort}
                  </button>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/**
 * While a change is reckoned nothing can be pressed, and the stop may stand elsewhere then; whoever moves it by keys
 * goes on from the same stop: from the same button, or from its menu where that button is at an end.
 */
function useFocusBack(isBusy: boolean): () => void {
  const left = useRef<string | null>(null);
  useEffect(() => {
    if (isBusy || left.current === null) return;
    const [button, ...loop] = left.current.split("-");
    left.current = null;
    if (document.activeElement !== document.body) return;
    for (const one of [button, "move"]) {
      document.getElementById(`${one}-${loop.join("-")}`)?.focus();
      if (document.activeElement !== document.body) return;
    }
  }, [isBusy]);
  return () => {
    const at = document.activeElement;
    left.current = at?.matches(":focus-visible") ? at.id : null;
  };
}

function signed(value: number): string {
  return value > 0 ? `+${value}` : String(value);
}

interface CardProps {
  visit: PlannedVisit;
  plan: Plan;
  isFixed: boolean;
  onMove: (loop: string, visit: number, at: number) => void;
  onAdd: (loop: string, person: string) => void;
  onOut: (loop: string) => void;
}

function VisitCard({ visit, plan, isFixed, onMove, onAdd, onOut }: CardProps) {
  const faults = plan.faults.filter((fault) => fault.visit === visit.number);
  const drop = (at: number) => (event: DragEvent) => {
    event.preventDefault();
    event.stopPropagation();
    const loop = event.dataTransfer.getData("text/plain");
    if (loop && !isFixed) onMove(loop, visit.number, at);
  };
  const allow = (event: DragEvent) => event.preventDefault();
  const nameOf = (one: PlannedVisit) => `${one.person_name}, ${say(words.dayN, { number: one.day + 1 })}`;
  return (
    <section
      className="visit-card"
      aria-label={nameOf(visit)}
      onDragOver={allow}
      onDrop={drop(visit.stops.length)}
    >
      <header>
        <h2>
          {visit.person_name} · {dayOfWeek(visit.date)}
        </h2>
        <p>
          {clock(plan.begins_min)} – {clock(visit.ends_min)} ·{" "}
          {say(words.visitCost, { isolations: visit.isolations, duration: duration(visit.minutes) })}
          {visit.waiting_min > 0 && `, ${say(words.waiting, { minutes: visit.waiting_min })}`}
        </p>
      </header>
      {faults.map((fault, k) => (
        <p key={k} className="wrong" role="alert">
          ✗ {fault.text}
        </p>
      ))}
      <ol className="stops">
        {visit.stops.map((stop, at) => (
          <li
            key={stop.loop}
            className={stop.is_done ? "is-done" : ""}
            draggable={!isFixed}
            onDragStart={(event) => event.dataTransfer.setData("text/plain", stop.loop)}
            onDragOver={allow}
            onDrop={drop(at)}
          >
            <span className="figure stop-time">
              {clock(stop.begins_min)} – {clock(stop.ends_min)}
            </span>
            <span className="stop-name">
              <Link to={`/loops/${stop.loop}?step=fit`}>
                {stop.is_done && "✓ "}
                {stop.name}
              </Link>
              <small>
                {say(stop.isolates ? words.isolateHere : words.sameBreaker, { breaker: stop.breaker })} ·{" "}
                {stop.actual_minutes === null
                  ? say(words.planned, { minutes: stop.minutes })
                  : say(words.plannedActual, { minutes: stop.minutes, actual: stop.actual_minutes })}
                {stop.waits_min > 0 && ` · ${say(words.waits, { minutes: stop.waits_min })}`}
              </small>
            </span>
            <span className="stop-do">
              <button
                type="button"
                id={`earlier-${stop.loop}`}
                className="outlined"
                disabled={isFixed || at === 0}
                aria-label={say(words.earlier, { loop: stop.name })}
                onClick={() => onMove(stop.loop, visit.number, at - 1)}
              >
                ↑
              </button>
              <button
                type="button"
                id={`later-${stop.loop}`}
                className="outlined"
                disabled={isFixed || at === visit.stops.length - 1}
                aria-label={say(words.later, { loop: stop.name })}
                onClick={() => onMove(stop.loop, visit.number, at + 2)}
              >
                ↓
              </button>
              <PickMenu
                id={`move-${stop.loop}`}
                label={say(words.moveTo, { loop: stop.name })}
                first={`${words.move} …`}
                isDisabled={isFixed}
                onPick={(value) => {
                  if (value === "out") onOut(stop.loop);
                  else if (value.startsWith(NEW)) onAdd(stop.loop, value.slice(NEW.length + 1));
                  else onMove(stop.loop, Number(value), plan.planned[Number(value)]?.stops.length ?? 0);
                }}
              >
                {plan.planned
                  .filter((other) => other.number !== visit.number)
                  .map((other) => (
                    <option key={other.number} value={other.number}>
                      {nameOf(other)}
                    </option>
                  ))}
                {plan.asked_people.map((person) => (
                  <option key={person.id} value={`${NEW} ${person.id}`}>
                    {say(words.newDay, { person: person.name })}
                  </option>
                ))}
                <option value="out">{words.out}</option>
              </PickMenu>
            </span>
          </li>
        ))}
      </ol>
      {visit.dark.length > 0 && (
        <>
          <h3>{words.warn}</h3>
          <ul className="dark">
            {visit.dark.map((dark, k) => (
              <li key={k}>
                <b>{say(words.breaker, { breaker: dark.breaker })}</b> {dark.label}{" "}
                <span className="figure">
                  {clock(dark.begins_min)} – {clock(dark.ends_min)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
