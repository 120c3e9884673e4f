/** The steps of the job, and the parts of the one that is open. */
import { texts } from "../../texts";
import { type At, keyOf, READY, type Step, type Tab, tabsOf } from "./steps";

interface Props {
  at: At;
  onGo: (step: Step, tab?: Tab | null) => void;
}

export function StepRail({ at, onGo }: Props) {
  return (
    <nav className="steps" aria-label={texts.bench.stepsName}>
      {READY.map((step) => (
        <div key={step} className={step === at.step ? "step is-open" : "step"}>
          <button
            type="button"
            aria-current={step === at.step ? "step" : undefined}
            onClick={() => onGo(step)}
          >
            <span className="figure">{keyOf(step)}</span> {texts.bench.steps[step]}
          </button>
          {step === at.step &&
            tabsOf(step).map((tab) => (
              <button
                key={tab}
                type="button"
                className="step-tab"
                aria-current={tab === at.tab ? "true" : undefined}
                onClick={() => onGo(step, tab)}
              >
                {texts.bench.tabs[tab]}
              </button>
            ))}
        </div>
      ))}
    </nav>
  );
}
