/** What the loop could pass to the control, against the voltage of its reservoir. */
import type { Schemas } from "../../api/client";
import { engineering } from "../../format";
import { texts } from "../../texts/en";
import { axisStyle, Chart, type Colours } from "./Chart";
import { line } from "./WaveChart";

interface Props {
  curve: Schemas["PowerCurve"];
  needed_w: number;
  at_v: number | null;
}

export function PowerChart({ curve, needed_w, at_v }: Props) {
  const most = Math.max(...curve.available_p_w);
  const option = (colours: Colours) => ({
    grid: { left: 64, right: 84, top: 30, bottom: 40 },
    tooltip: { trigger: "axis", valueFormatter: (value: number) => engineering(value, "W") },
    xAxis: {
      ...axisStyle(colours),
      type: "value",
      name: "V",
      nameGap: 6,
      scale: true,
      splitLine: { show: false },
    },
    yAxis: {
      ...axisStyle(colours),
      type: "value",
      name: "mW",
      min: 0,
      axisLabel: {
        ...axisStyle(colours).axisLabel,
        formatter: (value: number) => Number((value * 1e3).toPrecision(3)),
      },
    },
    series: [
      {
        ...line(texts.off.available, colours.verdigris, 2.5),
        smooth: 0.3,
        data: curve.standby_v.map((v, k) => [v, Math.max(0, curve.available_p_w[k] ?? 0)]),
        markLine: {
          symbol: "none",
          silent: true,
          label: { formatter: texts.off.needed, color: colours.ink },
          lineStyle: { color: colours.plum, type: "dashed" },
          data: [{ yAxis: needed_w }],
        },
        markPoint: {
          symbol: "circle",
          symbolSize: 11,
          itemStyle: { color: colours.ink },
          label: { show: true, formatter: texts.off.standby, position: "top", color: colours.ink },
          data: at_v === null ? [] : [{ coord: [at_v, needed_w] }],
        },
      },
    ],
  });
  const words =
    `At best ${engineering(most, "W")} of the ${engineering(needed_w, "W")} needed` +
    `${at_v === null ? "" : `; the reservoir settles at ${engineering(at_v, "V")}, where both meet`}.`;
  return <Chart height={210} words={words} option={option} />;
}
