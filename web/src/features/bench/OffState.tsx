/** The off state in pictures and figures. */
import { engineering } from "../../format";
import { texts } from "../../texts/en";
import { BlinkChart } from "../charts/BlinkChart";
import { PowerChart } from "../charts/PowerChart";
import { WaveChart } from "../charts/WaveChart";
import type { Prediction } from "./off/queries";
import type { Judgement } from "./queries";

interface Props {
  judgement: Judgement | undefined;
  /** The whole step, or only the cycle beneath an editor. */
  isWhole: boolean;
  /** Bands of the waveforms over the ranges, where they were drawn. */
  bands?: Prediction | undefined;
}

export function OffState({ judgement, isWhole, bands }: Props) {
  const figures = judgement?.figures;
  if (!figures) return judgement ? <p className="empty">{texts.off.none}</p> : null;
  const needed = figures.control.p_needed_w;
  return (
    <div className="off-state">
      {figures.blink && (isWhole || figures.lamps.some((lamp) => lamp.state === "blink")) && (
        <>
          <h2>{texts.off.blink}</h2>
          <BlinkChart strip={figures.blink} lamps={figures.lamps} />
        </>
      )}
      {figures.waveforms && (
        <>
          <h2>{texts.off.cycle}</h2>
          <WaveChart waves={figures.waveforms} bands={bands} />
        </>
      )}
      {isWhole && figures.power_curve && needed !== null && (
        <>
          <h2>{texts.off.power}</h2>
          <PowerChart curve={figures.power_curve} needed_w={needed} at_v={figures.control.standby_v_dc} />
        </>
      )}
      {isWhole && (
        <>
          <h2>{texts.off.figures}</h2>
          <table className="rows figures">
            <tbody>
              <Row name="Off-state current, rms" value={engineering(figures.line_i_rms_a, "A")} />
              <Row name="Lamp terminals, rms" value={engineering(figures.lamp_v_rms, "V")} />
              <Row name="Lamp terminals, peak" value={engineering(figures.lamp_v_peak, "V")} />
              {figures.meter.map((reading) => (
                <Row
                  key={reading.r_ohm}
                  name={`A ${engineering(reading.r_ohm, "Ω")} meter there would read`}
                  value={engineering(reading.v_rms, "V")}
                />
              ))}
              <Row
                name="Across the control (snubber, leak, cable)"
                value={engineering(figures.shares.across_a, "A")}
              />
              {figures.shares.bypass_a.map((i_a, k) => (
                <Row key={k} name={`Bypass ${k + 1}`} value={engineering(i_a, "A")} />
              ))}
              {figures.lamps.map((lamp, k) => (
                <Row
                  key={k}
                  name={`Lamp group ${k + 1}, ${lamp.count} × ${lamp.state}`}
                  value={engineering(lamp.i_rms_a, "A")}
                />
              ))}
              <Row
                name={`Solved by ${figures.numerics.method === "newton" ? "settling" : "marching"}, ${figures.numerics.half_cycles} half-cycles`}
                value={
                  figures.numerics.energy_balance_ratio === null
                    ? ""
                    : `energy met within ${engineering(Math.abs(figures.numerics.energy_balance_ratio) * 100, "1")} %`
                }
              />
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}

function Row({ name, value }: { name: string; value: string }) {
  return (
    <tr>
      <th scope="row">{name}</th>
      <td className="figure">{value}</td>
    </tr>
  );
}
