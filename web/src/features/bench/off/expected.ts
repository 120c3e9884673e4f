/** What an instrument should show of this loop, in words: the range that was computed for it. */
import { engineering } from "../../../format";
import { HIGH_IMPEDANCE_OHM } from "../../useOwnMeter";
import { texts } from "../../../texts";
import type { Measurement } from "../spread/queries";
import type { Prediction } from "./queries";

type Expected = (entry: Measurement) => string | null;

function range(low: number | null | undefined, high: number | null | undefined, unit: string): string | null {
  if (typeof low !== "number" || typeof high !== "number") return null;
  return `${engineering(low, unit)} ${texts.spread.to} ${engineering(high, unit)}`;
}

/** Only what was predicted for exactly this meter; nothing is stretched to fit. */
export function expectedBy(found: Prediction | undefined): Expected {
  return (entry) => {
    if (found === undefined) return null;
    if (entry.kind === "lamp_v") {
      const same = found.readings.find(
        (reading) => reading.r_ohm === (entry.meter_r_ohm ?? HIGH_IMPEDANCE_OHM),
      );
      return same ? range(same.v_rms.p05, same.v_rms.p95, "V") : null;
    }
    if (entry.kind === "period") return range(found.period_s?.p05, found.period_s?.p95, "s");
    return null;
  };
}
