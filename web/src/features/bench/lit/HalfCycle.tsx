/** One half-cycle with the light on: mains, volts at the lamps, current against what the control stands, and a strip
 * that says where it conducts, feeds itself and lets go. The level can be dragged. */
import { type PointerEvent, useRef } from "react";
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { CycleStrip } from "./CycleStrip";
import type { Band, Lit } from "./queries";

const words = texts.lit;
export const WIDTH = 700;
const V_ZERO = 150;
const V_HALF = 118;
const I_ZERO = 286;
const I_HALF = 96;
const I_BELOW = 22;
const STRIP = 322;
const BOTTOM = 402;
// Of what the control stands, so much of the peak is still worth drawing to scale.
const NEAR = 2.5;

interface Props {
  lit: Lit;
  band: Band | undefined;
  level: number;
  onLevel: (level: number) => void;
}

export function HalfCycle({ lit, band, level, onLevel }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const isDragged = useRef(false);
  const picture = lit.picture;
  if (!picture) return null;
  const isClosing = lit.edge === "on_off" && lit.view === "closing";
  const first = picture.theta_deg[0] ?? 0;
  // A half-cycle begins with its zero crossing; a closing contact is drawn from the moment it closes.
  const along = (theta: number) => (isClosing ? theta - first + (theta < first ? 360 : 0) : theta);
  const span = isClosing ? 180 - (first % 180) : 180;
  const x = (theta: number) => (theta / span) * WIDTH;
  const order = (angles: number[]) =>
    angles
      .map((_, k) => k)
      .filter((k) => along(angles[k] ?? 0) <= span)
      .sort((a, b) => along(angles[a] ?? 0) - along(angles[b] ?? 0));
  const vTop = Math.max(...picture.v_source_v.map(Math.abs), 1);
  const allowed = picture.peak_allowed_a;
  const iHigh = Math.max(picture.i_peak_a, ...(band?.i_high_a ?? [0]), 1e-6);
  const iTop = allowed !== null && allowed > iHigh && allowed < NEAR * iHigh ? allowed : iHigh;
  const at = (value: number, zero: number, half: number, top: number, below: number) =>
    zero - Math.max(-below / half, Math.min(1.08, value / top)) * half;
  const line = (angles: number[], values: number[], zero: number, half: number, top: number, below = 0) =>
    order(angles)
      .map(
        (k, n) =>
          `${n === 0 ? "M" : "L"}${x(along(angles[k] ?? 0)).toFixed(1)} ${at(values[k] ?? 0, zero, half, top, below).toFixed(1)}`,
      )
      .join("");
  const area = (low: number[], high: number[], zero: number, half: number, top: number, below = 0) => {
    if (!band) return "";
    const back = line([...band.theta_deg], low, zero, half, top, below)
      .slice(1)
      .split("L")
      .reverse();
    return `${line(band.theta_deg, high, zero, half, top, below)}L${back.join("L")}Z`;
  };
  const drag = (event: PointerEvent<SVGElement>) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || !isDragged.current || isClosing) return;
    const theta = (((event.clientX - box.left) / box.width) * (WIDTH + 8) - 4) / (WIDTH / 180);
    onLevel(Math.round(Math.max(10, Math.min(170, theta))));
  };
  const isDimming = lit.edge !== "on_off";
  const handle = isDimming ? x(level) : null;
  return (
    <figure className="half-cycle">
      <svg
        ref={svg}
        viewBox={`-4 0 ${WIDTH + 8} ${isClosing ? 320 : BOTTOM}`}
        role="img"
        aria-label={lit.picture_text}
        onPointerMove={drag}
        onPointerUp={() => (isDragged.current = false)}
        onPointerLeave={() => (isDragged.current = false)}
      >
        {band && (
          <>
            <path className="band-lamp" d={area(band.v_low_v, band.v_high_v, V_ZERO, V_HALF, vTop)} />
            <path
              className="band-current"
              d={area(band.i_low_a, band.i_high_a, I_ZERO, I_HALF, iTop, I_BELOW)}
            />
          </>
        )}
        <path className="zero" d={`M0 ${V_ZERO}H${WIDTH}M0 ${I_ZERO}H${WIDTH}`} />
        <path className="wave-source" d={line(picture.theta_deg, picture.v_source_v, V_ZERO, V_HALF, vTop)} />
        <path className="wave-lamp" d={line(picture.theta_deg, picture.v_lamp_v, V_ZERO, V_HALF, vTop)} />
        {allowed !== null && allowed <= iTop && (
          <path className="allowed" d={`M0 ${at(allowed, I_ZERO, I_HALF, iTop, 0)}H${WIDTH}`} />
        )}
        <path
          className="wave-current"
          d={line(picture.theta_deg, picture.i_line_a, I_ZERO, I_HALF, iTop, I_BELOW)}
        />
        <text className="wave-word is-source" x={WIDTH} textAnchor="end" y={26}>
          {words.source} {engineering(vTop, "V")}
        </text>
        <text className="wave-word is-lamp" x={WIDTH} textAnchor="end" y={45}>
          {words.lamp} {engineering(picture.lamp_v_rms, "V")} {words.rms}
        </text>
        <text className="wave-word is-current" x={0} y={I_ZERO - I_HALF - 6}>
          {words.current} {engineering(picture.i_peak_a, "A")} {words.peak}
          {allowed !== null && `, ${say(words.stands, { amperes: engineering(allowed, "A") })}`}
        </text>
        {!isClosing && <CycleStrip lit={lit} x={x} top={STRIP} />}
        {handle !== null && (
          <g
            className="level-handle"
            onPointerDown={(event) => {
              isDragged.current = true;
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
          >
            <rect x={handle - 24} y={8} width={48} height={I_ZERO - 8} />
            <path d={`M${handle} 18V${I_ZERO}`} />
            <circle cx={handle} cy={V_ZERO} r={11} />
            <path
              className="grip"
              d={`M${handle - 4} ${V_ZERO - 5}V${V_ZERO + 5}M${handle + 4} ${V_ZERO - 5}V${V_ZERO + 5}`}
            />
            <text x={handle + (level > 140 ? -8 : 8)} y={16} textAnchor={level > 140 ? "end" : "start"}>
              {lit.edge === "leading" ? words.fired : words.turnsOff} {level}°
            </text>
          </g>
        )}
        {isClosing &&
          [0, 90, 180, 270]
            .filter((theta) => theta <= span)
            .map((theta) => (
              <text
                key={theta}
                className="figure quiet"
                x={x(theta)}
                y={I_ZERO + 30}
                textAnchor={theta > 0.9 * span ? "end" : "start"}
              >
                {theta}°
              </text>
            ))}
      </svg>
      <figcaption>
        {lit.picture_text} {band?.text}
      </figcaption>
    </figure>
  );
}
