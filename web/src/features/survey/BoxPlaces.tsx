/** Which box of the loop this is: a two-way circuit has one at either end, each with its own survey and proof. */
import { say, texts } from "../../texts";
import type { Survey } from "./queries";

const words = texts.isolation;
const MOST_BOXES = 4;

interface Props {
  survey: Survey;
  mayEdit: boolean;
  onPlace: (place: number) => void;
}

export function BoxPlaces({ survey, mayEdit, onPlace }: Props) {
  const last = survey.boxes.at(-1);
  const mayAdd = mayEdit && last !== undefined && last.is_begun && survey.boxes.length < MOST_BOXES;
  if (survey.boxes.length === 1 && survey.place === 1) return null;
  return (
    <nav className="box-places" aria-label={words.boxes}>
      {survey.boxes.map((box) => (
        <button
          key={box.place}
          type="button"
          className="outlined"
          aria-current={box.place === survey.place ? "true" : undefined}
          onClick={() => onPlace(box.place)}
        >
          {box.name || say(words.box, { place: box.place })}
          {box.is_known && " ✓"}
        </button>
      ))}
      {mayAdd && (
        <button type="button" className="plain" onClick={() => onPlace(survey.boxes.length + 1)}>
          + {words.addBox}
        </button>
      )}
    </nav>
  );
}
