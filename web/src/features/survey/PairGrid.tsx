/** Proving dead: every conductor to earth and to each other, typed or read by the meter. */
import { useState } from "react";
import { significant } from "../../format";
import { texts } from "../../texts/en";
import { type Isolation, useReadMeter } from "./queries";
import type { StepProps } from "./stepProps";

const words = texts.survey.safe;
const LOW_IMPEDANCE_OHM = 4e5;

export function PairGrid({ isolation, outbox, survey, mayEdit }: StepProps & { isolation: Isolation }) {
  const meter = useReadMeter(survey.loop);
  const [isReading, setReading] = useState(false);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const send = (pairs: { a: string; b: string; v: number }[]) =>
    outbox.send({ kind: "tests", isolation: isolation.id, tests: pairs });
  const readAll = async () => {
    setReading(true);
    try {
      const found: { a: string; b: string; v: number }[] = [];
      for (const pair of isolation.pairs.filter((entry) => entry.v === null)) {
        const value = await meter.mutateAsync({
          function: "volts",
          a: pair.a,
          b: pair.b,
          meter_r_ohm: LOW_IMPEDANCE_OHM,
        });
        if (value.v !== null) found.push({ a: pair.a, b: pair.b, v: value.v });
      }
      if (found.length > 0) send(found);
    } catch {
      // The refusal is shown below; what was read before it is read again.
    }
    setReading(false);
  };
  if (isolation.pairs.length === 0) return <p className="quiet">{words.noConductor}</p>;
  const keep = (key: string, a: string, b: string) => {
    const value = Number((typed[key] ?? "").replace(",", ".").replace(/v$/i, ""));
    if ((typed[key] ?? "").trim() === "" || !Number.isFinite(value) || value < 0) return;
    send([{ a, b, v: value }]);
    setTyped((now) => Object.fromEntries(Object.entries(now).filter(([name]) => name !== key)));
  };
  return (
    <>
      <h3>{words.pairs}</h3>
      <p className="quiet">{words.pairsHint(isolation.dead_limit_v)}</p>
      <ul className="pairs">
        {isolation.pairs.map((pair) => {
          const key = `${pair.a}-${pair.b}`;
          const isLive = pair.v !== null && pair.v > isolation.dead_limit_v;
          return (
            <li key={key} className={isLive ? "is-live" : pair.v === null ? "" : "is-proved"}>
              <label>
                <span>{pair.text}</span>
                <input
                  className="figure"
                  inputMode="decimal"
                  disabled={!mayEdit}
                  value={typed[key] ?? (pair.v === null ? "" : significant(pair.v, 2))}
                  onChange={(event) => setTyped({ ...typed, [key]: event.target.value })}
                  onBlur={() => keep(key, pair.a, pair.b)}
                  onKeyDown={(event) => event.key === "Enter" && keep(key, pair.a, pair.b)}
                />
                <b>{isLive ? words.live : pair.v === null ? "" : "✓"}</b>
              </label>
            </li>
          );
        })}
      </ul>
      {mayEdit && (
        <button type="button" className="outlined add" disabled={isReading} onClick={() => void readAll()}>
          {words.readAll}
        </button>
      )}
      {meter.isError && (
        <p className="wrong" role="alert">
          {meter.error.message}
        </p>
      )}
    </>
  );
}
