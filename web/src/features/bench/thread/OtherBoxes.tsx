/** On the thread: the other boxes of a loop that is switched from more than one place, with their travellers. */
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import type { Survey } from "../../survey/queries";
import type { Layout } from "./layout";

const words = texts.isolation;
const WIDTH = 26;
const TOP = 5;
const HEIGHT = 16;

function nameOf(box: Survey["boxes"][number]): string {
  const length = box.travellers_m === null ? words.notMeasured : engineering(box.travellers_m, "m");
  return `${box.name || say(words.box, { place: box.place })}, ${length}`;
}

/** The same as a sentence. */
export function otherBoxWords(survey: Survey): string {
  const others = survey.boxes.filter((box) => box.place > 1);
  return others.length === 0 ? "" : say(words.switchedFrom, { names: others.map(nameOf).join("; ") });
}

/** Each further box above the first, joined to it by its two travellers. */
export function OtherBoxes({ survey, at }: { survey: Survey; at: Layout }) {
  const others = survey.boxes.filter((box) => box.place > 1);
  const joined = at.lineY - 46;
  return (
    <g className="other-boxes">
      {others.map((box, index) => {
        const x = at.boxLeft - 10 + index * 190;
        return (
          <g key={box.place}>
            <rect className="switch-box" x={x} y={TOP} width={WIDTH} height={HEIGHT} rx={2} />
            <path
              className="traveller"
              d={`M${x + 8} ${TOP + HEIGHT}V${joined}M${x + 18} ${TOP + HEIGHT}V${joined}`}
            />
            <text className="quiet" x={x + WIDTH + 8} y={TOP + 13}>
              {nameOf(box)}
            </text>
          </g>
        );
      })}
    </g>
  );
}
