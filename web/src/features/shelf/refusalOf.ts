/** Why a change of a part was refused; where another came before it, what to do now that theirs is shown. */
import { isStale } from "../../api/client";
import { texts } from "../../texts";

export function refusalOf(error: Error): string {
  return isStale(error) ? texts.shelf.stale : error.message;
}
