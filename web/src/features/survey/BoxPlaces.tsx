/** Which box of the loop this is: a two-way circuit has one at either end, each with its own survey and proof. */
import { Link } from "react-router";
import { say, texts } from "../../texts";
import type { Survey } from "./queries";

const words = texts.isolation;
const MOST_BOXES = 4;
/** Luminaires are places of their own, from this number on; junction boxes from the other. */
export const FIRST_POINT = 11;
const FIRST_JUNCTION = 21;

interface Props {
  survey: Survey;
  mayEdit: boolean;
  onPlace: (place: number) => void;
}

export function BoxPlaces({ survey, mayEdit, onPlace }: Props) {
  const last = survey.boxes.at(-1);
  const mayAdd = mayEdit && last !== undefined && last.is_begun && survey.boxes.length < MOST_BOXES;
  if (survey.boxes.length === 1 && survey.place === 1) return null;
  if (survey.place >= FIRST_POINT) {
    return (
      <p className="notice">
        {survey.place < FIRST_JUNCTION
          ? say(texts.fit.luminaire, { gang: survey.place - FIRST_POINT + 1 })
          : say(texts.fit.junction, { number: survey.place - FIRST_JUNCTION + 1 })}{" "}
        <Link to={`/loops/${survey.loop}?step=fit`}>{texts.fit.backToFit}</Link>
      </p>
    );
  }
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
