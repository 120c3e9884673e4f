/** Whether what stands on the screen is what the server has answered, just now, for exactly this. */
import type { UseQueryResult } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Entry } from "../../device/entry";
import { useTray } from "../../device/useTray";

export type Confirmation = "confirmed" | "waiting" | "refused" | "away" | "old";

/** Asked anew this often while a box is open. */
export const ASK_EVERY_MS = 5_000;
// Two answers may be missed before nothing is confirmed any more.
const OLD_AFTER_MS = 3 * ASK_EVERY_MS;
const LOOK_EVERY_MS = 1_000;

/** Locks and power concern every loop on a breaker, wherever they were pressed. */
function concernsPower(entry: Entry): boolean {
  return /\/(isolations|locks)\//.test(entry.path);
}

export function useConfirmed(survey: UseQueryResult<unknown>, loop: string): Confirmation {
  const { mine, isOffline, isReady } = useTray();
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, []);
  const open = mine.filter((entry) => entry.loop === loop || concernsPower(entry));
  if (!isReady || open.some((entry) => entry.state === "waiting")) return "waiting";
  if (open.length > 0) return "refused";
  if (survey.isError || isOffline || survey.fetchStatus === "paused") return "away";
  return Math.max(now, Date.now()) - survey.dataUpdatedAt > OLD_AFTER_MS ? "old" : "confirmed";
}
