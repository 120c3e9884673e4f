/** Readings to enter, one after the other, and what is to be done with them. */
import { type ReactNode, useEffect, useState } from "react";
import { keep, kept } from "../../../app/person";
import { type Entry, isFittingOf } from "../../../device/entry";
import { send } from "../../../device/tray";
import { useTray } from "../../../device/useTray";
import { engineering } from "../../../format";
import { say, texts, wordOf } from "../../../texts";
import { OldAnswer } from "../../OldAnswer";
import { MeterButton } from "../../prove/MeterButton";
import { NOTHING, QuantityEntry, type Typed, typedValue, valueOf } from "../../quantity/QuantityEntry";
import { quantityName } from "../../quantity/usual";
import { ReasonDialog } from "../../dialog/ReasonDialog";
import { HIGH_IMPEDANCE_OHM, LOW_IMPEDANCE_OHM, useOwnMeter } from "../../useOwnMeter";
import { useWhen } from "../../when";
import type { Draft, Gang } from "../draft";
import { useShelf } from "../queries";
import { type Measured, type Measurement, type Occasion, useMeasured } from "./queries";

const words = texts.spread;
const METERS = [
  [HIGH_IMPEDANCE_OHM, "10 MΩ"],
  [LOW_IMPEDANCE_OHM, "400 kΩ"],
] as const;
type Kind = Measurement["kind"];
const KINDS = Object.keys(words.kinds) as Kind[];
const SEEN: Partial<Record<Kind, Record<string, string>>> = {
  half_wave: words.halfWave,
  seen: words.seenWords,
};

/** A reading in words. */
function told(entry: Measurement): string {
  const seen = SEEN[entry.kind]?.[entry.seen ?? ""];
  if (seen) return seen;
  const meter = entry.meter_r_ohm ? ` (${engineering(entry.meter_r_ohm, "Ω")})` : "";
  return `${engineering(entry.value ?? 0, wordOf(words.units, entry.kind) ?? "")}${meter}`;
}

/** A value that has not been added yet, and what it is of. */
interface Half {
  kind: Kind;
  group: number;
  value: Typed;
  isRead: boolean;
}

interface Props {
  title: string;
  lead: string;
  action: string;
  gang: Gang;
  occasion: Occasion;
  draft: Draft;
  isPending: boolean;
  error: Error | null;
  mayEdit: boolean;
  onJudge: (readings: Measurement[]) => void;
  /** What a meter should show by the computation, in words; null where that is not known yet. */
  expected: (entry: Measurement) => string | null;
  children: ReactNode;
}

/** An entry of the tray as a measured value that is not on record yet. */
function onItsWay(entry: Entry): Measured {
  return {
    // As it will be known on record: what is struck before it has arrived is found there.
    id: String(entry.body["id"]),
    occasion: entry.body["occasion"] as Occasion,
    reading: entry.body["reading"] as Measured["reading"],
    meter: String(entry.body["meter"] ?? ""),
    made_at: entry.madeAt,
    at: entry.madeAt,
    by: entry.personName,
    struck_reason: "",
    is_of_other_parts: false,
  };
}

export function ReadingsForm(props: Props) {
  const when = useWhen();
  const {
    title,
    lead,
    action,
    gang,
    occasion,
    draft,
    isPending,
    error,
    mayEdit,
    onJudge,
    expected,
    children,
  } = props;
  const shelf = useShelf();
  const name = `reading:${gang.id}:${occasion}`;
  const [half] = useState(() => kept<Half>(name));
  const [kind, setKind] = useState<Kind>(half?.kind ?? "lamp_v");
  const [value, setValue] = useState(half?.value ?? NOTHING);
  const [meter, sayMeter] = useOwnMeter();
  const [isMeterAsked, askMeter] = useState(false);
  const [isRead, setRead] = useState(half?.isRead ?? false);
  const [meterName, setMeterName] = useState(() => kept<string>("meter") ?? "");
  const [group, setGroup] = useState(Math.max(0, Math.min(half?.group ?? 0, draft.lamps.length - 1)));
  // Half a value outlives a reload, and a look at another page.
  useEffect(
    () => keep(name, value.text === "" ? null : { kind, group, value, isRead }),
    [name, kind, group, value, isRead],
  );
  const [replacement, setReplacement] = useState("");
  const [striking, setStriking] = useState<Measured | null>(null);
  const [isWrong, setWrong] = useState(false);
  const [asked, ask] = useState<string | null>(null);
  const measured = useMeasured(gang.id);
  const { mine } = useTray();
  const path = `/api/v1/gangs/${gang.id}/measured/`;
  const waiting = mine.filter((entry) => entry.path === path && entry.body["occasion"] === occasion);
  const stored = (measured.data ?? []).filter((entry) => entry.occasion === occasion);
  const isStored = (entry: Entry) => stored.some((row) => row.id === entry.body["id"]);
  const rows = [
    ...stored,
    ...waiting.filter((entry) => entry.state === "waiting" && !isStored(entry)).map(onItsWay),
  ];
  // What hangs there is what the bypass is in with; before it, other parts are tried on purpose.
  const isOfOthers = (entry: Measured) => occasion === "after_fitting" && entry.is_of_other_parts;
  const counted = rows.filter((entry) => !entry.struck_reason && !isOfOthers(entry));
  // What is fitted by an entry that waits is not in the record yet, but what is read is read of it.
  const isFitting = mine.some((entry) => entry.state === "waiting" && isFittingOf(entry, gang.loop));
  const readings = counted.map((entry) => entry.reading);
  // What was asked for by a press is of the figures and readings of then.
  const question = JSON.stringify([draft, counted.map((entry) => entry.id).sort()]);
  const seenWords = SEEN[kind];
  const ofGroup = kind !== "lamp_v" && kind !== "line_i" && kind !== "period";
  const put = (entry: Partial<Measurement>) => {
    const reading = { kind, group: ofGroup ? group : 0, ...entry };
    const id = crypto.randomUUID();
    keep("meter", meterName || null);
    send({
      label: `${words.kinds[kind]}: ${told(reading)}`,
      where: title,
      page: `/loops/${gang.loop}/${gang.position}`,
      path,
      body: {
        id,
        occasion,
        reading,
        meter: meterName,
        made_at: new Date().toISOString(),
        hung: isFitting ? "" : gang.hung,
      },
    });
    setValue(NOTHING);
    setWrong(false);
  };
  const add = () => {
    const read = valueOf(value);
    if (kind === "lamp_v" && meter === null) askMeter(true);
    else if (read === null || read <= 0) setWrong(true);
    else put({ value: read, meter_r_ohm: kind === "lamp_v" ? meter : null });
  };
  const addSeen = (seen: string) => {
    const part = shelf.data?.find((entry) => entry.id === replacement);
    // Gone from the shelf meanwhile: what was seen with it is not said of the lamp that is fitted.
    if (replacement !== "" && part === undefined) return setReplacement("");
    put(kind === "seen" && part ? { seen, replacement: part.figures } : { seen });
    return undefined;
  };
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <p className="quiet">{lead}</p>
      {mayEdit && (
        <div className="narrow-form">
          <select
            aria-label={title}
            value={kind}
            onChange={(event) => {
              setKind(event.target.value as Kind);
              setValue(NOTHING);
            }}
          >
            {KINDS.map((entry) => (
              <option key={entry} value={entry}>
                {words.kinds[entry]}
              </option>
            ))}
          </select>
          {ofGroup && draft.lamps.length > 1 && (
            <select
              aria-label={words.group}
              value={group}
              onChange={(event) => setGroup(Number(event.target.value))}
            >
              {draft.lamps.map((_, k) => (
                <option key={k} value={k}>
                  {say(words.groupOf, { group: k + 1 })}
                </option>
              ))}
            </select>
          )}
          {kind === "lamp_v" && (
            <select
              aria-label={words.meter}
              aria-invalid={isMeterAsked && meter === null ? true : undefined}
              value={meter ?? ""}
              onChange={(event) => {
                sayMeter(Number(event.target.value));
                // What was read by the one is no reading by the other.
                if (isRead) setValue(NOTHING);
              }}
            >
              {meter === null && <option value="">{words.whichMeter}</option>}
              {METERS.map(([r_ohm, label]) => (
                <option key={r_ohm} value={r_ohm}>
                  {label}
                </option>
              ))}
            </select>
          )}
          {kind === "seen" && (
            <select
              aria-label={words.replaced}
              value={replacement}
              onChange={(event) => setReplacement(event.target.value)}
            >
              <option value="">{words.asFitted}</option>
              {shelf.data
                ?.filter((part) => part.category === "lamp" && part.kind !== "smart")
                .map((part) => (
                  <option key={part.id} value={part.id}>
                    {words.replaced}: {part.maker} {part.name}
                  </option>
                ))}
            </select>
          )}
          <input
            className="meter-name"
            aria-label={words.meterName}
            placeholder={words.meterName}
            maxLength={80}
            value={meterName}
            onChange={(event) => setMeterName(event.target.value)}
          />
          {!seenWords && (
            <>
              <QuantityEntry
                name={quantityName(kind)}
                label={texts.survey.conductors.value}
                hint={wordOf(words.hints, kind)}
                typed={value}
                error={isWrong && value.reading.is !== "wrong" ? words.notAbove : undefined}
                onTyped={(next) => {
                  setValue(next);
                  setRead(false);
                  setWrong(false);
                }}
                onEnter={add}
              />
              {(kind === "line_i" || (kind === "lamp_v" && meter !== null)) && (
                <MeterButton
                  key={`${kind} ${meter}`}
                  gang={gang.id}
                  read={kind === "line_i" ? kind : meter === HIGH_IMPEDANCE_OHM ? "lamp_v" : "lamp_v_low_z"}
                  onValue={(read) => {
                    setValue(typedValue(read, kind === "line_i" ? "A" : "V"));
                    setRead(true);
                  }}
                />
              )}
              <button type="button" className="outlined" onClick={add}>
                {words.add}
              </button>
            </>
          )}
          {seenWords &&
            Object.entries(seenWords).map(([seen, label]) => (
              <button key={seen} type="button" className="outlined" onClick={() => addSeen(seen)}>
                {label}
              </button>
            ))}
        </div>
      )}
      {kind === "lamp_v" && isMeterAsked && meter === null && (
        <p className="wrong" role="alert">
          {words.meterMissing}
        </p>
      )}
      {kind === "half_wave" && <p className="caution-line">{words.benchCaution}</p>}
      <ul className="measured" aria-label={words.measured}>
        {rows.map((entry) => (
          <li key={entry.id} className={entry.struck_reason ? "is-struck" : ""}>
            <span>
              {words.kinds[entry.reading.kind]}: <b className="figure">{told(entry.reading)}</b>
              {!entry.struck_reason && !isOfOthers(entry) && expected(entry.reading) && (
                <small>{say(words.expected, { range: expected(entry.reading) ?? "" })}</small>
              )}
              <small>
                {[
                  entry.meter,
                  entry.by,
                  when(entry.made_at ?? entry.at),
                  ...(waiting.some((one) => one.body["id"] === entry.id) ? [texts.isolation.waiting] : []),
                  ...(isOfOthers(entry) ? [words.ofOtherParts] : []),
                  ...(entry.struck_reason
                    ? [`${texts.survey.conductors.struck}: ${entry.struck_reason}`]
                    : []),
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </small>
            </span>
            {mayEdit && !entry.struck_reason && (
              <button type="button" className="plain" onClick={() => setStriking(entry)}>
                {texts.survey.conductors.strike}
              </button>
            )}
          </li>
        ))}
      </ul>
      {waiting
        .filter((entry) => entry.refusal)
        .map((entry) => (
          <p key={entry.id} className="wrong" role="alert">
            {entry.label}: {entry.refusal?.text}
          </p>
        ))}
      {striking && (
        <ReasonDialog
          of={`strike:${striking.id}`}
          title={texts.survey.conductors.strike}
          label={texts.survey.conductors.strikeWhy}
          most={200}
          onReason={(reason, done) => {
            done();
            send({
              label: `${texts.survey.conductors.strike}: ${told(striking.reading)}`,
              where: title,
              page: `/loops/${gang.loop}/${gang.position}`,
              path: `/api/v1/measured/${striking.id}/strike/`,
              body: { reason },
            });
            setStriking(null);
          }}
          onClose={() => setStriking(null)}
        />
      )}
      {readings.length > 0 && (
        <button
          type="button"
          className="solid"
          disabled={isPending}
          onClick={() => {
            ask(question);
            onJudge(readings);
          }}
        >
          {isPending ? words.computing : action}
        </button>
      )}
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
      {children && <OldAnswer isOld={asked !== question}>{children}</OldAnswer>}
    </section>
  );
}
