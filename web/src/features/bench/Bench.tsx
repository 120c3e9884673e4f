/** One gang on the bench: the thread above, steps, editors and figures below, the reasons beside. */
import { useCallback, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useSearchParams } from "react-router";
import { Broken } from "../../app/Broken";
import { isShortcut, isTyping } from "../../app/keys";
import { late } from "../../app/late";
import { isStale, Refusal } from "../../api/client";
import { say, texts } from "../../texts";
import { BenchHead } from "./BenchHead";
import { type Draft, type Gang, useBench } from "./draft";
import { FitListEditor } from "./editors/FitListEditor";
import { CableEditor } from "./editors/CableEditor";
import { FirstVerdict } from "./FirstVerdict";
import { Complaint } from "./Complaint";
import { FieldErrors } from "./editors/FieldErrors";
import { ControlEditor } from "./editors/ControlEditor";
import { OverallVerdict } from "./OverallVerdict";
import { type Loop, useJudgement, useKeepGang, useOverall } from "./queries";
import { SheetStep } from "./SheetStep";
import { type At, editsThread, isSurveyStep, placeOf, READY, keyOf, useAt } from "./steps";
import { StepRail } from "./StepRail";
import { useTitle } from "../../app/useTitle";
import { useChoices, useSurvey } from "../survey/queries";
import { SurveyPanel } from "../survey/SurveyPanel";
import { ASK_EVERY_MS } from "../survey/useConfirmed";
import { OutdatedGang } from "../outdated/Outdated";
import { OffLine } from "../isolation/OffLine";
import { Thread } from "./thread/Thread";
import { ThreadStrip } from "./thread/ThreadStrip";
import { WhyPanel } from "./WhyPanel";

const loading = () => <p className="quiet">{texts.bench.loading}</p>;
const computing = () => <p className="quiet">{texts.bench.computing}</p>;
const SurveySteps = late(() => import("../survey/SurveySteps").then((m) => m.SurveySteps), loading);
const ChooseBypass = late(() => import("./choose/ChooseBypass").then((m) => m.ChooseBypass), computing);
const OffStep = late(() => import("./off/OffStep").then((m) => m.OffStep), computing);
const Remedies = late(() => import("./choose/Remedies").then((m) => m.Remedies));
const After = late(() => import("./choose/After").then((m) => m.After), computing);
const Loads = late(() => import("./off/Loads").then((m) => m.Loads), computing);
const Together = late(() => import("./off/Loads").then((m) => m.Together));
const RouteStep = late(() => import("../ways/RouteStep").then((m) => m.RouteStep), computing);
const FitStep = late(() => import("../fit/FitStep").then((m) => m.FitStep), computing);
const FitPanel = late(() => import("../fit/FitPanel").then((m) => m.FitPanel));
const ProveList = late(() => import("../prove/ProveList").then((m) => m.ProveList), computing);
const CasesStep = late(() => import("../prove/CasesStep").then((m) => m.CasesStep), computing);
const SetupStep = late(() => import("../setup/SetupStep").then((m) => m.SetupStep), computing);
const SignStep = late(() => import("../handover/SignStep").then((m) => m.SignStep), computing);
const HistoryStep = late(() => import("../handover/HistoryStep").then((m) => m.HistoryStep), computing);
const WithLightOn = late(() => import("./lit/WithLightOn").then((m) => m.WithLightOn), computing);
const OffState = late(() => import("./OffState").then((m) => m.OffState));

/** Where most loops are opened at, fetched while the loop is. */
export function fetchFirst(): void {
  OffStep.fetch();
  OffState.fetch();
}

interface Props {
  loop: Loop;
  gang: Gang;
  mayEdit: boolean;
  onAddGang: () => void;
}

/** Steps of the loop as a whole, which come after a good judgement. */
const LATER = ["survey", "route", "fit", "prove", "case", "setup", "hand_over", "check", "done"] as const;

/** Where a gang is taken up: at its figures, at its lamps, or with the survey of a box nobody has looked at. */
function firstAt(gang: Gang): At {
  if (gang.lamps.length > 0) return { step: "judge", tab: "light_off" };
  return gang.position > 1 ? { step: "parts", tab: "lamps" } : { step: "visit", tab: null };
}

export function Bench({ loop, gang, mayEdit, onAddGang }: Props) {
  const bench = useBench(gang);
  // Where one began stays where one began, whatever is put on the bench.
  const [first] = useState(() => firstAt(gang));
  const [{ step, tab }, go] = useAt(first);
  const [isThreadShown, showThread] = useState(false);
  const stepName = [texts.bench.steps[step], ...(tab ? [texts.bench.tabs[tab]] : [])].join(", ");
  useTitle(stepName, loop.name);
  const [params, setParams] = useSearchParams();
  const place = Math.max(1, Number(params.get("box") ?? 1) || 1);
  const survey = useSurvey(loop.id, place, isSurveyStep(step) ? ASK_EVERY_MS : false);
  // The thread draws the box that switches the loop, whichever is being looked at.
  const switching = useSurvey(loop.id, 1, false);
  const choices = useChoices(loop.region);
  const judged = useJudgement(gang.id, bench.draft);
  const overall = useOverall(gang.id, bench.draft);
  const keeping = useKeepGang(loop.id);
  const { draft, record, isChanged, change, undo, takeRecord, putUpon, keptAs } = bench;

  const latest = useRef({ draft, isChanged, version: record.version });
  latest.current = { draft, isChanged, version: record.version };
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
        // What stands half typed in a field is read first, as by going on to the next one.
        const field = document.activeElement instanceof HTMLElement ? document.activeElement : null;
        flushSync(() => field?.blur());
        field?.focus();
        const now = latest.current;
        if (mayEdit && now.isChanged) keep(now.version, now.draft);
      } else if (isShortcut(event)) {
        const chosen = READY.find((name) => keyOf(name) === event.key);
        if (chosen) go(chosen);
      }
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [go, keep, mayEdit, undo]);

  const problem = judged.error instanceof Refusal ? judged.error : null;
  const stale = isStale(keeping.error) ? keeping.error : null;
  const theirs = stale?.current as Gang | undefined;
  const answer = (take: (record: Gang) => void) => {
    if (theirs) take(theirs);
    keeping.reset();
  };
  // A refused figure has no judgement; a lost connection leaves the last one, marked as not of this.
  const judgement = problem && problem.status !== 0 ? undefined : judged.data;
  const works = overall.isCurrent ? overall.data?.works : undefined;
  const isWhole = draft.control !== null && draft.lamps.length > 0;
  const age = judged.isCurrent ? "now" : judged.isAway ? "away" : "computing";
  const editor = {
    draft,
    change,
    errors: problem?.errors ?? [],
    v_rms: loop.v_rms,
    f_hz: loop.f_hz,
    region: loop.region,
  };
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
          <button type="button" className="outlined" onClick={() => answer(takeRecord)}>
            {texts.bench.takeTheirs}
          </button>
          <button type="button" className="outlined" onClick={() => keep(theirs.version, draft)}>
            {texts.bench.keepMine}
          </button>
          <button type="button" className="solid" onClick={() => answer(putUpon)}>
            {texts.bench.both}
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
      <OutdatedGang mayEdit={mayEdit && !isChanged} gang={gang.id} />
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
      {bench.clashes && isChanged && (
        <p className="notice" role="status">
          {texts.bench.putTogether}
          {bench.clashes.length > 0 &&
            ` ${say(texts.bench.clashes, { parts: bench.clashes.map((name) => texts.bench.partsOf[name]).join(", ") })}`}
        </p>
      )}
      {age === "away" && (
        <p className="notice old-answer" role="status">
          {texts.device.oldAway}
        </p>
      )}
      <FirstVerdict
        draft={draft}
        isKept={gang.works !== "unknown" || (isWhole && !isChanged && record.version > 1)}
        mayEdit={mayEdit}
        onGo={go}
        onKeep={() => keep(record.version, draft)}
      />
      {editsThread({ step, tab }) || isThreadShown ? (
        <Thread
          isOld={age !== "now"}
          loop={loop}
          position={gang.position}
          survey={switching.data}
          draft={draft}
          judgement={judgement}
          works={works}
          open={step === "parts" ? tab : null}
          onOpen={(part) => go("parts", part)}
          onHide={editsThread({ step, tab }) ? undefined : () => showThread(false)}
        />
      ) : (
        <ThreadStrip
          isOld={age !== "now"}
          loop={loop}
          draft={draft}
          judgement={judgement}
          works={works}
          onShow={() => showThread(true)}
        />
      )}
      <div className={step === "setup" ? "bench-body is-wide" : "bench-body"}>
        <StepRail at={{ step, tab }} onGo={go} />
        <section
          className={`work${age === "away" && !isSurveyStep(step) ? " is-old" : ""}`}
          aria-label={stepName}
        >
          <Broken where={stepName}>
            {isSurveyStep(step) && survey.isError && survey.data === undefined && (
              <p className="wrong" role="alert">
                {survey.error.message}
              </p>
            )}
            {isSurveyStep(step) && survey.data && choices.data && (
              <SurveySteps
                key={place}
                step={step === "box" && tab === "which" ? "conductors" : (step as "visit" | "safe" | "box")}
                query={survey}
                survey={survey.data}
                loopName={loop.name}
                onPlace={(next) =>
                  setParams(
                    (now) => {
                      const changed = new URLSearchParams(now);
                      if (next > 1) changed.set("box", String(next));
                      else changed.delete("box");
                      return changed;
                    },
                    { replace: true },
                  )
                }
                choices={choices.data}
                site={loop.site}
                region={loop.region}
                mayEdit={mayEdit}
              />
            )}
            {!isSurveyStep(step) && problem && problem.status !== 0 && <FieldErrors problem={problem} />}
            {tab === "lamps" && <FitListEditor sort="lamp" {...editor} />}
            {tab === "control" && <ControlEditor {...editor} />}
            {tab === "bypass" && <FitListEditor sort="bypass" {...editor} />}
            {tab === "cable" && <CableEditor {...editor} />}
            {step === "parts" && <OffState judgement={judgement} isWhole={false} />}
            {tab === "light_off" && loop.gangs.length > 1 && isWhole && (
              <Together loop={loop} gang={gang} draft={draft} />
            )}
            {step === "judge" && isWhole && overall.data?.next_action === "remedy" && (
              <Remedies
                gang={gang}
                draft={draft}
                change={change}
                onAll={() => go("route", "bypass_choice")}
              />
            )}
            {tab === "light_off" && <Complaint gang={gang} draft={draft} />}
            {tab === "light_off" && (
              <OffStep gang={gang} draft={draft} judgement={judgement} mayEdit={mayEdit} />
            )}
            {tab === "light_on" &&
              (isWhole ? <WithLightOn gang={gang} {...editor} /> : <p className="empty">{texts.off.none}</p>)}
            {tab === "loads" &&
              (isWhole ? <Loads gang={gang} draft={draft} /> : <p className="empty">{texts.off.none}</p>)}
            {step === "route" && tab !== "bypass_choice" && (
              <RouteStep
                loop={loop}
                tab={tab as "ways" | "map" | "drawing"}
                isChanged={isChanged}
                mayEdit={mayEdit}
                onGo={go}
              />
            )}
            {tab === "bypass_choice" &&
              (isWhole ? (
                <ChooseBypass gang={gang} draft={draft} change={change} />
              ) : (
                <p className="empty">{texts.off.none}</p>
              ))}
            {step === "fit" && <FitStep loop={loop} mayEdit={mayEdit} onGo={go} />}
            {tab === "list" && <ProveList loop={loop} mayEdit={mayEdit} onGo={go} />}
            {tab === "readings" && <After gang={gang} draft={draft} mayEdit={mayEdit} />}
            {tab === "wrong" && <CasesStep loop={loop} gang={gang.id} mayEdit={mayEdit} onGo={go} />}
            {step === "setup" && (
              <SetupStep
                loop={loop}
                gang={gang}
                tab={tab as "radio" | "join" | "programs" | "fails"}
                mayEdit={mayEdit}
                onGo={go}
              />
            )}
            {tab === "sign" && <SignStep loop={loop} />}
            {tab === "history" && <HistoryStep loop={loop.id} />}
            {tab === "papers" && (
              <SheetStep loop={loop} gang={gang} isChanged={isChanged} onOpen={change} draft={draft} />
            )}
          </Broken>
        </section>
        {isSurveyStep(step) && survey.data && choices.data ? (
          <SurveyPanel survey={survey.data} choices={choices.data} region={loop.region} />
        ) : step === "setup" || tab === "sign" ? null : step === "fit" ? (
          <FitPanel loop={loop.id} />
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
              error={overall.error}
              chosen={loop.chosen}
              later={LATER.find((later) => later === loop.next_step) ?? null}
              onNext={(action) => {
                const next = placeOf(action);
                go(next.step, next.tab);
              }}
            />
          </WhyPanel>
        )}
      </div>
    </div>
  );
}
