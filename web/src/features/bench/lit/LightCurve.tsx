/** Light over conduction of each lamp type, the worst with its band; drop-out, pop-on and the proposed trims. */
import { say, texts } from "../../../texts";
import type { Lit } from "./queries";

const words = texts.lit;
const WIDTH = 700;
const TOP = 44;
const BOTTOM = 190;

export function LightCurve({ curve }: { curve: NonNullable<Lit["curve"]> }) {
  const x = (gamma: number) => (gamma / 180) * WIDTH;
  const y = (light: number) => BOTTOM - light * (BOTTOM - TOP);
  const path = (values: number[]) =>
    values.map((light, k) => `${k === 0 ? "M" : "L"}${x(curve.gamma_deg[k] ?? 0)} ${y(light)}`).join("");
  const worst = curve.groups[curve.worst];
  if (!worst) return null;
  const band = `${path(worst.high)}${worst.low
    .map((light, k) => `L${x(curve.gamma_deg[k] ?? 0)} ${y(light)}`)
    .reverse()
    .join("")}Z`;
  const others = curve.groups.filter((group) => group.group !== worst.group);
  const span = (found: { p05: number | null; p95: number | null }) => ({
    x: x(found.p05 ?? 0),
    width: x(found.p95 ?? 0) - x(found.p05 ?? 0),
  });
  const goesOut = (curve.drop_out_deg.p95 ?? 0) > 1;
  const trims: [number, string, number][] = [
    [curve.least_deg, words.least, 14],
    [curve.start_deg, words.start, 32],
    [curve.most_deg, words.top, 14],
  ];
  return (
    <figure className="light-curve">
      <svg viewBox={`-4 0 ${WIDTH + 8} 236`} role="img" aria-label={curve.text}>
        <rect
          className="usable"
          x={x(curve.least_deg)}
          width={Math.max(0, x(curve.most_deg) - x(curve.least_deg))}
          y={BOTTOM + 3}
          height={6}
        />
        {goesOut && <rect className="span-out" {...span(curve.drop_out_deg)} y={TOP} height={BOTTOM - TOP} />}
        {goesOut && <rect className="span-on" {...span(curve.pop_on_deg)} y={TOP} height={BOTTOM - TOP} />}
        <path className="light-band" d={band} />
        {others.map((group) => (
          <g key={group.group}>
            <path className="light-other" d={path(group.middle)} />
            <text className="wave-word" x={x(118)} y={y(group.middle[26] ?? 0) - 6} textAnchor="end">
              {say(words.group, { group: group.group })}
            </text>
          </g>
        ))}
        <path className="light-line" d={path(worst.middle)} />
        <path className="axis" d={`M0 ${BOTTOM}H${WIDTH}`} />
        {trims.map(([gamma, name, at]) => (
          <g key={name} className="cycle-mark">
            <path d={`M${x(gamma)} ${at + 4}V${BOTTOM}`} />
            <text x={x(gamma) + (gamma > 150 ? -5 : 5)} y={at} textAnchor={gamma > 150 ? "end" : "start"}>
              {name} {gamma.toFixed(0)}°
            </text>
          </g>
        ))}
        {goesOut && (
          <>
            <text
              className="wave-word"
              x={x(curve.drop_out_deg.p05 ?? 0) - 4}
              y={BOTTOM - 8}
              textAnchor="end"
            >
              {words.out}
            </text>
            <text className="wave-word" x={x(curve.pop_on_deg.p95 ?? 0) + 4} y={BOTTOM - 8}>
              {words.popOn}
            </text>
          </>
        )}
        {[0, 45, 90, 135, 180].map((gamma) => (
          <text
            key={gamma}
            className="figure quiet"
            x={x(gamma)}
            y={BOTTOM + 24}
            textAnchor={gamma === 0 ? "start" : gamma === 180 ? "end" : "middle"}
          >
            {gamma}°
          </text>
        ))}
        <text className="quiet" x={WIDTH} y={BOTTOM + 42} textAnchor="end">
          {words.conduction}
        </text>
      </svg>
      <figcaption>{curve.text}</figcaption>
      <ul className="trim-list">
        {curve.trims.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </figure>
  );
}
