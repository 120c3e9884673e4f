/** A time as people here read it. */
import { language } from "../texts";

export function when(at: string): string {
  return new Date(at).toLocaleString(language, { dateStyle: "medium", timeStyle: "short" });
}

/** A day, of its date as it is kept. */
export function dayOf(date: string): string {
  return new Date(`${date}T12:00:00`).toLocaleDateString(language, { dateStyle: "medium" });
}

/** Today as dates are kept, by the clock of the device. */
export function today(): string {
  const now = new Date();
  const parts = [now.getFullYear(), now.getMonth() + 1, now.getDate()];
  return parts.map((part) => String(part).padStart(2, "0")).join("-");
}
