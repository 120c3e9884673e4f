/** Input resistance of the meter that a person works with [Ω]; null until it is said, once for all their readings. */
import { useState } from "react";
import { keep, kept } from "../app/person";

export const LOW_IMPEDANCE_OHM = 4e5;
export const HIGH_IMPEDANCE_OHM = 1e7;
const NAME = "meter-r-ohm";

export function useOwnMeter(): [number | null, (r_ohm: number) => void] {
  const [r_ohm, setOhm] = useState(() => kept<number>(NAME));
  return [
    r_ohm,
    (next) => {
      keep(NAME, next);
      setOhm(next);
    },
  ];
}
