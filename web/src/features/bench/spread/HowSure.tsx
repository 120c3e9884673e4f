/** How sure the judgement is: shares, margins, what decides, another load switching. */
import { texts } from "../../../texts";
import { OldAnswer } from "../../OldAnswer";
import { ProgressLine } from "../../ProgressLine";
import { Thresholds } from "../off/Thresholds";
import type { useSpread } from "./queries";
import { Shares } from "./Shares";

const words = texts.spread;

export function HowSure({ spread }: { spread: ReturnType<typeof useSpread> }) {
  return (
    <section className="how-sure" aria-label={words.title} aria-busy={spread.isFetching}>
      <div className="head-line">
        <h2>{words.title}</h2>
        {spread.isFetching && (
          <ProgressLine label={words.computing} progress={spread.progress} onStop={spread.stop} />
        )}
      </div>
      {spread.isError && (
        <p className="wrong" role="alert">
          {spread.error.message}
        </p>
      )}
      {!spread.isFetching && !spread.data && !spread.isError && (
        <button type="button" className="outlined" onClick={() => void spread.refetch()}>
          {words.again}
        </button>
      )}
      {spread.data && (
        <OldAnswer isOld={spread.isOld || spread.isError}>
          <Shares spread={spread.data} />
        </OldAnswer>
      )}
      <Thresholds />
    </section>
  );
}
