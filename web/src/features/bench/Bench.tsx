/** One gang on the bench: the thread above, steps, editors and figures below, the reasons beside. */
import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { Broken } from "../../app/Broken";
import { isShortcut, isTyping } from "../../app/keys";
import { Refusal } from "../../api/client";
import { texts } from "../../texts/en";
import { BenchHead } from "./BenchHead";
import { type Draft, draftOf, type Gang, useBench } from "./draft";
import { FitListEditor } from "./editors/FitListEditor";
import { CableEditor } from "./editors/CableEditor";
import { FieldErrors } from "./editors/FieldErrors";
import { ControlStep } from "./lit/ControlStep";
import { OverallVerdict } from "./OverallVerdict";
import { type Loop, useJudgement, useKeepGang, useOverall } from "./queries";
import { SheetStep } from "./SheetStep";
import { isSurveyStep, type Step, STEP_OF, STEPS } from "./steps";
import { useChoices, useSurvey } from "../survey/queries";
import { SurveyPanel } from "../survey/SurveyPanel";
import { ASK_EVERY_MS } from "../survey/useConfirmed";
import { OffLine } from "../isolation/OffLine";
import { Thread } from "./thread/Thread";
import { WhyPanel } from "./WhyPanel";

const SurveySteps = lazy(() => import("../survey/SurveySteps").then((m) => ({ default: m.SurveySteps })));
const ChooseBypass = lazy(() => import("./choose/ChooseBypass").then((m) => ({ default: m.ChooseBypass })));
const OffStep = lazy(() => import("./off/OffStep").then((m) => ({ default: m.OffStep })));
const OffState = lazy(() => import("./OffState").then((m) => ({ default: m.OffState })));

interface Props {
  loop: Loop;
  gang: Gang;
  mayEdit: boolean;
  onAddGang: () => void;
}

/** Where a gang is taken up: at its figures, at its lamps, or with the survey of a box nobody has looked at. */
function firstStep(gang: Gang): Step {
  if (gang.lamps.length > 0) return "off";
  return gang.position > 1 ? "lamps" : "visit";
}

export function Bench({ loop, gang, mayEdit, onAddGang }: Props) {
  const bench = useBench(gang);
  const [step, setStep] = useState<Step>(firstStep(gang));
  const [params, setParams] = useSearchParams();
  const place = Math.max(1, Number(params.get("box") ?? 1) || 1);
  const survey = useSurvey(loop.id, place, isSurveyStep(step) ? ASK_EVERY_MS : false);
  const choices = useChoices(loop.region);
  const judged = useJudgement(gang.id, bench.draft);
  const overall = useOverall(gang.id, bench.draft);
  const keeping = useKeepGang(loop.id);
  const { draft, record, isChanged, change, undo, takeRecord, keptAs } = bench;

  const { isPending: isKeeping, mutate: sendKeep } = keeping;
  const keep = useCallback(
    (version: number, what: Draft) => {
      // A second press while the first is on its way is the same press.
      if (isKeeping) return;
      sendKeep({ id: gang.id, version, draft: what }, { onSuccess: (kept) => keptAs(kept, what) });
    },
    [gang.id, isKeeping, keptAs, sendKeep],
  );
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !isTyping(event)) {
        event.preventDefault();
        undo();
      } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "s") {
        event.preventDefault();
        if (mayEdit && isChanged) keep(record.version, draft);
      } else if (isShortcut(event)) {
        // The tenth step is on the key beside the 9.
        const chosen = /^[0-9]$/.test(event.key) ? STEPS[(Number(event.key) + 9) % 10] : undefined;
        if (chosen) setStep(chosen);
      }
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [draft, isChanged, keep, mayEdit, record.version, undo]);

  const problem = judged.error instanceof Refusal ? judged.error : null;
  const stale =
    keeping.error instanceof Refusal && keeping.error.code === "stale_version" ? keeping.error : null;
  const theirs = stale?.current as Gang | undefined;
  // A refused figure has no judgement; a lost connection leaves the last one, marked as not of this.
  const judgement = problem && problem.status !== 0 ? undefined : judged.data;
  const age = judged.isCurrent ? "now" : judged.isAway ? "away" : "computing";
  const editor = { draft, change, errors: problem?.errors ?? [], v_rms: loop.v_rms, f_hz: loop.f_hz };
  return (
    <div className="bench">
      <BenchHead
        loop={loop}
        gang={gang}
        bench={bench}
        mayEdit={mayEdit}
        isKeeping={keeping.isPending}
        onKeep={() => keep(record.version, draft)}
        onAddGang={onAddGang}
      />
      {stale && theirs ? (
        <div className="notice" role="alert">
          <span>{texts.bench.stale}</span>
          <button type="button" className="outlined" onClick={() => takeRecord(theirs, draftOf(theirs))}>
            {texts.bench.takeTheirs}
          </button>
          <button type="button" className="solid" onClick={() => keep(theirs.version, draft)}>
            {texts.bench.keepMine}
          </button>
        </div>
      ) : (
        keeping.isError && (
          <p className="notice wrong" role="alert">
            {keeping.error.message}
          </p>
        )
      )}
      <OffLine loop={loop.id} />
      {bench.leftBehind && (
        <div className="notice" role="alert">
          <span>{texts.bench.leftBehind}</span>
          <button type="button" className="outlined" onClick={() => bench.takeUp(false)}>
            {texts.bench.leaveIt}
          </button>
          <button type="button" className="solid" onClick={() => bench.takeUp(true)}>
            {texts.bench.takeUp}
          </button>
        </div>
      )}
      {age === "away" && (
        <p className="notice old-answer" role="status">
          {texts.device.oldAway}
        </p>
      )}
      <Thread
        isOld={age !== "now"}
        loop={loop}
        position={gang.position}
        survey={survey.data}
        draft={draft}
        judgement={judgement}
        works={overall.isCurrent ? overall.data?.works : undefined}
        step={step}
        onStep={setStep}
      />
      <div className="bench-body">
        <nav className="steps" aria-label={texts.helpText.keys[0][1]}>
          {STEPS.map((name, index) => (
            <button
              key={name}
              type="button"
              aria-current={name === step ? "step" : undefined}
              onClick={() => setStep(name)}
            >
              <span className="figure">{(index + 1) % 10}</span> {texts.bench.steps[index]}
            </button>
          ))}
        </nav>
        <section
          className={`work${age === "away" && !isSurveyStep(step) ? " is-old" : ""}`}
          aria-label={texts.bench.steps[STEPS.indexOf(step)]}
        >
          <Broken where={step}>
            {isSurveyStep(step) && survey.isError && survey.data === undefined && (
              <p className="wrong" role="alert">
                {survey.error.message}
              </p>
            )}
            {isSurveyStep(step) && survey.data && choices.data && (
              <Suspense fallback={<p className="quiet">{texts.bench.loading}</p>}>
                <SurveySteps
                  key={place}
                  step={step}
                  query={survey}
                  survey={survey.data}
                  loopName={loop.name}
                  onPlace={(next) => setParams(next > 1 ? { box: String(next) } : {}, { replace: true })}
                  choices={choices.data}
                  site={loop.site}
                  region={loop.region}
                  mayEdit={mayEdit}
                />
              </Suspense>
            )}
            {!isSurveyStep(step) && problem && problem.status !== 0 && <FieldErrors problem={problem} />}
            {step === "lamps" && <FitListEditor sort="lamp" {...editor} />}
            {step === "control" && <ControlStep gang={gang} {...editor} />}
            {step === "bypass" && (
              <Suspense fallback={<p className="quiet">{texts.bench.computing}</p>}>
                <ChooseBypass gang={gang} draft={draft} change={change} mayEdit={mayEdit} />
              </Suspense>
            )}
            {step === "bypass" && <FitListEditor sort="bypass" {...editor} />}
            {step === "cable" && <CableEditor {...editor} />}
            {step === "sheet" && (
              <SheetStep loop={loop} gang={gang} isChanged={isChanged} onOpen={change} draft={draft} />
            )}
            {step !== "sheet" && !isSurveyStep(step) && (
              <Suspense fallback={<p className="quiet">{texts.bench.computing}</p>}>
                {step === "off" ? (
                  <OffStep loop={loop} gang={gang} draft={draft} judgement={judgement} mayEdit={mayEdit} />
                ) : (
                  <OffState judgement={judgement} isWhole={false} />
                )}
              </Suspense>
            )}
          </Broken>
        </section>
        {isSurveyStep(step) && survey.data && choices.data ? (
          <SurveyPanel survey={survey.data} choices={choices.data} />
        ) : (
          <WhyPanel
            judgement={judgement}
            isComputing={judged.isFetching}
            isOld={age === "away"}
            problem={problem?.status === 0 ? null : problem}
          >
            <OverallVerdict
              overall={overall.data}
              isCurrent={overall.isCurrent}
              onNext={(action) => setStep(STEP_OF[action])}
            />
          </WhyPanel>
        )}
      </div>
    </div>
  );
}
