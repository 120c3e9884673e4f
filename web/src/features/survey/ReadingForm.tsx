/** One reading: typed by hand or taken by the meter, then kept. What is typed survives a reload. */
import { useEffect, useRef, useState } from "react";
import { keep, kept } from "../../app/person";
import type { Entry } from "../../device/entry";
import { discard } from "../../device/tray";
import { say, texts } from "../../texts";
import { QuantityEntry, type Typed as Quantity, typedAs, valueOf } from "../quantity/QuantityEntry";
import { HIGH_IMPEDANCE_OHM, LOW_IMPEDANCE_OHM, useOwnMeter } from "../useOwnMeter";
import { Pick } from "./fields";
import { type Proposal, useMeter, useReadMeter } from "./queries";
import type { StepProps } from "./stepProps";
import { Switches, type SwitchPositions } from "./Switches";
import type { ReadingBody } from "./useSurveyEntries";

const words = texts.survey.conductors;

interface Typed {
  a: string;
  b: string;
  kind: "volts" | "continuity";
  value: string;
  switches: SwitchPositions;
  /** What the meter showed, while that stands in the field. */
  shown: { id: string; text: string; value: ReadValue } | null;
}

interface ReadValue {
  v?: number;
  r_ohm?: number;
  is_open?: boolean;
}

const keyOf = (loop: string, place: number) => `reading:${loop}:${place}`;

const QUANTITIES = { volts: "reading_v", continuity: "reading_r_ohm" } as const;

function isOpenWord(text: string): boolean {
  return /^\s*(open|offen|ol|∞)\s*$/i.test(text);
}

/** "231 V", "0.3", "open": as a value of its kind; null when it is none, or asked about first. */
function readValue(typed: Typed, quantity: Quantity): ReadValue | null {
  if (typed.shown?.text === typed.value) return typed.shown.value;
  if (typed.kind === "continuity" && isOpenWord(typed.value)) return { is_open: true };
  const value = valueOf(quantity);
  if (value === null) return null;
  return typed.kind === "volts" ? { v: value } : { r_ohm: value };
}

/** A refused reading, back in the form. */
function typedFrom(entry: Entry, first: Typed): Typed {
  const body = entry.body as Partial<ReadingBody>;
  const isVolts = typeof body.v === "number";
  return {
    ...first,
    a: body.a ?? first.a,
    b: body.b ?? first.b,
    kind: isVolts ? "volts" : "continuity",
    value: isVolts ? `${body.v} V` : body.is_open ? words.open : `${body.r_ohm} Ω`,
    switches: (body.switches ?? {}) as SwitchPositions,
    shown: null,
  };
}

export function ReadingForm(props: StepProps & { wanted: Proposal | null }) {
  const { survey, draft, choices, entries, waiting, wanted } = props;
  const { box } = draft.doc;
  const first: Typed = {
    a: box.conductors[0]?.id ?? "",
    b: "known_earth",
    kind: survey.is_off ? "continuity" : "volts",
    value: "",
    switches: {},
    shown: null,
  };
  const name = keyOf(survey.loop, survey.place);
  const [typed, setTyped] = useState<Typed>(() => ({ ...first, ...kept<Partial<Typed>>(name) }));
  const [ownMeter, sayMeter] = useOwnMeter();
  // How the text was read: an odd value that was confirmed stays confirmed while it is not touched.
  const [confirmed, setConfirmed] = useState<Quantity | null>(null);
  const quantity = confirmed?.text === typed.value ? confirmed : typedAs(QUANTITIES[typed.kind], typed.value);
  const [isWrong, setWrong] = useState(false);
  const lacksMeter = typed.kind === "volts" && ownMeter === null;
  const field = useRef<HTMLInputElement>(null);
  const meter = useReadMeter(survey.loop);
  const thereIsMeter = useMeter().data?.is_there ?? false;
  const put = (part: Partial<Typed>) => {
    setWrong(false);
    setTyped((now) => {
      const next = { ...now, ...part };
      keep(name, next);
      return next;
    });
  };
  useEffect(() => {
    if (wanted === null) return;
    put({
      a: wanted.a,
      b: wanted.b,
      kind: wanted.supply_on ? "volts" : "continuity",
      switches: wanted.switches as Typed["switches"],
      value: "",
      shown: null,
    });
    field.current?.focus();
    // Each press of "take this reading" makes a new object.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted]);

  const keepReading = () => {
    const value = readValue(typed, quantity);
    if (value === null || lacksMeter) return setWrong(true);
    const { a, b, switches } = typed;
    const isVolts = typed.kind === "volts";
    const isShown = typed.shown?.text === typed.value;
    entries.reading(
      {
        ...{ a, b, switches, ...value },
        ...(isShown && typed.shown ? { meter_value: typed.shown.id } : {}),
        supply_on: isVolts,
        meter_r_ohm: isVolts ? ownMeter : null,
      },
      `${a} → ${targets.find((entry) => entry.value === b)?.text ?? b}: ${typed.value}`,
    );
    // It is in the tray now, whatever becomes of it; the field is free for the next one.
    put({ value: "", shown: null });
    return undefined;
  };
  const readByMeter = () => {
    if (lacksMeter) return setWrong(true);
    meter.mutate(
      {
        function: typed.kind,
        place: survey.place,
        a: typed.a,
        b: typed.b,
        ...(ownMeter === null ? {} : { meter_r_ohm: ownMeter }),
        switches: typed.switches,
      },
      {
        onSuccess: (shown) => {
          const isVolts = typed.kind === "volts";
          const text = shown.is_open ? words.open : isVolts ? `${shown.v} V` : `${shown.r_ohm} Ω`;
          const value = shown.is_open
            ? { is_open: true }
            : isVolts
              ? { v: shown.v ?? 0 }
              : { r_ohm: shown.r_ohm ?? 0 };
          setTyped((now) => {
            // Of other points, switches or a value than stand there by now: what it showed belongs nowhere.
            if (now !== typed) return now;
            const next = { ...now, value: text, shown: { id: shown.id, text, value } };
            keep(name, next);
            return next;
          });
        },
      },
    );
    return undefined;
  };
  const refused = waiting.filter((entry) => entry.state === "refused" && entry.path.endsWith("/readings/"));
  const ends = box.conductors.map((entry) => ({ value: entry.id, text: entry.id }));
  const lamps = box.gangs.map((_, k) => ({
    value: `known_lamp_${k + 1}`,
    text: say(texts.survey.conductors.lampholder, { gang: k + 1 }),
  }));
  const targets =
    typed.kind === "volts"
      ? [...choices.references.slice(0, 1), ...ends.filter((entry) => entry.value !== typed.a)]
      : [...choices.references, ...lamps, ...ends.filter((entry) => entry.value !== typed.a)];
  return (
    <section className="reading-form" aria-label={words.form}>
      <h3>{words.form}</h3>
      <div className="field-grid">
        <Pick
          label={words.what}
          value={typed.kind}
          choices={[
            { value: "continuity", text: words.continuity },
            { value: "volts", text: words.volts },
          ]}
          onPick={(kind) => put({ kind: kind as Typed["kind"], b: "known_earth", value: "" })}
        />
        <Pick label={words.from} value={typed.a} choices={ends} onPick={(a) => put({ a })} />
        <Pick label={words.to} value={typed.b} choices={targets} onPick={(b) => put({ b })} />
        {typed.kind === "volts" && (
          <Pick
            label={words.meter}
            value={String(ownMeter ?? "")}
            error={isWrong && lacksMeter ? words.whichMeter : undefined}
            choices={[
              ...(ownMeter === null ? [{ value: "", text: texts.quantity.choose }] : []),
              { value: String(LOW_IMPEDANCE_OHM), text: words.lowZ },
              { value: String(HIGH_IMPEDANCE_OHM), text: words.highZ },
            ]}
            onPick={(value) => {
              sayMeter(Number(value));
              // What was read by the one, or is being read, is no reading by the other.
              put({ value: typed.shown?.text === typed.value ? "" : typed.value, shown: null });
            }}
          />
        )}
        <Switches
          box={box}
          switches={typed.switches}
          positions={choices.positions}
          onChange={(switches) => put({ switches })}
        />
        <QuantityEntry
          name={QUANTITIES[typed.kind]}
          label={words.value}
          typed={quantity}
          inputRef={field}
          hint={words.valueHint[typed.kind]}
          error={isWrong && typed.value.trim() === "" ? words.notAValue : undefined}
          isWord={(text) => text === typed.shown?.text || (typed.kind === "continuity" && isOpenWord(text))}
          onTyped={(next) => {
            setConfirmed(next);
            put({ value: next.text });
          }}
          onEnter={keepReading}
        />
      </div>
      <p className="form-buttons">
        <button type="button" className="solid" onClick={keepReading}>
          {words.keep}
        </button>
        {thereIsMeter && (
          <button type="button" className="outlined" disabled={meter.isPending} onClick={readByMeter}>
            {words.byMeter}
          </button>
        )}
      </p>
      {refused.map((entry) => (
        <div key={entry.id} className="notice wrong" role="alert">
          <span>
            {entry.label}: {entry.refusal?.text}
          </span>
          <button
            type="button"
            className="outlined"
            onClick={() => {
              put(typedFrom(entry, first));
              if (typeof entry.body["meter_r_ohm"] === "number") sayMeter(entry.body["meter_r_ohm"]);
              discard(entry.id);
            }}
          >
            {words.correct}
          </button>
        </div>
      ))}
      {meter.isError && (
        <p className="wrong" role="alert">
          {meter.error.message}
        </p>
      )}
    </section>
  );
}
