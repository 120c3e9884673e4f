/** Voltages and currents over one cycle. */
import type { Schemas } from "../../api/client";
import { engineering, localNumber, significant } from "../../format";
import { say, texts } from "../../texts";
import { Plot } from "./Plot";

const words = texts.off;

interface Props {
  waves: Schemas["Waveforms"];
  bands?: Schemas["Prediction"] | undefined;
}

const peak = (values: readonly number[]) =>
  values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
const volts = (value: number) => engineering(value, "V");

export function WaveChart({ waves, bands }: Props) {
  const said = [
    say(words.charts.waves, {
      supply: volts(peak(waves.v_supply_v)),
      lamp: volts(peak(waves.v_lamp_v)),
      current: engineering(peak(waves.i_line_a), "A"),
    }),
  ];
  if (bands) {
    const { low, high } = bands.v_lamp_v;
    said.push(
      say(words.charts.bands, {
        low: volts(Math.max(...low)),
        high: volts(Math.max(...high)),
        band: words.band,
      }),
    );
  }
  return (
    <Plot
      x={waves.t_s}
      xText={(value) => `${significant(value * 1e3)} ms`}
      xScale={(value) => `${localNumber(Number((value * 1e3).toPrecision(3)))} ms`}
      words={said.join(" ")}
      panes={[
        {
          unit: "V",
          height: 128,
          band: bands && { name: words.band, x: bands.t_s, ...bands.v_lamp_v },
          lines: [
            { name: words.supply, values: waves.v_supply_v, tone: "steel" },
            { name: words.lamp, values: waves.v_lamp_v, tone: "ember", isHeavy: true },
          ],
        },
        {
          unit: "A",
          height: 76,
          band: bands && { name: words.band, x: bands.t_s, ...bands.i_line_a },
          lines: [
            { name: words.line, values: waves.i_line_a, tone: "ember" },
            { name: words.lamps, values: waves.i_lamps_a, tone: "plum", isDashed: true },
          ],
        },
      ]}
    />
  );
}
