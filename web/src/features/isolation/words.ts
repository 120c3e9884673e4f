/** An isolation in one line. */
import { say, texts } from "../../texts";
import { inZone, useZone } from "../when";
import type { Isolation } from "./queries";

const words = texts.isolation;

/** The hour and minute, with the day where it is not today there. */
function timeOf(at: string, zone: string): string {
  const date = new Date(at);
  const day = (one: Date) => one.toLocaleDateString("en", { timeZone: zone });
  const isToday = day(date) === day(new Date());
  return inZone(date, zone, {
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
    ...(isToday ? {} : { day: "numeric", month: "short" }),
  });
}

export function whatOf(isolation: Pick<Isolation, "scope" | "breakers">): string {
  return isolation.scope === "whole_installation"
    ? words.whole
    : say(words.breaker, { names: isolation.breakers.join(", ") });
}

/** What is told of isolations, in the time of the site that the page is about. */
export function useIsolationWords() {
  const zone = useZone();
  return {
    timeOf: (at: string) => timeOf(at, zone),

    /** "breaker 6 off since 09:12, Wren, Cellar steps" */
    lineOf: (isolation: Isolation, there = zone): string => {
      const since = say(words.since, { what: whatOf(isolation), time: timeOf(isolation.opened_at, there) });
      return [since, isolation.opened_by, isolation.loop_name].filter(Boolean).join(", ");
    },

    /** Who took a lock off, and for whom. */
    takenOff: (lock: Isolation["locks"][number]): string => {
      const off = { who: lock.person, by: lock.off_by, time: timeOf(lock.off_at ?? lock.put_at, zone) };
      return say(off.who === off.by ? words.takenOff : words.takenOffBy, off);
    },
  };
}
