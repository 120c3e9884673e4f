/** An isolation in one line. */
import { say, texts } from "../../texts";
import { hourOf, useZone } from "../when";
import type { Isolation } from "./queries";

const words = texts.isolation;

export function whatOf(isolation: Pick<Isolation, "scope" | "breakers">): string {
  return isolation.scope === "whole_installation"
    ? words.whole
    : say(words.breaker, { names: isolation.breakers.join(", ") });
}

/** What is told of isolations, in the time of the site that the page is about. */
export function useIsolationWords() {
  const zone = useZone();
  return {
    timeOf: (at: string) => hourOf(at, zone),

    /** "breaker 6 off since 09:12, Wren, Cellar steps" */
    lineOf: (isolation: Isolation, there = zone): string => {
      const since = say(words.since, { what: whatOf(isolation), time: hourOf(isolation.opened_at, there) });
      return [since, isolation.opened_by, isolation.loop_name].filter(Boolean).join(", ");
    },

    /** Who took a lock off, and for whom. */
    takenOff: (lock: Isolation["locks"][number]): string => {
      const off = { who: lock.person, by: lock.off_by, time: hourOf(lock.off_at ?? lock.put_at, zone) };
      return say(off.who === off.by ? words.takenOff : words.takenOffBy, off);
    },
  };
}
