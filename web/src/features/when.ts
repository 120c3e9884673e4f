/** A time as people here read it. */
import { language } from "../texts";

export function when(at: string): string {
  return new Date(at).toLocaleString(language, { dateStyle: "medium", timeStyle: "short" });
}
