/** Why a change of a part was refused; where another came before it, what to do now that theirs is shown. */
import { Refusal } from "../../api/client";
import { texts } from "../../texts";

export function refusalOf(error: Error): string {
  return error instanceof Refusal && error.code === "stale_version" ? texts.shelf.stale : error.message;
}
