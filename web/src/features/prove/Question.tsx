/** What to find out next, large, with its answers; and the other things that could be found out. */
import { useEffect, useState } from "react";
import { keep, kept } from "../../app/person";
import { engineering } from "../../format";
import { say, texts } from "../../texts";
import { NOTHING, QuantityEntry, type Typed, typedValue, valueOf } from "../quantity/QuantityEntry";
import { quantityName } from "../quantity/usual";
import { type Case, type NewEvidence, type NextTest, sendEvidence } from "./queries";
import { type LampRead, MeterButton } from "./MeterButton";
import { Taps } from "./Taps";

const words = texts.prove.cases;
// A press that was meant for the question before must not answer this one.
const REST_MS = 600;
const NAMES: Record<string, string> = { v_rms: "lamp_v", i_a: "line_i", period_s: "period", c_f: "c_f" };

interface Props {
  one: Case;
  loopName: string;
  tests: readonly NextTest[];
  isShut: boolean;
}

export function Question({ one, loopName, tests, isShut }: Props) {
  const at = `question:${one.id}`;
  const [chosen, setChosen] = useState(() => kept<string>(at));
  const choose = (code: string | null) => {
    keep(at, code);
    setChosen(code);
  };
  const test = tests.find((entry) => entry.code === chosen) ?? tests[0];
  if (test === undefined) return <p className="notice">{words.noNext}</p>;
  return (
    <>
      <Asked
        key={test.code}
        one={one.id}
        gang={one.gang}
        test={test}
        isShut={isShut}
        onFound={(found) => {
          sendEvidence(one, loopName, test, found);
          choose(null);
        }}
      />
      {tests.length > 1 && (
        <details className="other-tests">
          <summary>{words.others}</summary>
          <ul>
            {tests
              .filter((entry) => entry.code !== test.code)
              .map((entry) => (
                <li key={entry.code}>
                  <button type="button" className="outlined" onClick={() => choose(entry.code)}>
                    <span>{entry.title}</span>
                    <small>
                      {say(words.minutes, { minutes: Math.round(entry.minutes) })} ·{" "}
                      {say(words.gain, { bits: entry.gain_bits.toFixed(1) })}
                    </small>
                  </button>
                </li>
              ))}
          </ul>
        </details>
      )}
    </>
  );
}

interface AskedProps {
  one: string;
  gang: string;
  test: NextTest;
  isShut: boolean;
  onFound: (found: NewEvidence) => void;
}

function Asked({ one, gang, test, isShut, onFound }: AskedProps) {
  const name = `question:${one}:${test.code}`;
  const [typed, setTyped] = useState(() => kept<Typed>(name) ?? NOTHING);
  // Half a value outlives a reload.
  useEffect(() => keep(name, typed.text === "" ? null : typed), [name, typed]);
  const [taps, setTaps] = useState<number[]>([]);
  const [since] = useState(() => performance.now());
  const found = (what: NewEvidence) => {
    if (performance.now() - since < REST_MS) return;
    keep(name, null);
    onFound(what);
  };
  const value = valueOf(typed);
  const beats = taps.slice(1).map((at, k) => at - (taps[k] ?? 0));
  const tapped = beats.toSorted((a, b) => a - b)[Math.floor(beats.length / 2)];
  const taken = test.key === "period_s" && beats.length >= 3 ? tapped : value;
  return (
    <article className="fit-card question" aria-label={test.title}>
      <p className="fit-stage">
        {words.next} · {say(words.minutes, { minutes: Math.round(test.minutes) })} ·{" "}
        {say(words.gain, { bits: test.gain_bits.toFixed(1) })}
      </p>
      <h2>{test.title}</h2>
      {test.how && <p className="fit-text">{test.how}</p>}
      {test.danger_text && <p className="caution-line">⚠ {test.danger_text}</p>}
      {isShut && (test.power === "on" || test.power === "both") && (
        <p className="notice">{words.isolatedNow}</p>
      )}
      {test.key === "" ? (
        <div className="fit-do">
          {test.outcomes.map((outcome) => (
            <button
              key={outcome.code}
              type="button"
              className="outlined"
              onClick={() => found({ outcome: outcome.code })}
            >
              {outcome.text}
            </button>
          ))}
        </div>
      ) : (
        <div className="question-value">
          {test.key === "period_s" && <Taps taps={taps} onTaps={setTaps} />}
          <QuantityEntry
            name={quantityName(NAMES[test.key] ?? "lamp_v")}
            label={words.value}
            hint={
              test.low !== null && test.high !== null
                ? say(words.expected, {
                    low: engineering(test.low, test.unit),
                    high: engineering(test.high, test.unit),
                  })
                : undefined
            }
            typed={typed}
            onTyped={setTyped}
          />
          {(test.key === "v_rms" || test.key === "i_a") && test.code !== "supply_v" && (
            <MeterButton
              key={test.code}
              gang={gang}
              read={test.code as LampRead}
              onValue={(read) => setTyped(typedValue(read, test.unit))}
            />
          )}
          <button
            type="button"
            className="solid"
            disabled={taken === null || taken === undefined || taken <= 0}
            onClick={() => found({ value: taken ?? 0, meter_r_ohm: test.meter_r_ohm })}
          >
            {words.take}
          </button>
        </div>
      )}
      <div className="fit-do">
        {test.others.map((other) => (
          <button
            key={other.code}
            type="button"
            className="plain"
            onClick={() => found({ outcome: other.code })}
          >
            {other.text}
          </button>
        ))}
      </div>
    </article>
  );
}
