/** The working window of a capacitor on a log axis: what fails below, what limits above, what is fitted. */
import type { Schemas } from "../../../api/client";
import { engineering } from "../../../format";
import { texts } from "../../../texts/en";
import { asFigure, type Fit } from "../draft";

const words = texts.choose;
const AXIS = { low: 1e-8, high: 1e-6 };
const TICKS_F = [1e-8, 2.2e-8, 4.7e-8, 1e-7, 2.2e-7, 4.7e-7, 1e-6];
const WIDTH = 700;
const TOP = 26;
const BOTTOM = 112;

function x(c_f: number): number {
  const share = Math.log(c_f / AXIS.low) / Math.log(AXIS.high / AXIS.low);
  return Math.min(1, Math.max(0, share)) * WIDTH;
}

interface Props {
  window: Schemas["BypassWindow"];
  bypasses: readonly Fit[];
}

export function WindowStrip({ window, bypasses }: Props) {
  const low = window.works ? x(window.low ?? AXIS.low) : WIDTH;
  const high = window.works ? x(window.high ?? AXIS.high) : WIDTH;
  const below = words.below[window.lower_reason] ?? window.lower_reason;
  const fitted = bypasses.flatMap((fit) => {
    const figure = asFigure(fit.figures["c_f"]);
    return figure ? [figure.typical] : [];
  });
  const said = window.works
    ? `${words.capacitor}: ${words.from} ${engineering(window.low ?? 0, "F")} ${words.to} ${engineering(window.high ?? 0, "F")}; ${window.lower_text}; ${window.upper_text}.`
    : window.text;
  return (
    <figure className="window-strip">
      <svg viewBox={`-4 0 ${WIDTH + 8} 146`} role="img" aria-label={said}>
        <defs>
          <pattern id="window-dots" width={8} height={8} patternUnits="userSpaceOnUse">
            <circle className="dot" cx={3} cy={3} r={1.4} />
          </pattern>
          <pattern
            id="window-hatch"
            width={9}
            height={9}
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <path className="hatch" d="M2 0V9" />
          </pattern>
        </defs>
        <rect
          className={`zone zone-${window.lower_reason}`}
          x={0}
          y={TOP}
          width={low}
          height={BOTTOM - TOP}
        />
        <rect
          className="zone zone-works"
          x={low}
          y={TOP}
          width={Math.max(0, high - low)}
          height={BOTTOM - TOP}
        />
        <rect className="zone zone-above" x={high} y={TOP} width={WIDTH - high} height={BOTTOM - TOP} />
        {low > 70 && below && (
          <text className="zone-word" x={10} y={TOP + 22}>
            {below}
          </text>
        )}
        {high - low > 90 && (
          <text className="zone-word is-dark" x={low + 10} y={TOP + 22}>
            {words.works}
          </text>
        )}
        {WIDTH - high > 120 && (
          <text className="zone-word" x={high + 10} y={TOP + 22}>
            {words.above}
          </text>
        )}
        <path className="axis" d={`M0 ${BOTTOM}H${WIDTH}`} />
        {TICKS_F.map((c_f, k) => (
          <g key={c_f}>
            <path className="axis" d={`M${x(c_f)} ${BOTTOM}v6`} />
            <text
              className="figure quiet"
              textAnchor={k === 0 ? "start" : k === TICKS_F.length - 1 ? "end" : "middle"}
              x={x(c_f)}
              y={BOTTOM + 24}
            >
              {engineering(c_f, "F")}
            </text>
          </g>
        ))}
        {fitted.map((c_f, k) => (
          <path key={k} className="fitted" d={`M${x(c_f)} ${BOTTOM}V14l-7 -10h14l-7 10`} />
        ))}
      </svg>
      <figcaption>{said}</figcaption>
    </figure>
  );
}
