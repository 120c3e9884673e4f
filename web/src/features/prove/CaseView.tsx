/** One case: what was told, the next question, causes, remedies, what was found out, and its end. */
import { useState } from "react";
import { useLeft } from "../../app/useLeft";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import type { Step, Tab } from "../bench/steps";
import { FormDialog } from "../dialog/FormDialog";
import { ReasonDialog } from "../dialog/ReasonDialog";
import { useWhen } from "../when";
import { Causes } from "./Causes";
import { Question } from "./Question";
import {
  type Case,
  type Cases,
  type Diagnosis,
  useClose,
  useDiagnosis,
  useProveEntries,
  useReopen,
  useStrike,
} from "./queries";

const words = texts.prove.cases;
const SHORTEST_REASON = 5;

interface Props {
  loop: Loop;
  one: Case;
  cases: Cases;
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
}

const STEP_OF: Record<string, Step> = { light_on: "judge", bypass_choice: "route", ways: "route" };

export function CaseView({ loop, one, cases, mayEdit, onGo }: Props) {
  const when = useWhen();
  const diagnosis = useDiagnosis(one, false);
  const cures = useDiagnosis(one, true);
  const entries = useProveEntries(loop.id);
  const waiting = entries.filter((entry) => entry.path === `/api/v1/cases/${one.id}/evidence/`);
  const [ending, end] = useState<"close" | "reopen" | null>(null);
  const found = diagnosis.data;
  const isPast = found !== undefined && diagnosis.isPlaceholderData;
  return (
    <div className="case">
      <header className="case-head">
        <h2>
          {say(words.case, { number: one.number })}{" "}
          <small>
            {one.is_open ? words.isOpen : words.isClosed}
            {loop.gangs.length > 1 &&
              ` · ${one.gang_name || say(words.gang, { position: one.gang_position })}`}
          </small>
        </h2>
        <ul className="told" aria-label={words.told}>
          {one.told.map((entry) => (
            <li key={entry.code}>{entry.text}</li>
          ))}
        </ul>
        <p className="quiet">
          {[words.heards[one.heard], one.since, one.note, one.by, when(one.at)].filter(Boolean).join(" · ")}
        </p>
      </header>
      {one.events.length > 0 && (
        <ul className="case-events">
          {one.events.map((event) => (
            <li key={event.at}>
              <b>{event.is_closing ? say(words.closed, { cause: event.cause_text }) : event.text}</b>
              {event.remedy_text && `; ${event.remedy_text}`}
              {event.note && `; ${event.note}`} <small>{`${event.by}, ${when(event.at)}`}</small>
            </li>
          ))}
        </ul>
      )}
      {diagnosis.isError && (
        <p className="wrong" role="alert">
          {diagnosis.error.message}
        </p>
      )}
      {found === undefined && !diagnosis.isError && (
        <p className="quiet" role="status">
          {words.computing}
        </p>
      )}
      {found && found.missing.length > 0 && (
        <div className="notice" role="alert">
          <span>{words.missing}</span>
          <button type="button" className="outlined" onClick={() => onGo("parts", "lamps")}>
            {words.toParts}
          </button>
        </div>
      )}
      {waiting.map((entry) => (
        <p key={entry.id} className={entry.state === "refused" ? "notice wrong" : "quiet"} role="status">
          {entry.label}: {entry.refusal?.text ?? words.waiting}
        </p>
      ))}
      {found && found.missing.length === 0 && (
        <div className={isPast ? "case-body is-old" : "case-body"} aria-busy={isPast}>
          {isPast && (
            <p className="quiet" role="status">
              {words.computing}
            </p>
          )}
          {one.is_open && mayEdit && !isPast && (
            <Question one={one} loopName={loop.name} tests={found.next} isShut={cases.isolated !== ""} />
          )}
          <Causes diagnosis={found} />
          {one.is_open && cures.data && cures.data.remedies.length > 0 && (
            <Helps diagnosis={cures.data} isPast={cures.isPlaceholderData} onGo={onGo} />
          )}
        </div>
      )}
      <Evidence one={one} mayEdit={mayEdit && one.is_open} />
      {mayEdit && (
        <p className="form-buttons">
          {one.is_open ? (
            <button type="button" className="outlined" onClick={() => end("close")}>
              {words.close} …
            </button>
          ) : (
            <button type="button" className="outlined" onClick={() => end("reopen")}>
              {words.reopen} …
            </button>
          )}
        </p>
      )}
      {ending === "close" && (
        <CloseDialog
          one={one}
          cases={cases}
          suspected={found?.causes ?? []}
          helping={cures.data?.remedies.map((remedy) => remedy.code) ?? []}
          onDone={() => end(null)}
        />
      )}
      {ending === "reopen" && <ReopenDialog one={one} onDone={() => end(null)} />}
    </div>
  );
}

function Helps({ diagnosis, isPast, onGo }: { diagnosis: Diagnosis; isPast: boolean; onGo: Props["onGo"] }) {
  return (
    <section className={isPast ? "helps is-old" : "helps"} aria-label={words.remedies} aria-busy={isPast}>
      <h2>{words.remedies}</h2>
      <ol>
        {diagnosis.remedies.map((remedy) => (
          <li key={remedy.code}>
            <span>
              {remedy.text}
              <small>
                {say(remedy.price > 0 ? words.costs : words.noPrice, {
                  minutes: Math.round(remedy.minutes),
                  price: remedy.price.toFixed(0),
                  undo: remedy.undo,
                })}
              </small>
            </span>
            <b className="figure">{say(words.chance, { percent: Math.round(remedy.chance * 100) })}</b>
            {remedy.tab && (
              <button
                type="button"
                className="outlined"
                aria-label={`${words.onBench}: ${remedy.text}`}
                onClick={() => onGo(STEP_OF[remedy.tab] ?? "parts", remedy.tab as Tab)}
              >
                {words.onBench}
              </button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

function Evidence({ one, mayEdit }: { one: Case; mayEdit: boolean }) {
  const when = useWhen();
  const strike = useStrike(one);
  const [striking, setStriking] = useState<string | null>(null);
  return (
    <section aria-label={words.found}>
      <h2>{words.found}</h2>
      {one.evidence.length === 0 && <p className="quiet">{words.nothingFound}</p>}
      <ol className="evidence">
        {one.evidence.map((row) => (
          <li key={row.id} className={row.struck_reason ? "is-struck" : ""}>
            <span>
              {row.title} <b>{row.text}</b>
              <small>
                {[
                  row.note,
                  row.by,
                  when(row.at),
                  row.struck_reason ? `${texts.survey.conductors.struck}: ${row.struck_reason}` : "",
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </small>
            </span>
            {mayEdit && !row.struck_reason && (
              <button
                type="button"
                className="plain"
                aria-label={`${words.strike}: ${row.title}`}
                onClick={() => setStriking(row.id)}
              >
                {words.strike}
              </button>
            )}
          </li>
        ))}
      </ol>
      {striking && (
        <ReasonDialog
          of={`strike:${striking}`}
          title={words.strike}
          label={words.whyStrike}
          most={200}
          isPending={strike.isPending}
          error={strike.error}
          onReason={(reason, done) =>
            strike.mutate(
              { id: striking, reason },
              {
                onSuccess: () => {
                  done();
                  setStriking(null);
                },
              },
            )
          }
          onClose={() => setStriking(null)}
        />
      )}
    </section>
  );
}

interface EndProps {
  one: Case;
  onDone: () => void;
}

interface CloseProps extends EndProps {
  cases: Cases;
  /** Causes that explain what was told and found, the likeliest first. */
  suspected: Diagnosis["causes"];
  /** Remedies that help in this case, the likeliest first. */
  helping: readonly string[];
}

interface Group {
  label: string;
  entries: readonly { code: string; text: string }[];
}

/** What a list offers under headings; a heading with nothing under it is left out. */
function Grouped({ groups }: { groups: readonly Group[] }) {
  return groups
    .filter((group) => group.entries.length > 0)
    .map((group) => (
      <optgroup key={group.label} label={group.label}>
        {group.entries.map((entry) => (
          <option key={entry.code} value={entry.code}>
            {entry.text}
          </option>
        ))}
      </optgroup>
    ));
}

function CloseDialog({ one, cases, suspected, helping, onDone }: CloseProps) {
  const close = useClose(one);
  // No cause stands there by itself: what a case was counts in those that follow, and a guess would confirm itself.
  const { form, isLeft, change, forget } = useLeft(`close:${one.id}`, { cause: "", remedy: "", note: "" });
  const { remedy, note } = form;
  const named = suspected.map(({ code, title }) => ({ code, text: title }));
  const unsuspected = cases.causes.filter((entry) => !named.some((one) => one.code === entry.code));
  // Two at once may be suspected no more: what is not offered is not chosen.
  const cause = [...named, ...unsuspected].some((one) => one.code === form.cause) ? form.cause : "";
  const areas = [...new Set(unsuspected.map((entry) => entry.area_text))].filter((area) => area !== "");
  const likely = helping.flatMap((code) => cases.remedies.filter((entry) => entry.code === code));
  const others = cases.remedies
    .filter((entry) => !helping.includes(entry.code))
    .toSorted((a, b) => a.text.localeCompare(b.text));
  const done = () => {
    forget();
    onDone();
  };
  return (
    <FormDialog
      title={words.close}
      action={words.close}
      isReady={cause !== ""}
      isPending={close.isPending}
      error={close.error}
      isLeft={isLeft}
      onSubmit={() => close.mutate({ cause, remedy, note: note.trim() }, { onSuccess: done })}
      onClose={done}
    >
      <label>
        {words.cause}
        <select value={cause} autoFocus onChange={(event) => change({ cause: event.target.value })}>
          <option value="">{texts.quantity.choose}</option>
          <Grouped
            groups={[
              { label: words.causes, entries: named },
              ...areas.map((label) => ({
                label,
                entries: unsuspected.filter((entry) => entry.area_text === label),
              })),
            ]}
          />
          {unsuspected
            .filter((entry) => entry.area_text === "")
            .map((entry) => (
              <option key={entry.code} value={entry.code}>
                {entry.text}
              </option>
            ))}
        </select>
      </label>
      <label>
        {words.remedy}
        <select value={remedy} onChange={(event) => change({ remedy: event.target.value })}>
          <option value="">{words.noRemedy}</option>
          <Grouped
            groups={[
              { label: words.remedies, entries: likely },
              { label: words.otherRemedies, entries: others },
            ]}
          />
        </select>
      </label>
      <label>
        {words.closeNote}
        <input value={note} maxLength={500} onChange={(event) => change({ note: event.target.value })} />
      </label>
    </FormDialog>
  );
}

function ReopenDialog({ one, onDone }: EndProps) {
  const reopen = useReopen(one);
  return (
    <ReasonDialog
      of={`reopen:${one.id}`}
      title={words.reopen}
      label={words.whyReopen}
      least={SHORTEST_REASON}
      most={500}
      isPending={reopen.isPending}
      error={reopen.error}
      onReason={(note, done) =>
        reopen.mutate(note, {
          onSuccess: () => {
            done();
            onDone();
          },
        })
      }
      onClose={onDone}
    />
  );
}
