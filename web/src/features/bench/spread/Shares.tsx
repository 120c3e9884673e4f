/** Shares of each state, margins, and the figures that decide; of plain samples or of weighted ones. */
import { engineering, significant } from "../../../format";
import { say, texts } from "../../../texts";
import type { Spread } from "./queries";
import { ShareBar } from "./ShareBar";

const words = texts.spread;
const times = (value: number | null) =>
  value === null || value > 99 ? say(words.over, { limit: 99 }) : significant(value);

interface SharesProps {
  spread: Omit<Spread, "disturbance" | "leakage"> & Partial<Spread>;
  isWeighted?: boolean;
}

export function Shares({ spread, isWeighted = false }: SharesProps) {
  const samples = isWeighted ? undefined : spread.samples;
  const blinks = spread.lamps.some((lamp) => (lamp.shares["blink"] ?? 0) > 0);
  const span = (found: Spread["lamp_v_rms"], unit: string) =>
    `${engineering(found.p05 ?? 0, unit)} ${words.to} ${engineering(found.p95 ?? 0, unit)}`;
  return (
    <>
      <p className="sure-lead">
        <b>{spread.title}.</b> {spread.text}
      </p>
      {spread.ended && (
        <p className="wrong" role="status">
          {spread.ended}
        </p>
      )}
      {spread.lamps.map((lamp, k) => (
        <ShareBar
          key={k}
          name={say(words.lamps, { group: k + 1 })}
          shares={lamp.shares}
          samples={samples}
          more={marginOf(lamp.margin)}
        />
      ))}
      {spread.control && <ShareBar name={words.control} shares={spread.control} samples={samples} />}
      {spread.deciding.length > 0 && (
        <>
          <h3>{words.deciding}</h3>
          <ol className="deciding">
            {spread.deciding.map((figure) => (
              <li key={figure.path}>
                <span>
                  {figure.label} {figure.where}
                  <small>
                    {figure.range || figure.value} · {texts.parts.sources[figure.source]}
                  </small>
                </span>
                <b>{words.strength[strengthOf(Math.abs(figure.correlation))]}</b>
              </li>
            ))}
          </ol>
        </>
      )}
      <p>
        {blinks ? words.readsWaiting : words.reads} <b className="figure">{span(spread.lamp_v_rms, "V")}</b>,{" "}
        {words.current} <b className="figure">{span(spread.line_i_rms_a, "A")}</b>.{" "}
        {spread.failed > 0 && say(words.failed, { count: spread.failed })}
      </p>
      {spread.disturbance && <p>{spread.disturbance.text}</p>}
    </>
  );
}

function strengthOf(correlation: number): keyof typeof words.strength {
  if (correlation > 0.7) return "strongly";
  return correlation > 0.45 ? "clearly" : "little";
}

/** How far from light: times to spare, or times too much where it shows already. */
function marginOf({ p05, p50 }: { p05: number | null; p50: number | null }): string {
  const over = (value: number | null) => times(value === null || value <= 0 ? null : 1 / value);
  if (p05 === null || p05 >= 1) return say(words.margin, { low: times(p05), middle: times(p50) });
  if (p50 === null || p50 >= 1) return say(words.tooMuchAtWorst, { low: over(p05), middle: times(p50) });
  return say(words.tooMuch, { low: over(p05), middle: over(p50) });
}
