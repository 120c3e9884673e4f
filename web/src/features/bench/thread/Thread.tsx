/** The loop as one drawn line: breaker, control, ceiling point, bypass, lamps, neutral. */
import { engineering } from "../../../format";
import { type Works, WorksMark } from "../../WorksMark";
import { say, texts } from "../../../texts";
import type { Tab } from "../steps";
import { asFigure, type Draft } from "../draft";
import { type Judgement, type Loop, useShelf } from "../queries";
import { BypassBranch, LampBranch } from "./Branches";
import { hanging, layoutFor, thickness } from "./layout";
import { type Survey, useChoices } from "../../survey/queries";
import { ChosenWay, chosenWayWords } from "./ChosenWay";
import { Conductors, conductorWords } from "./Conductors";
import { useWidth } from "../../charts/useWidth";
import { OtherBoxes, otherBoxWords } from "./OtherBoxes";
import { Spot } from "./Spot";
import { feedWord, inWords } from "./words";

const words = texts.thread;

interface Props {
  loop: Loop;
  position: number;
  survey: Survey | undefined;
  draft: Draft;
  judgement: Judgement | undefined;
  /** The one verdict, once it is weighed. */
  works: Works | undefined;
  /** The part whose editor is open. */
  open: Tab | null;
  onOpen: (part: Tab) => void;
  /** Back to one line; not given where the drawing is worked on. */
  onHide: (() => void) | undefined;
  /** The figures are not of what is drawn. */
  isOld: boolean;
}

export function Thread({
  loop,
  position,
  survey,
  draft,
  judgement,
  works,
  open,
  onOpen,
  onHide,
  isOld,
}: Props) {
  const [ref, width] = useWidth(680);
  const shelf = useShelf();
  const colours = useChoices(loop.region).data?.colours ?? [];
  const controlName =
    shelf.data?.find((part) => part.id === draft.control?.part)?.name ?? draft.control?.label ?? "";
  const at = layoutFor(width, draft.bypasses.length, draft.lamps.length);
  const figures = judgement?.figures ?? null;
  const line = figures?.line_i_rms_a ?? 0;
  const flows = figures !== null;
  const lampA = figures ? Math.max(0, ...figures.lamps.map((lamp) => lamp.i_rms_a)) : 0;
  const stroke = (i_a: number) => ({ strokeWidth: flows ? thickness(i_a) : 1.2 });
  const className = flows ? "flow" : "flow is-unknown";
  const control = figures?.control.state ?? null;
  const controlWord = feedWord(draft.control, control);
  const cable = asFigure(draft.cable["c_line_to_switched_f"]);
  const lastX = at.branches.at(-1)?.x ?? at.endX;
  const readingX = Math.min(lastX + 96, at.endX + 6);
  const middle = (at.boxRight + at.ceilingX) / 2;
  return (
    <section className={`thread${isOld ? " is-old" : ""}`} ref={ref} aria-label={words.title}>
      <svg viewBox={`0 0 ${at.width} ${at.height}`} width={at.width} height={at.height} role="group">
        <defs>
          <pattern
            id="starved-hatch"
            width={9}
            height={9}
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect className="hatch-ground" width={9} height={9} />
            <path className="hatch-line" d="M2 0V9" />
          </pattern>
        </defs>
        <path className="neutral" d={`M${at.breakerX - 26} ${at.neutralY}H${lastX}`} />
        <path className={className} style={stroke(line)} d={hanging(at.breakerX, at.boxLeft, at.lineY, 16)} />
        <path
          className={className}
          style={stroke(line)}
          d={hanging(at.boxRight, at.ceilingX, at.lineY, 24)}
        />
        <path
          className={className}
          style={stroke(Math.max(lampA, ...(figures?.shares.bypass_a ?? [0])))}
          d={`M${at.ceilingX} ${at.lineY}H${lastX}`}
        />
        <text x={22} y={at.lineY - 26}>
          {say(words.drawn.breaker, { breaker: loop.breaker || "?" })}
        </text>
        <rect className="box" x={at.breakerX - 34} y={at.lineY - 16} width={34} height={32} rx={2} />
        <path
          className="stroke"
          d={`M${at.breakerX - 27} ${at.lineY + 7}L${at.breakerX - 7} ${at.lineY - 7}`}
        />
        <circle className="neutral-end" cx={at.breakerX - 26} cy={at.neutralY} r={6} />
        <text x={22} y={at.neutralY + 24}>
          {words.drawn.neutral}
        </text>
        {flows && (
          <>
            <text
              className="figure ember"
              textAnchor="middle"
              x={(at.breakerX + at.boxLeft) / 2}
              y={at.lineY - 6}
            >
              {engineering(line, "A")}
            </text>
            <text className="figure ember" textAnchor="middle" x={middle} y={at.lineY - 6}>
              {engineering(line, "A")}
            </text>
            <text className="figure" x={readingX} y={(at.lineY + at.neutralY) / 2 - 4}>
              {engineering(figures.lamp_v_rms, "V")}
            </text>
            <text className="quiet" x={readingX} y={(at.lineY + at.neutralY) / 2 + 14}>
              {words.drawn.rms}
            </text>
          </>
        )}
        <Spot
          label={say(words.open.control, {
            name: draft.control?.label || words.notChosen,
            state: controlWord,
          })}
          isOpen={open === "control"}
          onOpen={() => onOpen("control")}
        >
          <rect
            className="switch-box"
            x={at.boxLeft - 10}
            y={at.lineY - 46}
            width={at.boxRight - at.boxLeft + 20}
            height={92}
            rx={4}
          />
          <path
            className={`box ${draft.control === null ? "is-empty" : ""} ${control === "starved" ? "is-starved" : ""}`}
            d={`M${at.boxLeft} ${at.lineY - 30}H${at.boxRight - 14}L${at.boxRight} ${at.lineY - 16}V${at.lineY + 30}H${at.boxLeft}Z`}
          />
          <foreignObject
            x={at.boxLeft + 8}
            y={at.lineY - 28}
            width={at.boxRight - at.boxLeft - 18}
            height={58}
          >
            <div className="in-box">
              <b>{draft.control ? controlName || words.drawn.control : words.drawn.addControl}</b>
              <span className={`state is-${control ?? "unknown"}`}>{controlWord}</span>
            </div>
          </foreignObject>
        </Spot>
        <Spot
          label={
            cable ? say(words.open.cable, { size: engineering(cable.typical, "F") }) : words.open.noCable
          }
          isOpen={open === "cable"}
          onOpen={() => onOpen("cable")}
        >
          <rect className="hit" x={middle - 44} y={at.lineY + 20} width={88} height={40} />
          <text className="quiet" textAnchor="middle" x={middle} y={at.lineY + 38}>
            {words.drawn.cable}
          </text>
          <text className="figure quiet" textAnchor="middle" x={middle} y={at.lineY + 55}>
            {cable ? engineering(cable.typical, "F") : "0 F"}
          </text>
        </Spot>
        <ChosenWay way={loop.chosen_way} at={at} />
        {survey && <OtherBoxes survey={survey} at={at} />}
        {survey && <Conductors survey={survey} position={position} at={at} colours={colours} />}
        <path
          className="ceiling"
          d={`M${at.ceilingX} ${at.lineY}V${at.lineY - 40}M${at.ceilingX - 4} ${at.lineY - 40}H${at.ceilingX + 92}`}
        />
        <text className="quiet" x={at.ceilingX} y={at.lineY - 47}>
          {words.drawn.ceiling}
        </text>
        {at.branches.map((branch) =>
          branch.kind === "bypass" ? (
            <BypassBranch
              key={`b${branch.index}`}
              at={at}
              x={branch.x}
              fit={draft.bypasses[branch.index]}
              i_a={figures?.shares.bypass_a[branch.index]}
              place={draft.place?.name ?? ""}
              isOpen={open === "bypass"}
              onOpen={() => onOpen("bypass")}
            />
          ) : (
            <LampBranch
              key={`l${branch.index}`}
              at={at}
              x={branch.x}
              fit={draft.lamps[branch.index]}
              lamp={figures?.lamps[branch.index]}
              isOpen={open === "lamps"}
              onOpen={() => onOpen("lamps")}
            />
          ),
        )}
      </svg>
      <p className="thread-words">
        {works && <WorksMark works={works} />}
        {inWords(loop, draft, judgement)} {survey && conductorWords(survey, position, colours)}{" "}
        {survey && otherBoxWords(survey)} {chosenWayWords(loop.chosen_way)}
        {onHide && (
          <button type="button" className="plain" onClick={onHide}>
            {words.hide}
          </button>
        )}
      </p>
    </section>
  );
}
