/** One gang on the bench: the thread above, steps, editors and figures below, the reasons beside. */
import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { isTyping } from "../../app/keys";
import { Refusal } from "../../api/client";
import { texts } from "../../texts/en";
import { BenchHead } from "./BenchHead";
import { type Draft, draftOf, type Gang, useBench } from "./draft";
import { FitListEditor } from "./editors/FitListEditor";
import { CableEditor } from "./editors/CableEditor";
import { FieldErrors } from "./editors/FieldErrors";
import { ControlStep } from "./lit/ControlStep";
import { type Loop, useJudgement, useKeepGang } from "./queries";
import { SheetStep } from "./SheetStep";
import { isSurveyStep, type Step, STEPS } from "./steps";
import { useChoices, useSurvey } from "../survey/queries";
import { SurveyPanel } from "../survey/SurveyPanel";
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
  const survey = useSurvey(loop.id);
  const choices = useChoices(loop.region);
  const judged = useJudgement(gang.id, bench.draft);
  const keeping = useKeepGang(loop.id);
  const { draft, record, isChanged, change, undo, takeRecord } = bench;

  const keep = useCallback(
    (version: number, what: Draft) => {
      keeping.mutate({ id: gang.id, version, draft: what }, { onSuccess: (kept) => takeRecord(kept) });
    },
    [gang.id, keeping, takeRecord],
  );
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !isTyping(event)) {
        event.preventDefault();
        undo();
      } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "s") {
        event.preventDefault();
        if (mayEdit && isChanged) keep(record.version, draft);
      } else if (!isTyping(event) && !event.ctrlKey && !event.metaKey && !event.altKey) {
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
  const judgement = judged.isError ? undefined : judged.data;
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
      <Thread
        loop={loop}
        position={gang.position}
        survey={survey.data}
        draft={draft}
        judgement={judgement}
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
        <section className="work" aria-label={texts.bench.steps[STEPS.indexOf(step)]}>
          {isSurveyStep(step) && survey.isError && (
            <p className="wrong" role="alert">
              {survey.error.message}
            </p>
          )}
          {isSurveyStep(step) && survey.data && choices.data && (
            <Suspense fallback={<p className="quiet">{texts.bench.loading}</p>}>
              <SurveySteps
                step={step}
                survey={survey.data}
                choices={choices.data}
                site={loop.site}
                region={loop.region}
                mayEdit={mayEdit}
              />
            </Suspense>
          )}
          {!isSurveyStep(step) && problem && <FieldErrors problem={problem} />}
          {step === "lamps" && <FitListEditor sort="lamp" {...editor} />}
          {step === "control" && <ControlStep gang={gang} {...editor} />}
          {step === "bypass" && (
            <Suspense fallback={<p className="quiet">{texts.bench.computing}</p>}>
              <ChooseBypass gang={gang} draft={draft} change={change} />
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
                <OffStep loop={loop} gang={gang} draft={draft} judgement={judgement} />
              ) : (
                <OffState judgement={judgement} isWhole={false} />
              )}
            </Suspense>
          )}
        </section>
        {isSurveyStep(step) && survey.data && choices.data ? (
          <SurveyPanel survey={survey.data} choices={choices.data} />
        ) : (
          <WhyPanel judgement={judgement} isComputing={judged.isFetching} problem={problem} />
        )}
      </div>
    </div>
  );
}
