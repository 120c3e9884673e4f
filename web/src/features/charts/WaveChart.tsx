/** Voltages and currents over one cycle. */
import type { Schemas } from "../../api/client";
import { engineering } from "../../format";
import { texts } from "../../texts/en";
import { axisStyle, Chart, type Colours } from "./Chart";

type Waves = Schemas["Waveforms"];

const peak = (values: number[]) => values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
const ms = (value: number) => `${Number((value * 1e3).toFixed(1))}`;

/** The band between two lines: the lower one unseen, the difference filled above it. */
function band(times: number[], low: number[], high: number[], colour: string, axis: number, stack: string) {
  const bare = {
    type: "line" as const,
    showSymbol: false,
    symbol: "none",
    silent: true,
    xAxisIndex: axis,
    yAxisIndex: axis,
    stack,
    stackStrategy: "all" as const,
    lineStyle: { opacity: 0 },
    tooltip: { show: false },
  };
  return [
    { ...bare, data: low.map((value, k) => [times[k], value]) },
    {
      ...bare,
      name: texts.off.band,
      color: colour,
      areaStyle: { color: colour, opacity: 0.22 },
      data: high.map((value, k) => [times[k], value - (low[k] ?? 0)]),
    },
  ];
}

interface Props {
  waves: Waves;
  bands?: Schemas["Prediction"] | undefined;
}

export function WaveChart({ waves, bands }: Props) {
  const points = (values: number[]) => values.map((value, k) => [waves.t_s[k], value]);
  const end = waves.t_s.at(-1) ?? 0.02;
  const option = (colours: Colours) => ({
    grid: [
      { left: 64, right: 20, top: 30, height: 128 },
      { left: 64, right: 20, top: 186, height: 70 },
    ],
    legend: { top: 0, left: 92, textStyle: { color: colours.ink }, itemWidth: 26 },
    tooltip: { trigger: "axis", valueFormatter: (value: number) => engineering(value, "").trim() },
    axisPointer: { link: [{ xAxisIndex: "all" }] },
    xAxis: [
      {
        type: "value",
        min: 0,
        max: end,
        gridIndex: 0,
        axisLabel: { show: false },
        splitLine: { show: false },
      },
      {
        ...axisStyle(colours),
        type: "value",
        min: 0,
        max: end,
        gridIndex: 1,
        name: "ms",
        nameLocation: "end",
        nameGap: 4,
        splitLine: { show: false },
        axisLabel: { ...axisStyle(colours).axisLabel, formatter: ms },
      },
    ],
    yAxis: [
      { ...axisStyle(colours), type: "value", gridIndex: 0, name: "V", splitNumber: 4 },
      {
        ...axisStyle(colours),
        type: "value",
        gridIndex: 1,
        name: "mA",
        splitNumber: 2,
        axisLabel: {
          ...axisStyle(colours).axisLabel,
          formatter: (value: number) => Number((value * 1e3).toPrecision(3)),
        },
      },
    ],
    series: [
      ...(bands
        ? [
            ...band(bands.t_s, bands.v_lamp_v.low, bands.v_lamp_v.high, colours.ember, 0, "v"),
            ...band(bands.t_s, bands.i_line_a.low, bands.i_line_a.high, colours.ember, 1, "i"),
          ]
        : []),
      { ...line(texts.off.supply, colours.steel, 1.5), data: points(waves.v_supply_v) },
      { ...line(texts.off.lamp, colours.ember, 3), data: points(waves.v_lamp_v) },
      {
        ...line(texts.off.line, colours.ember, 1.5),
        xAxisIndex: 1,
        yAxisIndex: 1,
        data: points(waves.i_line_a),
      },
      {
        ...line(texts.off.lamps, colours.plum, 1.5, "dashed"),
        xAxisIndex: 1,
        yAxisIndex: 1,
        data: points(waves.i_lamps_a),
      },
    ],
  });
  const words =
    `The supply peaks at ${engineering(peak(waves.v_supply_v), "V")}, the lamp terminals at ` +
    `${engineering(peak(waves.v_lamp_v), "V")}; the off-state current peaks at ${engineering(peak(waves.i_line_a), "A")}.` +
    (bands
      ? ` Over the ranges the lamp terminals peak at ${engineering(Math.max(...bands.v_lamp_v.low), "V")} to ${engineering(Math.max(...bands.v_lamp_v.high), "V")} (band: ${texts.off.band}).`
      : "");
  return <Chart height={280} words={words} option={option} />;
}

/** A plain line series. */
export function line(
  name: string,
  colour: string,
  width: number,
  type: "solid" | "dashed" | "dotted" = "solid",
) {
  return {
    name,
    type: "line" as const,
    showSymbol: false,
    symbol: "none",
    color: colour,
    lineStyle: { width, color: colour, type },
  };
}
