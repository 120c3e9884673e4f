/** What meters will show, with their range, and whether it is a ghost. */
import type { UseQueryResult } from "@tanstack/react-query";
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { Answered } from "../../Answered";
import type { Prediction } from "./queries";

const words = texts.off;

export function Instruments({ predictions }: { predictions: UseQueryResult<Prediction> }) {
  const found = predictions.data;
  return (
    <section aria-label={words.instruments} aria-busy={predictions.isFetching}>
      <h2>{words.instruments}</h2>
      <Answered of={predictions}>
        {found && (
          <>
            <table className="rows figures">
              <tbody>
                {found.readings.map((reading) => (
                  <tr key={reading.r_ohm}>
                    <th scope="row">{say(words.meterOf, { r: engineering(reading.r_ohm, "Ω") })}</th>
                    <td className="figure">
                      {engineering(reading.v_rms.p05 ?? 0, "V")} {texts.spread.to}{" "}
                      {engineering(reading.v_rms.p95 ?? 0, "V")}
                    </td>
                  </tr>
                ))}
                {found.period_s && (
                  <tr>
                    <th scope="row">
                      {say(words.rhythm, { percent: Math.round(found.blinking_ratio * 100) })}
                    </th>
                    <td className="figure">
                      {engineering(found.period_s.p05 ?? 0, "s")} {texts.spread.to}{" "}
                      {engineering(found.period_s.p95 ?? 0, "s")}
                    </td>
                  </tr>
                )}
              </tbody>
            </table>
            <p>{found.text}</p>
            <p className="quiet">{words.outside}</p>
          </>
        )}
      </Answered>
    </section>
  );
}
