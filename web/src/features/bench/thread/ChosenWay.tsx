/** On the thread: what the chosen way puts where: a module overhead, a neutral to the box, a companion. */
import { say, texts, wordOf } from "../../../texts";
import type { Layout } from "./layout";

const words = texts.ways.onThread;
const OVERHEAD = ["module_at_lamp", "module_with_switch", "module_in_junction", "junction_with_switch"];
const NEUTRAL_TO_BOX = ["drop_as_feed", "neutral_present", "spare_as_neutral", "new_neutral"];
const COMPANION = ["module_at_lamp", "module_in_junction", "control_and_companion"];

/** The same as a sentence. */
export function chosenWayWords(way: string | null): string {
  const told = way === null ? undefined : wordOf(words, way);
  return told === undefined ? "" : say(words.chosen, { way: told });
}

export function ChosenWay({ way, at }: { way: string | null; at: Layout }) {
  if (way === null) return null;
  const middle = (at.boxLeft + at.boxRight) / 2;
  return (
    <g className="chosen-way">
      {OVERHEAD.includes(way) && (
        <>
          <rect x={at.ceilingX + 10} y={at.lineY - 35} width={60} height={24} rx={3} />
          <text textAnchor="middle" x={at.ceilingX + 40} y={at.lineY - 18}>
            {words.module}
          </text>
        </>
      )}
      {way === "module_behind_switch" && (
        <>
          <rect x={middle - 30} y={at.lineY + 36} width={60} height={22} rx={3} />
          <text textAnchor="middle" x={middle} y={at.lineY + 51}>
            {words.module}
          </text>
        </>
      )}
      {NEUTRAL_TO_BOX.includes(way) && (
        <>
          <path d={`M${at.boxRight - 4} ${at.neutralY}V${at.lineY + 46}`} />
          <text x={at.boxRight + 4} y={at.neutralY - 14}>
            {words.neutral}
          </text>
        </>
      )}
      {(COMPANION.includes(way) || way === "pair") && (
        <>
          <rect
            x={at.boxRight + 22}
            y={4}
            width={96}
            height={24}
            rx={3}
            className={way === "pair" ? "" : "is-wireless"}
          />
          <text textAnchor="middle" x={at.boxRight + 70} y={20}>
            {way === "pair" ? words.control2 : words.companion}
          </text>
        </>
      )}
    </g>
  );
}
