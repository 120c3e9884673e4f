/** An isolation in one line. */
import { language, say, texts } from "../../texts";
import type { Isolation } from "./queries";

const words = texts.isolation;

export function timeOf(at: string): string {
  const date = new Date(at);
  const isToday = date.toDateString() === new Date().toDateString();
  return date.toLocaleString(language, {
    hour: "2-digit",
    minute: "2-digit",
    ...(isToday ? {} : { day: "numeric", month: "short" }),
  });
}

export function whatOf(isolation: Pick<Isolation, "scope" | "breakers">): string {
  return isolation.scope === "whole_installation"
    ? words.whole
    : say(words.breaker, { names: isolation.breakers.join(", ") });
}

/** "breaker 6 off since 09:12, Wren, Cellar steps" */
export function lineOf(isolation: Isolation): string {
  const since = say(words.since, { what: whatOf(isolation), time: timeOf(isolation.opened_at) });
  return [since, isolation.opened_by, isolation.loop_name].filter(Boolean).join(", ");
}

/** Who took a lock off, and for whom. */
export function takenOff(lock: Isolation["locks"][number]): string {
  const off = { who: lock.person, by: lock.off_by, time: timeOf(lock.off_at ?? lock.put_at) };
  return say(off.who === off.by ? words.takenOff : words.takenOffBy, off);
}
