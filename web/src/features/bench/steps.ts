/** The steps of the bench, in working order; their words are in the texts, in the same order. */
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
