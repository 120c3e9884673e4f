/** One reading: typed by hand or taken by the meter, then kept. What is typed survives a reload. */
import { useEffect, useId, useState } from "react";
import { readQuantity } from "../../format";
import { texts } from "../../texts/en";
import { FieldMore, Pick } from "./fields";
import { type Proposal, useReadMeter } from "./queries";
import type { StepProps } from "./stepProps";
import { Switches, type SwitchPositions } from "./Switches";

const words = texts.survey.conductors;
const LOW_IMPEDANCE_OHM = 4e5;
const HIGH_IMPEDANCE_OHM = 1e7;

interface Typed {
  a: string;
  b: string;
  kind: "volts" | "continuity";
  value: string;
  meter_r_ohm: number;
  switches: SwitchPositions;
  origin: "typed" | "meter";
}

const keyOf = (loop: string) => `ember-reading-${loop}`;

function keptOn(loop: string, first: Typed): Typed {
  try {
    return { ...first, ...(JSON.parse(localStorage.getItem(keyOf(loop)) ?? "{}") as Partial<Typed>) };
  } catch {
    return first;
  }
}

/** "231 V", "0.3", "open": as a value of its kind; null when it is none. */
function readValue(typed: Typed): { v?: number; r_ohm?: number; is_open?: boolean } | null {
  if (typed.kind === "continuity" && /^\s*(open|ol|∞)\s*$/i.test(typed.value)) return { is_open: true };
  const value = readQuantity(typed.value, typed.kind === "volts" ? "V" : "Ω");
  if (value === null) return null;
  return typed.kind === "volts" ? { v: value } : { r_ohm: value };
}

export function ReadingForm({
  survey,
  draft,
  choices,
  outbox,
  wanted,
}: StepProps & { wanted: Proposal | null }) {
  const { box } = draft.doc;
  const isIsolated = survey.isolations.some((entry) => entry.is_open);
  const first: Typed = {
    a: box.conductors[0]?.id ?? "",
    b: "known_earth",
    kind: isIsolated ? "continuity" : "volts",
    value: "",
    meter_r_ohm: LOW_IMPEDANCE_OHM,
    switches: {},
    origin: "typed",
  };
  const [typed, setTyped] = useState<Typed>(() => keptOn(survey.loop, first));
  const [isWrong, setWrong] = useState(false);
  const valueId = useId();
  const [sent, setSent] = useState<string | null>(null);
  const meter = useReadMeter(survey.loop);
  const put = (part: Partial<Typed>) => {
    setWrong(false);
    setTyped((now) => {
      const next = { ...now, ...part };
      localStorage.setItem(keyOf(survey.loop), JSON.stringify(next));
      return next;
    });
  };
  useEffect(() => {
    if (wanted === null) return;
    put({
      a: wanted.a,
      b: wanted.b,
      kind: wanted.supply_on ? "volts" : "continuity",
      meter_r_ohm: wanted.meter_r_ohm ?? LOW_IMPEDANCE_OHM,
      switches: wanted.switches as Typed["switches"],
      value: "",
    });
    // Each press of "take this reading" makes a new object.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted]);
  // Cleared only when the server has it, so that a refused reading can be corrected.
  const isKept = sent !== null && survey.readings.some((entry) => entry.id === sent);
  useEffect(() => {
    if (!isKept) return;
    setSent(null);
    put({ value: "", origin: "typed" });
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isKept]);

  const keep = () => {
    const value = readValue(typed);
    if (value === null) return setWrong(true);
    const id = crypto.randomUUID();
    setSent(id);
    const { a, b, switches, origin } = typed;
    const isVolts = typed.kind === "volts";
    return outbox.send({
      kind: "reading",
      body: {
        ...{ id, a, b, switches, origin, ...value },
        supply_on: isVolts,
        meter_r_ohm: isVolts ? typed.meter_r_ohm : null,
      },
    });
  };
  const readByMeter = () =>
    meter.mutate(
      {
        function: typed.kind,
        a: typed.a,
        b: typed.b,
        meter_r_ohm: typed.meter_r_ohm,
        switches: typed.switches,
      },
      {
        onSuccess: (shown) =>
          put({
            value: shown.is_open ? "open" : typed.kind === "volts" ? `${shown.v} V` : `${shown.r_ohm} Ω`,
            origin: "meter",
          }),
      },
    );
  const ends = box.conductors.map((entry) => ({ value: entry.id, text: entry.id }));
  const lamps = box.gangs.map((_, k) => ({
    value: `known_lamp_${k + 1}`,
    text: `lampholder, ${texts.survey.box.gang(k + 1).toLowerCase()}`,
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
            value={String(typed.meter_r_ohm)}
            choices={[
              { value: String(LOW_IMPEDANCE_OHM), text: words.lowZ },
              { value: String(HIGH_IMPEDANCE_OHM), text: words.highZ },
            ]}
            onPick={(value) => put({ meter_r_ohm: Number(value) })}
          />
        )}
        <Switches
          box={box}
          switches={typed.switches}
          positions={choices.positions}
          onChange={(switches) => put({ switches })}
        />
        <div className={`field${isWrong ? " is-wrong" : ""}`}>
          <label htmlFor={valueId}>{words.value}</label>
          <input
            id={valueId}
            className="figure"
            value={typed.value}
            placeholder={words.valueHint[typed.kind]}
            aria-invalid={isWrong || undefined}
            aria-describedby={`${valueId}-more`}
            onChange={(event) => put({ value: event.target.value, origin: "typed" })}
            onKeyDown={(event) => event.key === "Enter" && keep()}
          />
          <FieldMore id={`${valueId}-more`} text={isWrong ? words.notAValue : undefined} />
        </div>
      </div>
      <p className="form-buttons">
        <button type="button" className="solid" onClick={keep}>
          {words.keep}
        </button>
        <button type="button" className="outlined" disabled={meter.isPending} onClick={readByMeter}>
          {words.byMeter}
        </button>
      </p>
      {meter.isError && (
        <p className="wrong" role="alert">
          {meter.error.message}
        </p>
      )}
    </section>
  );
}
