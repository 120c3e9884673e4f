/** The steps as they are once everything that was pressed here has arrived. */
import type { Entry } from "../../device/entry";
import type { Fitting, FitStep, Outcome } from "./queries";

export interface Shown extends FitStep {
  /** A press of this device that the server has not seen. */
  isWaiting: boolean;
  /** Why the server did not take one. */
  refusal: string;
}

/** What of the loop waits beside presses: places with a picture from before, and whether anything of power or proof. */
export interface Waiting {
  pictures: ReadonlySet<number>;
  isPower: boolean;
}

export function isSettled(step: { outcome: Outcome }): boolean {
  return step.outcome === "done" || step.outcome === "skipped";
}

export function shownSteps(fitting: Fitting, entries: readonly Entry[]): Shown[] {
  return fitting.steps.map((step) => {
    const own = entries.filter((entry) => entry.body["step"] === step.key);
    const waiting = own.filter((entry) => entry.state === "waiting").at(-1);
    const refused = own.filter((entry) => entry.state === "refused").at(-1);
    return {
      ...step,
      outcome: waiting ? (waiting.body["outcome"] as Outcome) : step.outcome,
      reason: waiting ? String(waiting.body["reason"] ?? "") : step.reason,
      isWaiting: waiting !== undefined,
      refusal: refused?.refusal?.text ?? "",
    };
  });
}

/**
 * What stands against a step. A picture that waits here is no reason any more: it goes before whatever is pressed
 * now. While a press of this step's loop has not arrived, the gates speak of before it: the step before is no reason
 * then, nor are a lock and a proof that wait here to arrive. All the rest is.
 */
export function missingNow(step: Shown, pressed: readonly Entry[], waits: Waiting) {
  const isPressed = pressed.some((entry) => entry.state === "waiting");
  return step.missing.filter((one) => {
    if (one.code === "no_photo_yet") return !waits.pictures.has(step.place_number);
    if (one.code === "step_before_it") return !isPressed;
    return !isPressed || !waits.isPower;
  });
}

/** The first that is open: where hands are. */
export function nextOf(steps: readonly Shown[]): Shown | undefined {
  return steps.find((step) => !isSettled(step));
}
