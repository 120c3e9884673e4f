/** The items as they are once everything that was entered here has arrived. */
import type { Entry } from "../../device/entry";
import type { ProveItem, Proving } from "./queries";

export interface Shown extends ProveItem {
  /** An entry of this device that the server has not seen. */
  isWaiting: boolean;
  /** Why the server did not take one. */
  refusal: string;
}

function outcomeOf(item: ProveItem, result: string): ProveItem["outcome"] {
  if (result === "excused" || result === "open") return result;
  return item.results.find((one) => one.code === result)?.is_good ? "passed" : "failed";
}

export function shownItems(proving: Proving, entries: readonly Entry[]): Shown[] {
  return proving.items.map((item) => {
    const own = entries.filter((entry) => entry.body["item"] === item.key);
    const waiting = own.filter((entry) => entry.state === "waiting").at(-1);
    const refused = own.filter((entry) => entry.state === "refused").at(-1);
    const result = waiting ? String(waiting.body["result"]) : item.result;
    return {
      ...item,
      result,
      outcome: waiting ? outcomeOf(item, result) : item.outcome,
      result_text: waiting ? (item.results.find((one) => one.code === result)?.text ?? "") : item.result_text,
      reason: waiting ? String(waiting.body["reason"] ?? "") : item.reason,
      isWaiting: waiting !== undefined,
      refusal: refused?.refusal?.text ?? "",
    };
  });
}
