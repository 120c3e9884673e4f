/** The thread as one line, on steps that put nothing on it: breaker, verdict, figures, and the way to the drawing. */
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { type Works, WorksMark } from "../../WorksMark";
import type { Draft } from "../draft";
import type { Judgement, Loop } from "../queries";
import { feedWord } from "./words";

const words = texts.thread;

interface Props {
  loop: Loop;
  draft: Draft;
  judgement: Judgement | undefined;
  works: Works | undefined;
  isOld: boolean;
  onShow: () => void;
}

export function ThreadStrip({ loop, draft, judgement, works, isOld, onShow }: Props) {
  const figures = judgement?.figures;
  return (
    <section className={`thread-strip${isOld ? " is-old" : ""}`} aria-label={words.strip}>
      <span>{say(words.breaker, { breaker: loop.breaker || "?" })}</span>
      {works && <WorksMark works={works} />}
      {figures ? (
        <>
          <span className="figure ember">{engineering(figures.line_i_rms_a, "A")}</span>
          <span>
            <span className="figure">{engineering(figures.lamp_v_rms, "V")}</span> {words.atLamps}
          </span>
          {(figures.control.state ?? draft.control?.wired === "straight") && (
            <span>{say(words.control, { state: feedWord(draft.control, figures.control.state) })}</span>
          )}
        </>
      ) : (
        <span className="quiet">{words.notKnown}</span>
      )}
      {/* What was chosen is another than what is judged here: neither stands for the other. */}
      {loop.chosen && !loop.chosen.on_bench && (
        <span className="strip-chosen">
          {say(texts.list.chosenWay, { way: loop.chosen.title })} <WorksMark works={loop.chosen.works} />
        </span>
      )}
      <button type="button" className="plain" onClick={onShow}>
        {words.show}
      </button>
    </section>
  );
}
