/** What the trials say of a choice, in words. */
import { say, texts } from "../../../texts";
import type { Choice } from "./queries";

const words = texts.choose;

/** Light off first, then light on where that was looked at. */
export function sharesOf(choice: Choice): string[] {
  const { samples, share_ratio: off, on_share_ratio: on } = choice;
  const well = Math.round(off * samples);
  return [
    samples === 0 ? words.samplesNone : say(words.samples, { well, samples }),
    ...(on === null ? [] : [say(words.withLight, { percent: Math.round(on * 100) })]),
  ];
}
