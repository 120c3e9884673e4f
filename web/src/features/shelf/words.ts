/** A part's kind in words. */
import { texts } from "../../texts/en";

export function kindWords(kind: string): string {
  return texts.shelf.kinds[kind] ?? texts.kinds[kind] ?? kind;
}
