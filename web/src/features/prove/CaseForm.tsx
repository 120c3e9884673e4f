/** A complaint as it is told: sentences to press, since when, the rhythm where it blinks. */
import { useState } from "react";
import { keep, kept } from "../../app/person";
import { texts } from "../../texts";
import type { Loop } from "../bench/queries";
import { NOTHING, QuantityEntry, type Typed, typedAs, valueOf } from "../quantity/QuantityEntry";
import { type Cases, type NewCase, sendCase } from "./queries";
import { Taps } from "./Taps";

const words = texts.prove.cases;
const WHENS = ["off", "on", "wall", "network"] as const;
// From so many taps on the middle of the times between them stands for the rhythm that is told.
const FEWEST_TAPS = 4;

interface Half {
  told: string[];
  since: string;
  note: string;
}

interface Props {
  loop: Loop;
  cases: Cases;
  symptom: string;
  gang: string;
  onOpened: (id: string) => void;
  onCancel: () => void;
}

/** The middle of the times between taps, as something that is told. */
function middle(taps: readonly number[]): Typed {
  const beats = taps.slice(1).map((at, k) => at - (taps[k] ?? 0));
  const at = beats.toSorted((a, b) => a - b)[Math.floor(beats.length / 2)] ?? 0;
  return typedAs("period", `${at.toFixed(2)} s`);
}

export function CaseForm({ loop, cases, symptom, gang: first, onOpened, onCancel }: Props) {
  // What was half told outlives a reload.
  const key = `case:${loop.id}`;
  const [half, setHalf] = useState<Half>(() => {
    const before = kept<Half>(key) ?? { told: [], since: "", note: "" };
    if (symptom === "" || before.told.includes(symptom)) return before;
    return { ...before, told: [...before.told, symptom] };
  });
  const [gang, setGang] = useState(first);
  const [heard, setHeard] = useState<NewCase["heard"]>(symptom ? "seen" : "told");
  const [period, setPeriod] = useState(NOTHING);
  const [taps, setTaps] = useState<number[]>([]);
  const change = (part: Partial<Half>) => {
    const next = { ...half, ...part };
    setHalf(next);
    keep(key, next);
  };
  const isBlinking = half.told.includes("blink_off");
  const isFine = period.reading.is === "empty" || (valueOf(period) ?? 0) > 0;
  const open = () => {
    const period_s = isBlinking ? valueOf(period) : null;
    const id = sendCase(loop.id, loop.name, {
      gang,
      told: half.told.map((code) => ({ code, period_s: code === "blink_off" ? period_s : null })),
      heard,
      since: half.since.trim(),
      note: half.note.trim(),
    });
    keep(key, null);
    onOpened(id);
  };
  return (
    <form
      className="case-form"
      aria-label={words.new}
      onSubmit={(event) => {
        event.preventDefault();
        if (half.told.length > 0 && isFine) open();
      }}
    >
      <h2>{words.new}</h2>
      {loop.gangs.length > 1 && (
        <label className="field">
          {words.which}
          <select value={gang} onChange={(event) => setGang(event.target.value)}>
            {loop.gangs.map((one) => (
              <option key={one.id} value={one.id}>
                {one.position} {one.name}
              </option>
            ))}
          </select>
        </label>
      )}
      {WHENS.map((at) => (
        <fieldset key={at} className="symptoms">
          <legend>{words.whens[at]}</legend>
          {cases.symptoms
            .filter((one) => one.when === at)
            .map((one) => (
              <label key={one.code} className={half.told.includes(one.code) ? "symptom is-told" : "symptom"}>
                <input
                  type="checkbox"
                  checked={half.told.includes(one.code)}
                  onChange={(event) =>
                    change({
                      told: event.target.checked
                        ? [...half.told, one.code]
                        : half.told.filter((code) => code !== one.code),
                    })
                  }
                />
                {one.text}
              </label>
            ))}
        </fieldset>
      ))}
      {isBlinking && (
        <div className="case-period">
          <QuantityEntry
            name="period"
            label={words.period}
            hint={words.periodHint}
            typed={period}
            error={isFine ? undefined : texts.spread.notAbove}
            onTyped={setPeriod}
          />
          <Taps
            taps={taps}
            onTaps={(next) => {
              setTaps(next);
              if (next.length >= FEWEST_TAPS) setPeriod(middle(next));
            }}
          />
        </div>
      )}
      <label className="field">
        {words.heard}
        <select value={heard} onChange={(event) => setHeard(event.target.value as NewCase["heard"])}>
          <option value="told">{words.heards.told}</option>
          <option value="seen">{words.heards.seen}</option>
        </select>
      </label>
      <label className="field">
        {words.since}
        <input
          value={half.since}
          maxLength={120}
          onChange={(event) => change({ since: event.target.value })}
        />
      </label>
      <label className="field">
        {words.note}
        <input value={half.note} maxLength={500} onChange={(event) => change({ note: event.target.value })} />
      </label>
      <p className="form-buttons">
        <button type="submit" className="solid" disabled={half.told.length === 0 || !isFine}>
          {words.open}
        </button>
        <button
          type="button"
          className="plain"
          onClick={() => {
            keep(key, null);
            onCancel();
          }}
        >
          {texts.make.cancel}
        </button>
      </p>
    </form>
  );
}
