/** What the drawing says, as a sentence. */
import { engineering } from "../../../format";
import { say, texts, wordOf } from "../../../texts";
import type { ControlFit, Draft } from "../draft";
import type { Judgement, Loop } from "../queries";

const words = texts.thread;

/** A state of lamps or control, as people call it. */
export function stateWord(state: string): string {
  return wordOf(words.states, state) ?? state;
}

/** Whether the control is fed, and by what; a question mark where that is not computed. */
export function feedWord(control: ControlFit | null, state: string | null): string {
  if (control === null) return "?";
  if (state !== null) return stateWord(state);
  if (control.wired === "straight") return words.byNeutral;
  return control.figures["standby"] ? "?" : words.noElectronics;
}

export function inWords(loop: Loop, draft: Draft, judgement: Judgement | undefined): string {
  const figures = judgement?.figures;
  const breaker = loop.breaker || "?";
  if (!figures) {
    return say(words.said.nothing, {
      breaker,
      control: draft.control ? "yes" : "no",
      lamps: draft.lamps.length > 0 ? "yes" : "no",
    });
  }
  const past = [
    ...figures.shares.bypass_a.map((i_a) => say(words.said.bypass, { current: engineering(i_a, "A") })),
    ...figures.lamps.map((lamp, k) =>
      say(words.said.lamps, {
        current: engineering(lamp.i_rms_a, "A"),
        group: k + 1,
        state: stateWord(lamp.state),
      }),
    ),
  ];
  const state = figures.control.state;
  const isSwitch = state === null && draft.control?.wired !== "straight";
  return say(isSwitch ? words.said.flowsSwitch : words.said.flowsControl, {
    current: engineering(figures.line_i_rms_a, "A"),
    breaker,
    state: feedWord(draft.control, state),
    past: past.join(", "),
    volts: engineering(figures.lamp_v_rms, "V"),
  });
}
