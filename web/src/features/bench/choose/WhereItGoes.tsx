/** Where the bypass goes: the place as it was looked at, what it says of the part, and the lines of the wire map. */
import { QuantityInput } from "../../quantity/QuantityInput";
import { TextInput } from "../../quantity/TextInput";
import { say, texts } from "../../../texts";
import { OldAnswer } from "../../OldAnswer";
import { type Draft, NO_PLACE, type Place } from "../draft";
import type { Choosing } from "./queries";

const words = texts.choose;
const QUESTIONS = ["has_both_conductors", "is_reachable", "in_insulation"] as const;

interface Props {
  found: Choosing | undefined;
  /** What was found is not of what stands here now. */
  isOld: boolean;
  draft: Draft;
  change: (draft: Draft) => void;
}

export function WhereItGoes({ found, isOld, draft, change }: Props) {
  const place = draft.place ?? NO_PLACE;
  const put = (next: Partial<Place>) => change({ ...draft, place: { ...place, ...next } });
  const fitted = draft.bypasses[0];
  const choice =
    found?.parts.find((entry) => entry.part !== null && entry.part === fitted?.part) ??
    found?.parts.find((entry) => entry.kind !== null && entry.verdict !== "rejected");
  const questions =
    place.where === "lampholder_adapter" ? (["takes_adapter", ...QUESTIONS] as const) : QUESTIONS;
  return (
    <div className="where">
      <p className="caution-line">{words.deadFirst}</p>
      <div className="where-form">
        <label>
          {words.where}
          <select
            value={place.where}
            onChange={(event) => put({ where: event.target.value as Place["where"] })}
          >
            {Object.entries(words.places).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        </label>
        <label>
          {words.placeName}
          <TextInput
            value={place.name}
            maxLength={60}
            placeholder={words.placeHint}
            onChange={(name) => put({ name })}
          />
        </label>
        <QuantityInput
          name="room_m"
          label={words.room}
          hint="30 mm"
          value={place.room_m}
          onChange={(room_m) => put({ room_m })}
        />
        {questions.map((question) => (
          <label key={question}>
            {words.questions[question]}
            <select
              value={place[question] === null ? "" : place[question] ? "yes" : "no"}
              onChange={(event) =>
                put({ [question]: event.target.value === "" ? null : event.target.value === "yes" })
              }
            >
              <option value="">{words.notLooked}</option>
              <option value="yes">{words.yes}</option>
              <option value="no">{words.no}</option>
            </select>
          </label>
        ))}
      </div>
      {draft.place === null && <p className="quiet">{words.saySeen}</p>}
      <OldAnswer isOld={isOld && found !== undefined}>
        {draft.place !== null && choice && (
          <>
            <h3>{say(words.placeOf, { name: choice.name })}</h3>
            <ul className="plain-list">
              {choice.reasons.map((reason) => (
                <li key={reason.text} className={`said-${reason.severity}`}>
                  {reason.text}
                </li>
              ))}
            </ul>
          </>
        )}
        {found && (
          <>
            <ul className="plain-list">
              {found.place.notes.map((note) => (
                <li key={note}>{note}</li>
              ))}
            </ul>
            <h3>{words.wireMap}</h3>
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">{words.start}</th>
                  <th scope="col">{words.end}</th>
                  <th scope="col">{words.conductor}</th>
                  <th scope="col">{words.marking}</th>
                </tr>
              </thead>
              <tbody>
                {found.place.lines.map((line) => (
                  <tr key={line.marking}>
                    <td>{line.start}</td>
                    <td>{line.end}</td>
                    <td>{line.conductor}</td>
                    <td className="figure">{line.marking}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        )}
      </OldAnswer>
    </div>
  );
}
