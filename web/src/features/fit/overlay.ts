/** The steps as they are once everything that was pressed here has arrived. */
import type { Entry } from "../../device/entry";
import type { Fitting, FitStep, Outcome } from "./queries";

export interface Shown extends FitStep {
  /** A press of this device that the server has not seen. */
  isWaiting: boolean;
  /** Why the server did not take one. */
  refusal: string;
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
 * What stands against a step. While something pressed here has not arrived, what the gates say is not of now; but a
 * picture that nobody took is missing all the same.
 */
export function missingNow(step: Shown, entries: readonly Entry[], pictures: ReadonlySet<number>) {
  if (!entries.some((entry) => entry.state === "waiting")) return step.missing;
  return step.missing.filter((one) => one.code === "no_photo_yet" && !pictures.has(step.place_number));
}

/** The first that is open: where hands are. */
export function nextOf(steps: readonly Shown[]): Shown | undefined {
  return steps.find((step) => !isSettled(step));
}
