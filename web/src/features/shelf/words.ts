/** A part's kind in words. */
import { texts, wordOf } from "../../texts";

export function kindWords(kind: string): string {
  return wordOf(texts.shelf.kinds, kind) ?? wordOf(texts.kinds, kind) ?? kind;
}
