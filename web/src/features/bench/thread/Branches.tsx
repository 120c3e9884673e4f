/** What hangs between the ceiling point and neutral. */
import type { CSSProperties } from "react";
import type { Schemas } from "../../../api/client";
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { asFigure, type Fit } from "../draft";
import { useShelf } from "../queries";
import { type Layout, thickness } from "./layout";
import { Spot } from "./Spot";
import { stateWord } from "./words";

const words = texts.thread;

interface Place {
  at: Layout;
  x: number;
  isOpen: boolean;
  onOpen: () => void;
}

const RADIUS = 25;

function sizeOf(fit: Fit): string {
  const { c_f, r_ohm, r_cold_ohm, i_limit_a } = fit.figures;
  const [entry, unit] =
    c_f !== undefined
      ? [c_f, "F"]
      : r_ohm !== undefined
        ? [r_ohm, "Ω"]
        : r_cold_ohm !== undefined
          ? [r_cold_ohm, "Ω"]
          : [i_limit_a, "A"];
  const figure = asFigure(entry);
  return figure ? engineering(figure.typical, unit) : "?";
}

export function BypassBranch({
  at,
  x,
  fit,
  i_a,
  isOpen,
  onOpen,
  place,
}: Place & { fit: Fit | undefined; i_a: number | undefined; place: string }) {
  const middle = (at.lineY + at.neutralY) / 2;
  const named = { name: fit?.label || words.ownFigures, size: fit ? sizeOf(fit) : "", place };
  const label = fit ? say(place ? words.open.bypassAt : words.open.bypass, named) : words.open.noBypass;
  return (
    <Spot label={label} isOpen={isOpen} onOpen={onOpen}>
      <path
        className={fit ? (i_a === undefined ? "flow is-unknown" : "flow") : "absent"}
        style={fit && i_a !== undefined ? { strokeWidth: thickness(i_a) } : undefined}
        d={`M${x} ${at.lineY}V${at.neutralY}`}
      />
      <rect
        className={fit ? "box bypass" : "box is-empty"}
        x={x - 42}
        y={middle - 18}
        width={84}
        height={36}
        rx={3}
      />
      <text className={fit ? "figure strong" : "quiet"} textAnchor="middle" x={x} y={middle + 5}>
        {fit ? sizeOf(fit) : words.drawn.noBypass}
      </text>
      {fit && i_a !== undefined && (
        <text className="figure ember" x={x + 8} y={at.lineY + 20}>
          {engineering(i_a, "A")}
        </text>
      )}
      {fit && (
        <text className="quiet" textAnchor="middle" x={x} y={at.neutralY + 24}>
          {place ? say(words.drawn.bypassAt, { place: shortened(place) }) : words.drawn.bypass}
        </text>
      )}
    </Spot>
  );
}

export function LampBranch({
  at,
  x,
  fit,
  lamp,
  isOpen,
  onOpen,
}: Place & { fit: Fit | undefined; lamp: Schemas["LampResult"] | undefined }) {
  const middle = (at.lineY + at.neutralY) / 2;
  const shelf = useShelf();
  const count = asFigure(fit?.figures["count"])?.typical ?? 1;
  const state = lamp?.state ?? "unknown";
  const shown = Math.min(count, 3);
  const label = fit
    ? say(words.open.lamps, { count, name: fit.label || words.ownFigures, state: stateWord(state) })
    : words.open.noLamps;
  const flashing = lamp?.flash_period_s ? flashes(lamp.flash_period_s) : undefined;
  return (
    <Spot label={label} isOpen={isOpen} onOpen={onOpen}>
      <path
        className={fit ? (lamp ? "flow" : "flow is-unknown") : "absent"}
        style={lamp ? { strokeWidth: thickness(lamp.i_rms_a) } : undefined}
        d={`M${x} ${at.lineY}V${at.neutralY}`}
      />
      {Array.from({ length: shown }, (_, k) => (
        <circle
          key={k}
          className={`lamp is-${fit ? state : "empty"}`}
          style={flashing}
          cx={x + (shown - 1 - k) * 9 - (shown - 1) * 4.5}
          cy={middle}
          r={RADIUS}
        />
      ))}
      <text className={`state is-${state}`} textAnchor="middle" x={x - (shown - 1) * 4.5} y={middle + 5}>
        {fit ? (lamp ? stateWord(state) : "?") : words.drawn.add}
      </text>
      {lamp && (
        <text className="figure ember" x={x + 8} y={at.lineY + 20}>
          {engineering(lamp.i_rms_a, "A")}
        </text>
      )}
      <text className="quiet" textAnchor="middle" x={x} y={at.neutralY + 24}>
        {fit ? `${count} × ${shortLabel(fit, shelf.data)}` : words.drawn.lamps}
      </text>
    </Spot>
  );
}

// However fast the lamp blinks, the drawing flashes once a second at most and stops after five: faster or for longer
// it would harm some who look at it. The words beside it tell the true time.
const SHORTEST_FLASH_S = 1;
const FLASHES_FOR_S = 5;

function flashes(period_s: number): CSSProperties {
  const drawn_s = Math.max(SHORTEST_FLASH_S, period_s);
  return {
    animationDuration: `${drawn_s}s`,
    animationIterationCount: Math.max(1, Math.floor(FLASHES_FOR_S / drawn_s)),
  };
}

/** What the part is called on the shelf, without its maker; cut to what fits below it. */
function shortLabel(fit: Fit, shelf: Schemas["Part"][] | undefined): string {
  const name = shelf?.find((part) => part.id === fit.part)?.name ?? fit.label;
  return shortened(name) || words.drawn.lamp;
}

function shortened(name: string): string {
  return name.length > 18 ? `${name.slice(0, 17)}…` : name;
}
