/** The working window of one kind of bypass on a log axis: what fails outside it, its limits, the parts as ticks. */
import { engineering } from "../../../format";
import { say, texts, wordOf } from "../../../texts";
import type { Choice, Window } from "./queries";

const words = texts.choose;
const WIDTH = 700;
const TOP = 40;
const BOTTOM = 132;
const LEAST_WORD = 78;

export type StripKind = keyof typeof words.kinds;
/** Ends and ticks of the axis by kind, and the unit. */
const AXES: Record<StripKind, { low: number; high: number; ticks: number[]; unit: string }> = {
  capacitor: {
    low: 1e-8,
    high: 1e-6,
    ticks: [1e-8, 2.2e-8, 4.7e-8, 1e-7, 2.2e-7, 4.7e-7, 1e-6],
    unit: "F",
  },
  resistor: { low: 3e3, high: 3e6, ticks: [3e3, 1e4, 3e4, 1e5, 3e5, 1e6, 3e6], unit: "Ω" },
  active: { low: 1e-3, high: 1e-1, ticks: [1e-3, 3e-3, 1e-2, 3e-2, 1e-1], unit: "A" },
};

/** A part on the axis. */
export interface Tick {
  value: number;
  choice: Choice;
}

interface Props {
  kind: StripKind;
  window: Window;
  /** Looked at over the ranges too. */
  isComplete: boolean;
  fitted: number[];
  ticks: Tick[];
  onTake: (choice: Choice) => void;
}

export function inWords(kind: StripKind, window: Window, isComplete: boolean): string {
  const unit = AXES[kind].unit;
  if (!window.works) return window.text;
  const way = kind === "resistor" ? words.upTo : words.from;
  const span = `${words.kinds[kind]}: ${words.from} ${engineering(window.low ?? 0, unit)} ${words.to} ${engineering(window.high ?? 0, unit)}`;
  const wanted =
    window.wanted === null
      ? ""
      : ` ${say(words.wantedSaid, { way, value: engineering(window.wanted, unit) })}`;
  const sure =
    window.sure !== null
      ? ` ${say(words.sureSaid, { way, value: engineering(window.sure, unit) })}`
      : isComplete
        ? ` ${words.noSure}`
        : "";
  return `${span}; ${window.lower_text}; ${window.upper_text}.${wanted}${sure}`;
}

export function WindowStrip({ kind, window, isComplete, fitted, ticks, onTake }: Props) {
  const axis = AXES[kind];
  const x = (value: number) =>
    Math.min(1, Math.max(0, Math.log(value / axis.low) / Math.log(axis.high / axis.low))) * WIDTH;
  const stretch = (low: number, high: number) => {
    const [from, to] = [x(Math.min(low, high)), x(Math.max(low, high))];
    return { from, width: to - from };
  };
  const low = window.low ?? axis.low;
  const high = window.high ?? axis.low;
  const area = stretch(low, high);
  const beyond = kind === "resistor" ? { from: 0, width: x(low) } : { from: x(high), width: WIDTH - x(high) };
  const limitReason = kind === "resistor" ? window.lower_reason : window.upper_reason;
  const word = (name: string, at: { from: number; width: number }, isDark = false) =>
    name !== "" &&
    at.width > LEAST_WORD && (
      <text
        className={`zone-word${isDark ? " is-dark" : ""}`}
        x={isDark ? at.from + at.width - 8 : at.from + 8}
        textAnchor={isDark ? "end" : "start"}
        y={TOP + 24}
      >
        {name}
      </text>
    );
  const mark = (value: number | null, name: string, level: number) =>
    value !== null && (
      <g className="strip-mark">
        <path d={`M${x(value)} ${BOTTOM}V${TOP - 4 - level * 16}`} />
        <text
          x={x(value) + (x(value) > WIDTH - 110 ? -5 : 5)}
          textAnchor={x(value) > WIDTH - 110 ? "end" : "start"}
          y={TOP - 5 - level * 16}
        >
          {name}
        </text>
      </g>
    );
  return (
    <figure className="window-strip">
      <svg viewBox={`-6 0 ${WIDTH + 12} 196`} role="group" aria-label={inWords(kind, window, isComplete)}>
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
        <rect className="zone" x={0} y={TOP} width={WIDTH} height={BOTTOM - TOP} />
        {window.zones.map((zone) => {
          const at = stretch(zone.low, zone.high);
          return (
            <g key={`${zone.reason}-${zone.low}`}>
              <rect
                className={`zone zone-${zone.reason}`}
                x={at.from}
                y={TOP}
                width={at.width}
                height={BOTTOM - TOP}
              />
              {word(wordOf(words.below, zone.reason) ?? zone.reason, at)}
            </g>
          );
        })}
        {window.works && (
          <>
            <rect
              className="zone zone-works"
              x={area.from}
              y={TOP}
              width={area.width}
              height={BOTTOM - TOP}
            />
            {word(words.works, area, true)}
            <rect
              className="zone zone-above"
              x={beyond.from}
              y={TOP}
              width={beyond.width}
              height={BOTTOM - TOP}
            />
            {word(wordOf(words.beyond, limitReason) ?? "", beyond)}
          </>
        )}
        {mark(window.wanted, words.wanted, 0)}
        {mark(window.sure, words.sure, 1)}
        {window.limits.map(
          (limit) =>
            limit.value !== null &&
            limit.value >= axis.low &&
            limit.value <= axis.high && (
              <path key={limit.reason} className="strip-limit" d={`M${x(limit.value)} ${TOP}V${BOTTOM}`} />
            ),
        )}
        <path className="axis" d={`M0 ${BOTTOM}H${WIDTH}`} />
        {axis.ticks.map((value, k) => (
          <g key={value}>
            <path className="axis" d={`M${x(value)} ${BOTTOM}v6`} />
            <text
              className="figure quiet"
              textAnchor={k === 0 ? "start" : k === axis.ticks.length - 1 ? "end" : "middle"}
              x={x(value)}
              y={BOTTOM + 54}
            >
              {engineering(value, axis.unit)}
            </text>
          </g>
        ))}
        {ticks.map(({ value, choice }) => (
          <PartTick key={choice.rank} x={x(value)} choice={choice} onTake={() => onTake(choice)} />
        ))}
        {fitted.map((value, k) => (
          <path key={k} className="fitted" d={`M${x(value)} ${BOTTOM}V14l-7 -10h14l-7 10`} />
        ))}
      </svg>
      <figcaption>{inWords(kind, window, isComplete)}</figcaption>
    </figure>
  );
}

const SHAPES = {
  works: "M-7 0a7 7 0 1 0 14 0a7 7 0 1 0 -14 0",
  unsure: "M0 -8L8 0L0 8L-8 0Z",
  rejected: "M-6 -6L6 6M6 -6L-6 6",
} as const;

function PartTick({ x, choice, onTake }: { x: number; choice: Choice; onTake: () => void }) {
  const name = say(words.atValue, { name: choice.name, verdict: words.verdicts[choice.verdict] ?? "" });
  return (
    <g
      role="button"
      tabIndex={0}
      className={`part-tick tick-${choice.verdict}${choice.part === null ? " is-value" : ""}`}
      aria-label={name}
      transform={`translate(${x} ${BOTTOM + 22})`}
      onClick={onTake}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onTake();
        }
      }}
    >
      <title>{name}</title>
      <rect className="reach" x={-12} y={-16} width={24} height={32} />
      <path d="M0 -22V-10" />
      <path d={SHAPES[choice.verdict]} />
    </g>
  );
}
