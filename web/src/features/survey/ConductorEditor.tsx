/** One conductor as found: colour, sleeve, cable, where it ends, size, and what it is marked as. */
import { TextInput } from "../quantity/TextInput";
import { significant } from "../../format";
import { say, texts } from "../../texts";
import { Pick } from "./fields";
import type { StepProps } from "./stepProps";
import { Swatch } from "./Swatch";
import type { Conductor } from "./useSurveyDraft";

const words = texts.survey.box;
const NONE = { value: "", text: words.none };

interface Props extends StepProps {
  conductor: Conductor;
  index: number;
  onChange: (next: Conductor | null) => void;
}

export function ConductorEditor({ conductor, index, onChange, choices, draft, region, mayEdit }: Props) {
  // Whoever says where it ends or what colour it is has looked at it.
  const put = (part: Partial<Conductor>) => onChange({ ...conductor, is_seen: true, ...part });
  const usual = choices.practices.find((entry) => entry.value === draft.doc.practice)?.usual[index];
  const errors = draft.errors.filter((entry) => entry.path.startsWith(`box.conductors[${index}]`));
  const error = (name: string) => errors.find((entry) => entry.path.endsWith(`.${name}`))?.text;
  // A switch terminal is chosen together with its gang.
  const ends = [
    ...draft.doc.box.gangs.flatMap((ways, k) =>
      (choices.terminals[ways] ?? []).map((entry) => ({
        value: `${k + 1}:${entry.value}`,
        text:
          draft.doc.box.gangs.length > 1 ? `${say(words.gang, { gang: k + 1 })}, ${entry.text}` : entry.text,
      })),
    ),
    ...(choices.terminals["elsewhere"] ?? []).map((entry) => ({
      value: `:${entry.value}`,
      text: entry.text,
    })),
  ];
  const chooseEnd = (value: string) => {
    const [gang = "", terminal = "unknown"] = value.split(":");
    put({ gang: gang === "" ? null : Number(gang), terminal });
  };
  return (
    <li className={conductor.is_seen ? "" : "is-guess"}>
      <div role="group" aria-label={conductor.id}>
        <Swatch colour={conductor.sleeve || conductor.colour} />
        <label className="field is-short">
          {words.id}
          <TextInput value={conductor.id} maxLength={12} onChange={(id) => put({ id })} />
        </label>
        <Pick
          label={words.colour}
          value={conductor.colour}
          choices={[NONE, ...choices.colours]}
          error={error("colour")}
          onPick={(colour) => put({ colour })}
        />
        <Pick
          label={words.terminal}
          value={`${conductor.gang ?? ""}:${conductor.terminal}`}
          choices={ends}
          error={error("terminal") ?? error("gang")}
          onPick={chooseEnd}
        />
        <label className="field is-short">
          {words.cable}
          <TextInput value={conductor.cable} maxLength={20} onChange={(cable) => put({ cable })} />
        </label>
        {!conductor.is_seen && (
          <p className="guess-line">
            <b>{words.guess}</b> {usual && say(words.usually, { colour: usual })}
            {mayEdit && (
              <button type="button" className="outlined" onClick={() => put({})}>
                {words.seen} {conductor.id}
              </button>
            )}
          </p>
        )}
        <div className="conductor-more">
          <Pick
            label={words.sleeve}
            value={conductor.sleeve}
            choices={[NONE, ...choices.colours]}
            onPick={(sleeve) => put({ sleeve })}
          />
          <Pick
            label={words.size}
            value={String(conductor.size_m2)}
            choices={sizes(region, conductor.size_m2)}
            onPick={(value) => put({ size_m2: Number(value) })}
          />
          <Pick
            label={words.marked}
            value={conductor.label ?? ""}
            choices={[NONE, ...choices.roles]}
            error={error("label") ?? error("id")}
            onPick={(value) => put({ label: value || null })}
          />
          {mayEdit && (
            <button
              type="button"
              className="plain"
              aria-label={`${words.remove} ${conductor.id}`}
              onClick={() => onChange(null)}
            >
              {words.remove}
            </button>
          )}
        </div>
      </div>
    </li>
  );
}

function areaText(size_m2: number): string {
  return say(words.area, { area: significant(size_m2 * 1e6, 2) });
}

// Copper areas in m², and what trade calls them: mm² with the metric, a gauge number with the other.
const AREAS = [1.0e-6, 1.5e-6, 2.5e-6, 4.0e-6].map((size) => ({ value: String(size), text: areaText(size) }));
const GAUGES = (
  [
    [1.31e-6, 16],
    [2.08e-6, 14],
    [3.31e-6, 12],
    [5.26e-6, 10],
  ] as const
).map(([size, gauge]) => ({ value: String(size), text: say(words.gauge, { gauge }) }));

/** What a lighting circuit is usually wired with [m²]. */
export function usualSize(region: string): number {
  return region === "na" ? 2.08e-6 : 1.5e-6;
}

function sizes(region: string, size_m2: number) {
  const usual = region === "na" ? GAUGES : AREAS;
  const own = String(size_m2);
  return usual.some((entry) => entry.value === own)
    ? usual
    : [...usual, { value: own, text: areaText(size_m2) }];
}
