/** Who comes, and what each of them may do. */
import { say, texts } from "../../texts";
import { type Draft, leaving } from "./planDraft";
import type { PlanDefaults } from "./queries";

const words = texts.visits;

interface Props {
  people: PlanDefaults["people"];
  coming: Draft["people"];
  onChange: (coming: Draft["people"]) => void;
}

export function PlanPeople({ people, coming, onChange }: Props) {
  return (
    <ul className="plan-people">
      {people.map((person) => {
        const comes = person.id in coming;
        return (
          <li key={person.id}>
            <label className="tick">
              <input
                type="checkbox"
                checked={comes}
                onChange={() =>
                  onChange(
                    comes
                      ? leaving(coming, person.id)
                      : { ...coming, [person.id]: (person.skills ?? []).join(", ") },
                  )
                }
              />
              {person.name}
            </label>
            {comes && (
              <input
                aria-label={say(words.skillsOf, { person: person.name })}
                placeholder={words.skills}
                value={coming[person.id]}
                maxLength={200}
                onChange={(event) => onChange({ ...coming, [person.id]: event.target.value })}
              />
            )}
          </li>
        );
      })}
    </ul>
  );
}
