/** What the drawing says, as a sentence. */
import { engineering } from "../../../format";
import type { Draft } from "../draft";
import type { Judgement, Loop } from "../queries";

export function inWords(loop: Loop, draft: Draft, judgement: Judgement | undefined): string {
  const figures = judgement?.figures;
  if (!figures) {
    const parts = [
      draft.control ? "a control" : "no control yet",
      draft.lamps.length > 0 ? "lamps" : "no lamps yet",
    ];
    return `Breaker ${loop.breaker || "?"}, ${parts.join(", ")}: what flows is not known.`;
  }
  const state = figures.control.state;
  const past = [
    ...figures.shares.bypass_a.map((i_a) => `${engineering(i_a, "A")} through the bypass`),
    ...figures.lamps.map(
      (lamp, k) => `${engineering(lamp.i_rms_a, "A")} through lamp group ${k + 1} (${lamp.state})`,
    ),
  ];
  return (
    `${engineering(figures.line_i_rms_a, "A")} flows from breaker ${loop.breaker || "?"} through the ` +
    `${state ? `control (${state})` : "switch"} to the ceiling point; ${past.join(", ")}. ` +
    `${engineering(figures.lamp_v_rms, "V")} stand at the lamp terminals.`
  );
}
