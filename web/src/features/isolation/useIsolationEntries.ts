/** What is entered about isolations and locks, wherever it is pressed. */
import { useMemo } from "react";
import { send } from "../../device/tray";
import { say, texts } from "../../texts";
import type { Isolation, Lock } from "./queries";
import { whatOf } from "./words";

const words = texts.isolation;

export interface At {
  loop: string;
  loopName: string;
  place: number;
  page: string;
}

export function useIsolationEntries({ loop, loopName, place, page }: At) {
  return useMemo(() => {
    const base = { loop, place, where: loopName, page };
    return {
      record: (scope: Isolation["scope"], circuits: string[], what: string) =>
        send({
          ...base,
          label: `${words.record}: ${what}`,
          path: `/api/v1/loops/${loop}/isolations/`,
          body: { id: crypto.randomUUID(), made_at: new Date().toISOString(), scope, circuits },
        }),
      putLock: (isolation: Isolation) =>
        send({
          ...base,
          label: `${words.putLock}: ${whatOf(isolation)}`,
          path: `/api/v1/isolations/${isolation.id}/locks/`,
          body: { id: crypto.randomUUID(), loop },
        }),
      takeOff: (isolation: Isolation, lock: Lock, reason: string) =>
        send({
          ...base,
          label: `${lock.is_mine ? words.takeMine : say(words.takeOther, { who: lock.person })}: ${whatOf(isolation)}`,
          path: `/api/v1/locks/${lock.id}/off/`,
          body: { reason },
          fields: lock.is_mine ? [] : [["reason", words.reason]],
        }),
      energise: (isolation: Isolation, note: string) =>
        send({
          ...base,
          label: `${words.back}: ${whatOf(isolation)}`,
          path: `/api/v1/isolations/${isolation.id}/energise/`,
          body: { id: crypto.randomUUID(), made_at: new Date().toISOString(), note },
        }),
    };
  }, [loop, loopName, place, page]);
}
