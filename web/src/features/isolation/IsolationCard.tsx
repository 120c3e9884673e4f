/** One open isolation: what is off, whose locks are on, and what may be done with it. */
import { useState } from "react";
import { useLeftText } from "../../app/useLeft";
import { useTray } from "../../device/useTray";
import { say, texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { LockMark } from "./LockMark";
import type { Isolation, Lock } from "./queries";
import { type At, useIsolationEntries } from "./useIsolationEntries";
import { useIsolationWords } from "./words";

const words = texts.isolation;
const SHORTEST_REASON = 10;

interface Props {
  isolation: Isolation;
  at: At;
  mayEdit: boolean;
  mayRelease: boolean;
}

export function IsolationCard({ isolation, at, mayEdit, mayRelease }: Props) {
  const { timeOf, lineOf, takenOff } = useIsolationWords();
  const entries = useIsolationEntries(at);
  const { mine } = useTray();
  const [note, setNote] = useLeftText(`energise:${isolation.id}`);
  const [taking, setTaking] = useState<Lock | null>(null);
  const [reason, setReason] = useLeftText(`take off:${taking?.id ?? ""}`);
  const on = isolation.locks.filter((lock) => lock.is_on);
  const off = isolation.locks.filter((lock) => !lock.is_on);
  // A second press while the first is on its way would only be refused.
  const isOnItsWay = (path: string) =>
    mine.some((entry) => entry.state === "waiting" && entry.path.includes(path));
  const isBusy =
    isOnItsWay(`/isolations/${isolation.id}/`) || on.some((lock) => isOnItsWay(`/locks/${lock.id}/`));
  return (
    <section
      className={`isolation is-open${isolation.is_mine ? " is-mine" : ""}`}
      aria-label={lineOf(isolation)}
    >
      <h3>{lineOf(isolation)}</h3>
      {on.length === 0 ? (
        <p className="wrong">{words.noLock}</p>
      ) : (
        <ul className="locks" aria-label={words.locks}>
          {on.map((lock) => (
            <li key={lock.id}>
              <span>
                <LockMark />{" "}
                {say(words.lockOf, { who: lock.person, where: lock.loop_name, time: timeOf(lock.put_at) })}
                {lock.is_mine && <em> · {words.mine}</em>}
              </span>
              {lock.is_mine && mayEdit && (
                <button
                  type="button"
                  className="outlined"
                  disabled={isBusy}
                  onClick={() => entries.takeOff(isolation, lock, "")}
                >
                  {words.takeMine}
                </button>
              )}
              {isOnItsWay(`/locks/${lock.id}/`) && <small className="wrong">{words.waiting}</small>}
              {!lock.is_mine && mayRelease && (
                <button type="button" className="plain" onClick={() => setTaking(lock)}>
                  {say(words.takeOther, { who: lock.person })} …
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
      {off.length > 0 && <p className="quiet">{off.map(takenOff).join(" · ")}</p>}
      {isOnItsWay(`/isolations/${isolation.id}/`) && (
        <p className="wrong" role="status">
          {words.waiting}
        </p>
      )}
      {mayEdit && !isolation.is_mine && (
        <button
          type="button"
          className="solid add"
          disabled={isBusy}
          onClick={() => entries.putLock(isolation)}
        >
          {words.putLock}
        </button>
      )}
      {mayEdit && on.length > 0 && (
        <p className="quiet">
          {words.back}: {say(words.backWaits, { who: on.map((lock) => lock.person).join(", ") })}
        </p>
      )}
      {mayEdit && on.length === 0 && (
        <div className="close-line">
          <label className="field">
            {words.backNote}
            <input value={note} maxLength={300} onChange={(event) => setNote(event.target.value)} />
          </label>
          <button
            type="button"
            className="outlined"
            disabled={isBusy}
            onClick={() => {
              entries.energise(isolation, note);
              setNote("");
            }}
          >
            {words.back}
          </button>
        </div>
      )}
      {taking && (
        <FormDialog
          title={say(words.takeOther, { who: taking.person })}
          action={say(words.takeOther, { who: taking.person })}
          isReady={reason.trim().length >= SHORTEST_REASON}
          isPending={false}
          error={null}
          onSubmit={() => {
            entries.takeOff(isolation, taking, reason.trim());
            setReason("");
            setTaking(null);
          }}
          onClose={() => {
            setReason("");
            setTaking(null);
          }}
        >
          <p>{words.takeOtherLead}</p>
          <label>
            {words.reason}
            <input
              value={reason}
              maxLength={300}
              autoFocus
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
        </FormDialog>
      )}
    </section>
  );
}
