/** Why nobody should work by a chosen way as it is: the same on its map and at its steps. */
import { texts } from "../../texts";

interface Choice {
  is_begun: boolean;
  is_other_wiring: boolean;
}

export function changedSince({ is_begun, is_other_wiring }: Choice): string {
  if (!is_other_wiring) return texts.ways.outOfDate;
  return is_begun ? texts.fit.otherWiringBegun : texts.fit.otherWiring;
}
