/** One mains cycle with the light on: mains, volts at the lamps, current, and where the control acts. */
import { engineering } from "../../../format";
import { texts } from "../../../texts/en";
import type { Lit } from "./queries";

const words = texts.lit;
const WIDTH = 700;
const V_MIDDLE = 96;
const V_HALF = 70;
const I_MIDDLE = 226;
const I_HALF = 40;
const BOTTOM = 284;

export function HalfCycle({ lit }: { lit: Lit }) {
  const picture = lit.picture;
  if (!picture) return null;
  const isClosing = lit.edge === "on_off";
  const first = picture.theta_deg[0] ?? 0;
  // A cycle begins with its zero crossing; a closing contact is drawn from the moment it closes.
  const angles = picture.theta_deg.map((theta) =>
    isClosing ? theta - first + (theta < first ? 360 : 0) : theta,
  );
  const span = isClosing ? Math.max(...angles, 1) : 360;
  const order = angles.map((_, k) => k).sort((a, b) => (angles[a] ?? 0) - (angles[b] ?? 0));
  const x = (theta: number) => (theta / span) * WIDTH;
  const vTop = Math.max(...picture.v_source_v.map(Math.abs), 1);
  const iTop = Math.max(picture.i_peak_a, 1e-6);
  const line = (values: number[], middle: number, half: number, top: number) =>
    order
      .map((k, n) => {
        const y = middle - Math.max(-1.15, Math.min(1.15, (values[k] ?? 0) / top)) * half;
        return `${n === 0 ? "M" : "L"}${x(angles[k] ?? 0).toFixed(1)} ${y.toFixed(1)}`;
      })
      .join("");
  const marks: [number, string][] = [];
  if (lit.edge === "leading" && picture.fired_deg !== null) marks.push([picture.fired_deg, words.fired]);
  if (lit.edge === "leading" && picture.drop_out_deg !== null)
    marks.push([picture.drop_out_deg, words.letsGo]);
  if (lit.edge === "trailing") marks.push([lit.level_deg, words.turnsOff]);
  return (
    <figure className="half-cycle">
      <svg viewBox={`-4 0 ${WIDTH + 8} 304`} role="img" aria-label={lit.picture_text}>
        <path className="zero" d={`M0 ${V_MIDDLE}H${WIDTH}M0 ${I_MIDDLE}H${WIDTH}`} />
        <path className="wave-source" d={line(picture.v_source_v, V_MIDDLE, V_HALF, vTop)} />
        <path className="wave-lamp" d={line(picture.v_lamp_v, V_MIDDLE, V_HALF, vTop)} />
        <path className="wave-current" d={line(picture.i_line_a, I_MIDDLE, I_HALF, iTop)} />
        {marks.map(([theta, name]) => (
          <g key={name} className="cycle-mark">
            <path d={`M${x(theta)} 16V${BOTTOM}`} />
            <text x={x(theta) + 5} y={name === words.letsGo ? 30 : 14}>
              {name} {theta.toFixed(0)}°
            </text>
          </g>
        ))}
        <text className="wave-word is-source" x={WIDTH} textAnchor="end" y={V_MIDDLE - V_HALF + 2}>
          {words.source} {engineering(vTop, "V")}
        </text>
        <text className="wave-word is-lamp" x={WIDTH} textAnchor="end" y={V_MIDDLE - V_HALF + 20}>
          {words.lamp} {engineering(picture.lamp_v_rms, "V")} rms
        </text>
        <text className="wave-word is-current" x={WIDTH} textAnchor="end" y={I_MIDDLE - I_HALF - 6}>
          {words.current} {engineering(picture.i_peak_a, "A")} {words.peak}
        </text>
        {[0, 90, 180, 270, 360]
          .filter((theta) => theta <= span)
          .map((theta) => (
            <text
              key={theta}
              className="figure quiet"
              x={x(theta)}
              y={BOTTOM + 16}
              textAnchor={theta === 0 ? "start" : theta === 360 ? "end" : "middle"}
            >
              {theta}°
            </text>
          ))}
      </svg>
      <figcaption>{lit.picture_text}</figcaption>
    </figure>
  );
}
