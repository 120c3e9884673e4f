/** Below the half-cycle: where the control conducts, keeps open for its own supply and lets go, and the trims. */
import { texts } from "../../../texts";
import type { Lit } from "./queries";

const words = texts.lit;
const HEIGHT = 24;
const FULL = 180;
// Held so long, that it lets go is not worth a mark.
const SURELY_HELD = 175;

interface Props {
  lit: Lit;
  x: (theta: number) => number;
  top: number;
}

/** From where to where the control conducts in the half-cycle that is drawn. */
function conducts(lit: Lit): [number, number] {
  const picture = lit.picture;
  if (lit.edge === "trailing") return [0, lit.level_deg];
  if (lit.edge === "leading") return [picture?.fired_deg ?? lit.level_deg, picture?.drop_out_deg ?? FULL];
  return [picture?.window_deg ?? 0, FULL];
}

export function CycleStrip({ lit, x, top }: Props) {
  const picture = lit.picture;
  if (!picture) return null;
  const [from, to] = conducts(lit);
  const gap: [number, number] | null =
    lit.edge === "on_off" ? [0, picture.window_deg ?? 0] : picture.gap ? [0, picture.gap.p95 ?? 0] : null;
  const middle = top + 16;
  const holds = lit.edge === "leading" ? picture.holds : null;
  const letsGo = holds && (holds.p05 ?? FULL) < SURELY_HELD ? (holds.p05 ?? 0) : null;
  // Its word stands before the band in which it lets go, that of conducting before that.
  const busyTo = letsGo === null ? to : Math.min(to, letsGo - 18);
  return (
    <g className="cycle-strip">
      <defs>
        <pattern
          id="gap-hatch"
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <path d="M0 0V7" />
        </pattern>
      </defs>
      <rect className="strip-ground" x={x(0)} width={x(FULL)} y={top} height={HEIGHT} />
      <rect
        className="strip-conducts"
        x={x(from)}
        width={Math.max(0, x(to) - x(from))}
        y={top}
        height={HEIGHT}
      />
      {gap && (
        <rect className="strip-gap" x={x(gap[0])} width={x(gap[1]) - x(gap[0])} y={top} height={HEIGHT} />
      )}
      {holds && letsGo !== null && (
        <rect
          className="strip-holds"
          x={x(letsGo)}
          width={Math.max(2, x(Math.min(FULL, holds.p95 ?? 0)) - x(letsGo))}
          y={top}
          height={HEIGHT}
        />
      )}
      {busyTo - from > 24 && (
        <text className="on-ember" x={x((from + busyTo) / 2)} y={middle} textAnchor="middle">
          {words.conducts}
        </text>
      )}
      {gap && x(gap[1]) > 60 && (
        <text className="strip-word is-source" x={x(0) + 4} y={middle}>
          {words.ownSupply}
        </text>
      )}
      {letsGo !== null && (
        <text className="strip-word" x={x(letsGo) - 4} y={middle} textAnchor="end">
          {words.letsGo}
        </text>
      )}
      {picture.marks.map((mark, k) => (
        <g key={mark.name} className="strip-trim">
          <path d={`M${x(mark.theta_deg)} ${top + HEIGHT - 4}V${top + HEIGHT + 7}`} />
          <text
            x={x(mark.theta_deg)}
            y={top + HEIGHT + 19 + (k === 1 ? 15 : 0)}
            textAnchor={mark.theta_deg > 150 ? "end" : mark.theta_deg < 20 ? "start" : "middle"}
          >
            {words.trimNames[mark.name]} {mark.theta_deg.toFixed(0)}°
          </text>
        </g>
      ))}
      {[0, 45, 90, 135, 180].map((theta) => (
        <text
          key={theta}
          className="figure quiet"
          x={x(theta)}
          y={top + HEIGHT + (picture.marks.length > 0 ? 53 : 19)}
          textAnchor={theta === 0 ? "start" : theta === FULL ? "end" : "middle"}
        >
          {theta}°
        </text>
      ))}
    </g>
  );
}
