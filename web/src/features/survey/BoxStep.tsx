/** Step 3: the box as found, its conductors, whether the control goes in, and photographs. */
import { useKeys } from "../../app/useKeys";
import { say, texts } from "../../texts";
import { ConductorEditor, usualSize } from "./ConductorEditor";
import { DepthCheck } from "./DepthCheck";
import { QuantityInput } from "../quantity/QuantityInput";
import { TextInput } from "../quantity/TextInput";
import { Pick, Tick } from "./fields";
import { PhotoStrip } from "./PhotoStrip";
import type { StepProps } from "./stepProps";
import type { Box, Conductor } from "./useSurveyDraft";

const words = texts.survey.box;
const LENGTHS = [
  ["depth_m", words.depth],
  ["width_m", words.width],
  ["height_m", words.height],
  ["room_left_m", words.room],
] as const;
const SEEN = [
  { value: "unknown", text: texts.survey.notKnown },
  { value: "yes", text: texts.survey.yes },
  { value: "no", text: texts.survey.no },
];

/** A name that is not taken yet. */
function freeName(conductors: readonly Conductor[]): string {
  const taken = new Set(conductors.map((entry) => entry.id));
  let number = conductors.length + 1;
  while (taken.has(`c${number}`)) number += 1;
  return `c${number}`;
}

export function BoxStep(props: StepProps) {
  const { draft, choices, mayEdit, survey } = props;
  const { box } = draft.doc;
  const guesses = box.conductors.filter((entry) => !entry.is_seen).length;
  const [keys, forget] = useKeys(box.conductors.length);
  const put = (part: Partial<Box>) => draft.change({ box: { ...box, ...part } });
  const error = (path: string) => draft.errors.find((entry) => entry.path === `box.${path}`)?.text;
  const choosePractice = (value: string) => {
    const practice = choices.practices.find((entry) => entry.value === value);
    if (!practice) return draft.change({ practice: "" });
    // What is there already stays; a preset only fills an empty box.
    if (box.conductors.length > 0) return draft.change({ practice: value });
    return draft.change({
      practice: value,
      box: {
        ...box,
        gangs: [practice.ways, ...box.gangs.slice(1)],
        conductors: practice.conductors as unknown as Conductor[],
      },
    });
  };
  const replace = (index: number, next: Conductor | null) => {
    if (next === null) forget(index);
    put({
      conductors: box.conductors.flatMap((old, k) => (k !== index ? [old] : next === null ? [] : [next])),
    });
  };
  return (
    <>
      <h2>{words.title}</h2>
      <div className="field-grid">
        <Pick
          label={words.practice}
          value={draft.doc.practice}
          choices={[{ value: "", text: words.noPractice }, ...choices.practices]}
          onPick={choosePractice}
        />
        {box.gangs.map((ways, index) => (
          <Pick
            key={index}
            label={say(words.gang, { gang: index + 1 })}
            value={ways}
            choices={choices.ways}
            error={error(`gangs[${index}]`)}
            onPick={(value) => put({ gangs: box.gangs.map((old, k) => (k === index ? value : old)) })}
          />
        ))}
        {mayEdit && (
          <span className="beside">
            <button
              type="button"
              className="outlined"
              onClick={() => put({ gangs: [...box.gangs, "one_way"] })}
            >
              {words.addGang}
            </button>
            {box.gangs.length > 1 && (
              <button type="button" className="plain" onClick={() => put({ gangs: box.gangs.slice(0, -1) })}>
                {words.removeGang}
              </button>
            )}
          </span>
        )}
      </div>
      {(survey.boxes.length > 1 || survey.place > 1) && (
        <div className="field-grid">
          <label className="field">
            {texts.isolation.boxName}
            <TextInput
              value={draft.doc.name}
              maxLength={80}
              placeholder={say(texts.isolation.box, { place: survey.place })}
              onChange={(name) => draft.change({ name })}
            />
          </label>
          {survey.place > 1 && (
            <QuantityInput
              name="travellers_m"
              label={texts.isolation.travellers}
              hint="9.5 m"
              value={draft.doc.travellers_m}
              error={draft.errors.find((entry) => entry.path === "travellers_m")?.text}
              onChange={(travellers_m) => draft.change({ travellers_m })}
            />
          )}
        </div>
      )}
      <h3>{words.conductors}</h3>
      {guesses > 0 && (
        <div className="notice guess" role="status">
          <span>{say(words.guesses, { count: guesses })}</span>
          {mayEdit && (
            <button
              type="button"
              className="outlined"
              onClick={() =>
                put({ conductors: box.conductors.map((entry) => ({ ...entry, is_seen: true })) })
              }
            >
              {words.allSeen}
            </button>
          )}
        </div>
      )}
      {box.conductors.length === 0 && <p className="empty">{words.empty}</p>}
      <ul className="conductor-editors">
        {box.conductors.map((conductor, index) => (
          <ConductorEditor
            key={keys[index]}
            {...props}
            conductor={conductor}
            index={index}
            onChange={(next) => replace(index, next)}
          />
        ))}
      </ul>
      {mayEdit && (
        <button
          type="button"
          className="solid add"
          onClick={() =>
            put({
              conductors: [
                ...box.conductors,
                {
                  id: freeName(box.conductors),
                  cable: box.conductors.at(-1)?.cable ?? "A",
                  colour: "",
                  sleeve: "",
                  terminal: "unknown",
                  gang: null,
                  size_m2: box.conductors.at(-1)?.size_m2 ?? usualSize(props.region),
                  label: null,
                  is_seen: true,
                },
              ],
            })
          }
        >
          {words.addConductor}
        </button>
      )}
      {box.conductors.length > 0 && (
        <Tick
          label={words.allListed}
          isOn={box.all_listed ?? false}
          disabled={!mayEdit}
          onChange={(isOn) => put({ all_listed: isOn })}
        />
      )}
      <h3>{words.measures}</h3>
      <div className="field-grid">
        {LENGTHS.map(([name, label]) => (
          <QuantityInput
            key={name}
            name={name}
            label={label}
            hint="35 mm"
            value={box[name] ?? null}
            error={error(name)}
            onChange={(value) => put({ [name]: value })}
          />
        ))}
        <Pick
          label={words.material}
          value={box.material ?? "unknown"}
          choices={choices.materials}
          onPick={(value) => put({ material: value })}
        />
        <Pick
          label={words.neutral}
          value={box.neutral_seen ?? "unknown"}
          choices={SEEN}
          onPick={(value) => put({ neutral_seen: value })}
        />
        <Pick
          label={say(words.earth, { region: props.region })}
          value={box.earth_found ?? "unknown"}
          choices={choices.earths}
          onPick={(value) => put({ earth_found: value })}
        />
      </div>
      <DepthCheck {...props} />
      <PhotoStrip {...props} />
    </>
  );
}
