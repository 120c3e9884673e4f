/** The off state in pictures and figures. */
import { engineering, significant } from "../../format";
import { say, texts } from "../../texts";
import { BlinkChart } from "../charts/BlinkChart";
import { PowerChart } from "../charts/PowerChart";
import { WaveChart } from "../charts/WaveChart";
import type { Prediction } from "./off/queries";
import type { Judgement } from "./queries";
import { stateWord } from "./thread/words";

const table = texts.off.table;

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
              <Row name={table.current} value={engineering(figures.line_i_rms_a, "A")} />
              <Row name={table.volts} value={engineering(figures.lamp_v_rms, "V")} />
              <Row name={table.peak} value={engineering(figures.lamp_v_peak, "V")} />
              {figures.meter.map((reading) => (
                <Row
                  key={reading.r_ohm}
                  name={say(table.meter, { r: engineering(reading.r_ohm, "Ω") })}
                  value={engineering(reading.v_rms, "V")}
                />
              ))}
              <Row name={table.across} value={engineering(figures.shares.across_a, "A")} />
              {figures.shares.bypass_a.map((i_a, k) => (
                <Row key={k} name={say(table.bypass, { number: k + 1 })} value={engineering(i_a, "A")} />
              ))}
              {figures.lamps.map((lamp, k) => (
                <Row
                  key={k}
                  name={say(table.lamps, { group: k + 1, count: lamp.count, state: stateWord(lamp.state) })}
                  value={engineering(lamp.i_rms_a, "A")}
                />
              ))}
              <Row
                name={say(table.solved, {
                  method: figures.numerics.method,
                  count: figures.numerics.half_cycles,
                })}
                value={
                  figures.numerics.energy_balance_ratio === null
                    ? ""
                    : say(table.balance, {
                        percent: significant(Math.abs(figures.numerics.energy_balance_ratio) * 100),
                      })
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
