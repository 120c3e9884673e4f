/** The steps of the bench, in working order; their words are in the texts, in the same order. */
import type { Schemas } from "../../api/client";

export const STEPS = [
  "visit",
  "safe",
  "box",
  "conductors",
  "lamps",
  "control",
  "bypass",
  "cable",
  "off",
  "sheet",
] as const;
export type Step = (typeof STEPS)[number];

/** The steps that belong to the box as a whole, not to one gang. */
export const SURVEY_STEPS = ["visit", "safe", "box", "conductors"] as const;

export function isSurveyStep(step: Step): step is (typeof SURVEY_STEPS)[number] {
  return (SURVEY_STEPS as readonly string[]).includes(step);
}

/** Where the next thing is done. */
export const STEP_OF: Record<Schemas["NextActionEnum"], Step> = {
  lamps: "lamps",
  control: "control",
  remedy: "bypass",
  measure: "off",
  light_on: "control",
  loads: "off",
  sheet: "sheet",
};
