/** On the thread: the conductors of the box as surveyed, by role, colour in words, unknown ones as such. */
import { say, texts } from "../../../texts";
import type { Survey } from "../../survey/queries";
import type { Layout } from "./layout";

const words = texts.survey.thread;

interface Props {
  survey: Survey;
  position: number;
  at: Layout;
  colours: Colours;
}

/** The colours of the region in words. */
type Colours = readonly { value: string; text: string }[];

interface Listed {
  id: string;
  colour?: string;
  sleeve?: string;
}

/** The conductors of one gang that are known, and how many are not. */
function rolesOf(survey: Survey, position: number, colours: Colours) {
  const listed = (survey.box["conductors"] ?? []) as unknown as Listed[];
  const { conductors } = survey.judgement;
  const known = conductors.filter((entry) => entry.certainty !== "open");
  const described = (entry: (typeof known)[number] | undefined) => {
    if (entry === undefined) return null;
    const found = listed.find((conductor) => conductor.id === entry.conductor);
    // Nobody has to note a colour; one conductor has none to tell.
    const code = found?.sleeve || found?.colour || "";
    const colour = colours.find((entry) => entry.value === code)?.text ?? code;
    return { role: entry.text.split(",")[0] ?? entry.text, colour };
  };
  return {
    isListed: listed.length > 0,
    live: described(known.find((entry) => entry.role === "permanent_live" || entry.role === "looped_live")),
    switched: described(known.find((entry) => entry.role === "switched_live" && entry.gang === position)),
    doubtful: conductors.length - known.length,
  };
}

/** The same as a sentence. */
export function conductorWords(survey: Survey, position: number, colours: Colours): string {
  const { isListed, live, switched, doubtful } = rolesOf(survey, position, colours);
  if (!isListed) return "";
  const parts = [live, switched].flatMap((entry) =>
    entry ? [say(entry.colour ? words.roleIs : words.roleOnly, entry)] : [],
  );
  const { neutral, earth } = survey.judgement;
  const said = [
    ...parts,
    neutral.word,
    earth.word,
    ...(doubtful ? [say(words.doubt, { count: doubtful })] : []),
  ];
  return `${words.inBox}: ${said.join(", ")}.`;
}

export function Conductors({ survey, position, at, colours }: Props) {
  const { isListed, live, switched, doubtful } = rolesOf(survey, position, colours);
  if (!isListed) return null;
  const { neutral, earth } = survey.judgement;
  const left = (at.breakerX + at.boxLeft) / 2;
  const middle = (at.boxLeft + at.boxRight) / 2;
  // On a tablet there is no room beside the box: the sentence below says it.
  const isWide = at.width >= 900;
  return (
    <g className="in-the-box">
      {isWide && live && (
        <>
          <text className="quiet" textAnchor="middle" x={left} y={at.lineY + 34}>
            {live.role}
          </text>
          <text className="quiet" textAnchor="middle" x={left} y={at.lineY + 50}>
            {live.colour}
          </text>
        </>
      )}
      {isWide && switched && (
        <text className="quiet" textAnchor="start" x={at.boxRight + 16} y={at.lineY - 30}>
          {[switched.role, switched.colour].filter(Boolean).join(", ")}
        </text>
      )}
      <text className="quiet" textAnchor="middle" x={middle} y={at.lineY + 64}>
        {isWide ? `${neutral.word} · ${earth.word}` : neutral.word}
      </text>
      {(doubtful > 0 || !isWide) && (
        <text
          className={`quiet${doubtful > 0 ? " strong" : ""}`}
          textAnchor="middle"
          x={middle}
          y={at.lineY + 80}
        >
          {doubtful > 0 ? say(words.doubt, { count: doubtful }) : earth.word}
        </text>
      )}
    </g>
  );
}
