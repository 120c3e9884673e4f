/** Proving dead in its one order: tester, every pair one at a time, tester again, charge. */
import { useMemo } from "react";
import { significant } from "../../format";
import { texts } from "../../texts";
import { useIsolationWords } from "../isolation/words";
import { PairAsk } from "./PairAsk";
import { type ProofInHand, proofInHand } from "./proofInHand";
import type { StepProps } from "./stepProps";

const words = texts.isolation;

export function ProofCard(props: StepProps) {
  const { timeOf } = useIsolationWords();
  const { survey, entries, waiting, mayEdit } = props;
  const proof = useMemo(() => proofInHand(survey, waiting), [survey, waiting]);
  const isReady = survey.is_off && survey.cover_missing.length === 0;
  const begin = () => entries.proofEvent({ proof: crypto.randomUUID(), kind: "tester_before" }, words.begin);
  if (survey.proof.pairs.length === 0) return <p className="quiet">{words.noConductor}</p>;
  const begun = proof.id !== null && !proof.isFailed;
  return (
    <section className="proof" aria-label={words.second}>
      {!isReady && proof.reads.length === 0 && <p className="quiet">{words.proofWaits}</p>}
      {isReady && proof.id === null && survey.proof.state !== "none" && (
        <ul className="missing">
          {survey.proof.missing.map((entry, index) => (
            <li key={`${entry.code}-${index}`}>{entry.text}</li>
          ))}
        </ul>
      )}
      {proof.isFailed && (
        <div className="notice wrong" role="alert">
          {survey.proof.missing
            .filter((entry) => entry.code === "still_live")
            .map((entry, index) => (
              <p key={index}>{entry.text}</p>
            ))}
          <p>{words.failedHelp}</p>
        </div>
      )}
      {mayEdit && isReady && begun && <NextEvent {...props} proof={proof} />}
      {mayEdit && isReady && (
        <button
          type="button"
          className={begun ? "plain add" : "solid add"}
          onClick={begin}
          disabled={waiting.some(
            (entry) => entry.body["kind"] === "tester_before" && entry.state === "waiting",
          )}
        >
          {proof.id === null && survey.proof.state === "none" ? words.begin : words.beginAnew}
        </button>
      )}
      {proof.reads.length > 0 && (
        <>
          <h4>{words.read}</h4>
          <ul className="pair-reads" aria-label={words.read}>
            {proof.reads.map((read) => (
              <li key={read.id} className={read.isLive ? "is-live" : ""}>
                <span>{read.text}</span>
                <b className="figure">{read.v === null ? "?" : `${significant(read.v, 2)} V`}</b>
                <b>{read.isLive ? `✗ ${words.live}` : "✓"}</b>
                <small>
                  {[
                    read.isSent ? `${timeOf(read.at)}, ${read.by}` : words.waiting,
                    ...(read.isSimulated ? [words.simulated] : []),
                  ].join(" · ")}
                </small>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

/** What comes next in the proof that is under way. */
function NextEvent({ proof, ...props }: StepProps & { proof: ProofInHand }) {
  const { entries, survey } = props;
  const id = proof.id ?? "";
  const [pair] = proof.left;
  if (pair) {
    return (
      <PairAsk key={id} {...props} proof={id} pair={pair} done={proof.of - proof.left.length} of={proof.of} />
    );
  }
  if (!proof.hasAfter) {
    return (
      <button
        type="button"
        className="solid add"
        onClick={() => entries.proofEvent({ proof: id, kind: "tester_after" }, words.after)}
      >
        {words.after}
      </button>
    );
  }
  if (proof.hasCharge) return null;
  const say = (charge: "none_fitted" | "discharged", label: string) =>
    entries.proofEvent({ proof: id, kind: "charge", charge }, label);
  return (
    <div className="charge" role="group" aria-label={words.charge}>
      <p>
        <b>{words.charge}</b> {survey.proof.is_control_fitted && words.chargeFitted}
      </p>
      {!survey.proof.is_control_fitted && (
        <button type="button" className="outlined" onClick={() => say("none_fitted", words.chargeNone)}>
          {words.chargeNone}
        </button>
      )}
      <button type="button" className="outlined" onClick={() => say("discharged", words.chargeGone)}>
        {words.chargeGone}
      </button>
    </div>
  );
}
