/** Joining at a hub: what is against it, the plan as a line of time, a rehearsal, and the step that hands are at. */
import { useState } from "react";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import { ReasonDialog } from "../dialog/ReasonDialog";
import { useWhen } from "../when";
import { JoinLine } from "./JoinLine";
import { JoinStep } from "./JoinStep";
import { Rehearsal } from "./Rehearsal";
import { type House, type Pairing, sendPairMark, usePairEntries, usePairing } from "./queries";
import { TryOut } from "./TryOut";
import { freshRun, keptRun, useRun } from "./run";

const words = texts.setup.join;

interface Props {
  house: House;
  loop: Loop;
  mayEdit: boolean;
  onRadio: () => void;
}

export function Joining({ house, loop, mayEdit, onRadio }: Props) {
  const hubs = house.hubs.filter((hub) => hub.wants > 0);
  // After a reload at the hub where somebody is in the middle of it.
  const [chosen, choose] = useState(() => hubs.find((one) => keptRun(loop.site, one.id))?.id);
  const hub = hubs.find((one) => one.id === chosen) ?? hubs[0];
  if (hub === undefined) {
    return (
      <div className="empty">
        <p>{words.none}</p>
        <button type="button" className="solid" onClick={onRadio}>
          {words.toRadio}
        </button>
      </div>
    );
  }
  return (
    <>
      {hubs.length > 1 && (
        <label className="field">
          {texts.setup.hub}
          <select value={hub.id} onChange={(event) => choose(event.target.value)}>
            {hubs.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <AtHub key={hub.id} hub={hub.id} loop={loop} mayEdit={mayEdit} onRadio={onRadio} />
    </>
  );
}

function AtHub({ hub, loop, mayEdit, onRadio }: Omit<Props, "house"> & { hub: string }) {
  // What is counted is what the plan that was begun is of, after a reload too.
  const [without, leaveOut] = useState(() => keptRun(loop.site, hub)?.without ?? []);
  const query = usePairing(loop.site, hub, without);
  const entries = usePairEntries(loop.site);
  const [run, setRun] = useRun(loop.site, hub);
  const pairing = query.data;
  if (pairing === undefined && run === null) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.computing}</p>
    );
  }
  const minutes = Math.ceil((pairing?.seconds ?? 0) / 60);
  const count = {
    joined: pairing?.joined.length ?? 0,
    left: pairing?.open.filter((one) => !one.is_left_out).length ?? 0,
    minutes,
  };
  return (
    <div className="fit joining">
      {pairing && (
        <p className="fit-count" role="status">
          {pairing.is_done ? words.done : say(pairing.is_possible ? words.count : words.countOnly, count)}
        </p>
      )}
      {entries.map((entry) => (
        <p key={entry.id} className={entry.state === "refused" ? "notice wrong" : "quiet"} role="status">
          {entry.label}: {entry.refusal?.text ?? words.waiting}
        </p>
      ))}
      {run !== null ? (
        <JoinStep
          loop={loop}
          hub={hub}
          run={run}
          locked={pairing?.locked ?? []}
          joined={new Set(pairing?.joined.map((one) => one.id))}
          mayEdit={mayEdit}
          onRun={setRun}
        />
      ) : (
        pairing && (
          <Beginning
            pairing={pairing}
            mayEdit={mayEdit}
            without={without}
            onLeaveOut={leaveOut}
            onRadio={onRadio}
            isOld={query.isPlaceholderData}
            onBegin={() => setRun(freshRun(pairing))}
          />
        )
      )}
      {pairing && run === null && pairing.is_possible && pairing.steps.length > 0 && (
        // What was rehearsed is told of that plan alone.
        <Rehearsal
          key={JSON.stringify([without, pairing.steps])}
          site={loop.site}
          hub={hub}
          without={without}
          minutes={minutes}
        />
      )}
      {pairing && run === null && pairing.is_possible && (pairing.steps.length > 0 || pairing.is_done) && (
        <TryOut key={without.join()} site={loop.site} hub={hub} without={without} />
      )}
      {pairing && run === null && pairing.steps.length > 0 && <JoinLine steps={pairing.steps} />}
      {pairing && pairing.joined.length > 0 && (
        <In pairing={pairing} loop={loop} hub={hub} mayEdit={mayEdit} />
      )}
    </div>
  );
}

interface BeginningProps {
  pairing: Pairing;
  mayEdit: boolean;
  /** Devices that are left out this time. */
  without: readonly string[];
  /** The plan is of what was left out before. */
  isOld: boolean;
  onLeaveOut: (next: readonly string[]) => void;
  onRadio: () => void;
  onBegin: () => void;
}

function LeaveOut({
  pairing,
  without,
  onLeaveOut,
}: Pick<BeginningProps, "pairing" | "without" | "onLeaveOut">) {
  const goesAlong = (one: Pairing["open"][number]) => one.is_left_out && !pairing.without.includes(one.id);
  return (
    <fieldset className="leave-out" aria-label={words.leaveOut}>
      {pairing.open.map((one) => (
        <label key={one.id}>
          <input
            type="checkbox"
            // Its own tick at once; what is left out along with others when the plan is there.
            checked={without.includes(one.id) || goesAlong(one)}
            disabled={goesAlong(one) && !without.includes(one.id)}
            onChange={(event) =>
              onLeaveOut(
                event.target.checked ? [...without, one.id] : without.filter((other) => other !== one.id),
              )
            }
          />
          {one.name}
        </label>
      ))}
    </fieldset>
  );
}

function Beginning(props: BeginningProps) {
  const { pairing, mayEdit, without, isOld, onLeaveOut, onRadio, onBegin } = props;
  // The list does not shut under the hand that unticks the last one.
  const [isListShown, showList] = useState(false);
  const hindered = pairing.against.map((one) => one.device).filter(Boolean);
  if (!pairing.is_possible) {
    return (
      <>
        <div className="notice" role="alert">
          <div>
            <b>{words.against}</b>
            <ul className="plain-list">
              {pairing.against.map((one) => (
                <li key={`${one.code}${one.device}`}>{one.text}</li>
              ))}
            </ul>
          </div>
          <span className="form-buttons">
            <button type="button" className="outlined" onClick={onRadio}>
              {words.toRadio}
            </button>
            {hindered.length > 0 && (
              <button
                type="button"
                className="solid"
                onClick={() => onLeaveOut([...new Set([...without, ...hindered])])}
              >
                {words.withoutThem}
              </button>
            )}
          </span>
        </div>
        <h3>{words.leaveOut}</h3>
        <LeaveOut pairing={pairing} without={without} onLeaveOut={onLeaveOut} />
      </>
    );
  }
  if (pairing.open.length === 0) return null;
  return (
    <>
      {mayEdit && pairing.steps.length > 0 && (
        <button type="button" className="solid fit-tick" disabled={isOld} onClick={onBegin}>
          {words.begin}
        </button>
      )}
      <details
        open={isListShown || without.length > 0}
        onToggle={(event) => showList(event.currentTarget.open)}
      >
        <summary>{words.leaveOut}</summary>
        <LeaveOut pairing={pairing} without={without} onLeaveOut={onLeaveOut} />
      </details>
    </>
  );
}

interface InProps {
  pairing: Pairing;
  loop: Loop;
  hub: string;
  mayEdit: boolean;
}

function In({ pairing, loop, hub, mayEdit }: InProps) {
  const when = useWhen();
  const [resetting, reset] = useState<{ id: string; name: string } | null>(null);
  return (
    <section aria-label={words.in}>
      <h2>{words.in}</h2>
      <ul className="reached">
        {pairing.joined.map((one) => (
          <li key={one.id}>
            <span className="reach-sign" aria-hidden>
              ✓
            </span>
            <span>{say(words.by, { name: one.name, who: one.by, when: when(one.at) })}</span>
            {mayEdit && (
              <button type="button" className="plain" onClick={() => reset(one)}>
                {words.reset} …
              </button>
            )}
          </li>
        ))}
      </ul>
      {resetting && (
        <ReasonDialog
          of={`reset:${hub}:${resetting.id}`}
          title={say(words.resetOf, { name: resetting.name })}
          label={words.otherWhat}
          least={5}
          most={300}
          isPending={false}
          error={null}
          onReason={(note, done) => {
            done();
            sendPairMark(loop.site, loop.site_name, hub, loop.id, {
              step: `reset:${resetting.id}:`,
              came: "worked",
              note,
              label: say(words.resetOf, { name: resetting.name }),
            });
            reset(null);
          }}
          onClose={() => reset(null)}
        />
      )}
    </section>
  );
}
