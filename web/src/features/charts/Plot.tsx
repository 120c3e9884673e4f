/** Lines over one axis, in one or more panes below each other; what they show is also said in words. */
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { type PointerEvent, useState } from "react";
import { engineering, scaleText } from "../../format";
import { say, texts } from "../../texts";
import "./charts.css";
import { useWidth } from "./useWidth";

type Tone = "ember" | "steel" | "verdigris" | "plum";

interface Line {
  name: string;
  values: readonly number[];
  tone: Tone;
  isHeavy?: boolean;
  isDashed?: boolean;
}

interface Pane {
  unit: string;
  height: number;
  lines: readonly Line[];
  /** What the lines reach over the ranges. */
  band?: { name: string; low: readonly number[]; high: readonly number[]; x: readonly number[] } | undefined;
  /** Values that matter, drawn across. */
  levels?: readonly { value: number; name: string }[];
  /** A point that matters. */
  spot?: { x: number; y: number; name: string } | null;
  isFromZero?: boolean;
}

interface Props {
  x: readonly number[];
  xText: (value: number) => string;
  /** Shorter, for the scale; as `xText` where it is not given. */
  xScale?: (value: number) => string;
  panes: readonly Pane[];
  /** Moments drawn as bars through every pane. */
  moments?: readonly number[];
  words: string;
}

const LEFT = 70;
const RIGHT = 78;
const TOP = 10;
const GAP = 22;
const AXIS = 26;
// One label of the horizontal axis needs so much room.
const LABEL_WIDTH = 90;

function extent(pane: Pane): [number, number] {
  const values = [
    ...pane.lines.flatMap((entry) => entry.values),
    ...(pane.band ? [...pane.band.low, ...pane.band.high] : []),
    ...(pane.levels ?? []).map((level) => level.value),
    ...(pane.isFromZero ? [0] : []),
  ];
  return values.reduce<[number, number]>(
    ([low, high], value) => [Math.min(low, value), Math.max(high, value)],
    [Infinity, -Infinity],
  );
}

export function Plot({ x, xText, xScale = xText, panes, moments = [], words }: Props) {
  const [ref, width] = useWidth(280, 640);
  const [at, setAt] = useState<number | null>(null);
  const right = width - RIGHT;
  const along = scaleLinear([x[0] ?? 0, x.at(-1) ?? 1], [LEFT, right]);
  const tops = panes.map((_, k) => TOP + panes.slice(0, k).reduce((sum, pane) => sum + pane.height + GAP, 0));
  const height = (tops.at(-1) ?? 0) + (panes.at(-1)?.height ?? 0) + AXIS;
  const nearest = (event: PointerEvent<SVGSVGElement>) => {
    const wanted = along.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    const best = x.reduce((found, value, k) => {
      const known = x[found] ?? 0;
      return Math.abs(value - wanted) < Math.abs(known - wanted) ? k : found;
    }, 0);
    setAt(best);
  };
  const ticks = along.ticks(Math.max(2, Math.floor((right - LEFT) / LABEL_WIDTH)));
  return (
    <figure className="plot" ref={ref}>
      <Legend panes={panes} at={at} x={at === null ? "" : xText(x[at] ?? 0)} />
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width={width}
        height={height}
        role="img"
        aria-label={words}
        onPointerMove={nearest}
        onPointerLeave={() => setAt(null)}
      >
        {moments.map((moment) => (
          <path key={moment} className="plot-moment" d={`M${along(moment)} ${TOP}V${height - AXIS}`} />
        ))}
        {panes.map((pane, k) => (
          <PaneLines key={k} pane={pane} x={x} along={along} top={tops[k] ?? 0} right={right} />
        ))}
        {ticks.map((tick) => (
          <text key={tick} className="figure quiet" textAnchor="middle" x={along(tick)} y={height - 6}>
            {xScale(tick)}
          </text>
        ))}
        {at !== null && <path className="plot-cursor" d={`M${along(x[at] ?? 0)} ${TOP}V${height - AXIS}`} />}
      </svg>
      <figcaption>{words}</figcaption>
    </figure>
  );
}

interface PaneProps {
  pane: Pane;
  x: readonly number[];
  along: (value: number) => number;
  top: number;
  right: number;
}

function PaneLines({ pane, x, along, top, right }: PaneProps) {
  const up = scaleLinear(extent(pane), [top + pane.height, top]).nice(4);
  const path = line<number>(
    (_, k) => along(x[k] ?? 0),
    (value) => up(value),
  );
  const { band } = pane;
  const filled = band
    ? area<number>()
        .x((_, k) => along(band.x[k] ?? 0))
        .y0((value) => up(value))
        .y1((_, k) => up(band.high[k] ?? 0))([...band.low])
    : null;
  return (
    <g>
      {up.ticks(Math.max(2, Math.floor(pane.height / 32))).map((tick) => (
        <g key={tick}>
          <path className={tick === 0 ? "plot-zero" : "plot-grid"} d={`M${LEFT} ${up(tick)}H${right}`} />
          <text className="figure quiet" textAnchor="end" x={LEFT - 8} y={up(tick) + 4}>
            {scaleText(tick, pane.unit)}
          </text>
        </g>
      ))}
      {filled && <path className="plot-band" d={filled} />}
      {(pane.levels ?? []).map((level) => (
        <g key={`${level.name} ${level.value}`}>
          <path className="plot-level" d={`M${LEFT} ${up(level.value)}H${right}`} />
          <text x={right + 6} y={up(level.value) + 4}>
            {level.name}
          </text>
        </g>
      ))}
      {pane.lines.map((entry) => (
        <path
          key={entry.name}
          className={`plot-line tone-${entry.tone}${entry.isHeavy ? " is-heavy" : ""}${entry.isDashed ? " is-dashed" : ""}`}
          d={path([...entry.values]) ?? ""}
        />
      ))}
      {pane.spot && (
        <>
          <circle className="plot-spot" cx={along(pane.spot.x)} cy={up(pane.spot.y)} r={5} />
          <text textAnchor="middle" x={along(pane.spot.x)} y={up(pane.spot.y) - 10}>
            {pane.spot.name}
          </text>
        </>
      )}
    </g>
  );
}

/** The lines by name, with their values where the pointer is. */
function Legend({ panes, at, x }: { panes: readonly Pane[]; at: number | null; x: string }) {
  return (
    <ul className="plot-legend">
      {panes.flatMap((pane) =>
        pane.lines.map((entry) => (
          <li key={entry.name}>
            <svg viewBox="0 0 26 8" width={26} height={8} aria-hidden>
              <path
                className={`plot-line tone-${entry.tone}${entry.isHeavy ? " is-heavy" : ""}${entry.isDashed ? " is-dashed" : ""}`}
                d="M0 4H26"
              />
            </svg>
            {entry.name}
            {at !== null && <b className="figure"> {engineering(entry.values[at] ?? 0, pane.unit)}</b>}
          </li>
        )),
      )}
      {at !== null && <li className="figure quiet">{say(texts.off.charts.at, { at: x })}</li>}
    </ul>
  );
}
