/** The steps of the bench, in working order; their words are in the texts, in the same order. */
export const STEPS = ["lamps", "control", "bypass", "cable", "off", "sheet"] as const;
export type Step = (typeof STEPS)[number];
