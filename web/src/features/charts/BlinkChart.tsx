/** Reservoirs rising to the start threshold, flashing, and falling back. */
import type { Schemas } from "../../api/client";
import { engineering, significant } from "../../format";
import { texts } from "../../texts/en";
import { axisStyle, Chart, type Colours } from "./Chart";
import { line } from "./WaveChart";

interface Props {
  strip: Schemas["Blink"];
  lamps: Schemas["LampResult"][];
}

export function BlinkChart({ strip, lamps }: Props) {
  const end = strip.t_s.at(-1) ?? 1;
  const points = (values: number[]) => values.map((value, k) => [strip.t_s[k], value]);
  const flashes = strip.lit.flatMap((lit) =>
    lit.flatMap((now, k) => (now > 0 && (lit[k - 1] ?? 0) === 0 ? [strip.t_s[k] ?? 0] : [])),
  );
  const starts = strip.groups.flatMap((group) => lamps[group]?.v_start_v ?? []);
  const option = (colours: Colours) => ({
    grid: { left: 64, right: 64, top: 34, bottom: 34 },
    legend: { top: 0, left: 92, textStyle: { color: colours.ink }, itemWidth: 26 },
    tooltip: { trigger: "axis", valueFormatter: (value: number) => engineering(value, "V") },
    xAxis: {
      ...axisStyle(colours),
      type: "value",
      min: 0,
      max: end,
      name: "s",
      nameGap: 6,
      splitLine: { show: false },
    },
    yAxis: { ...axisStyle(colours), type: "value", name: "V", splitNumber: 4 },
    series: [
      ...strip.v_reservoir_v.map((values, k) => ({
        ...line(texts.off.reservoir((strip.groups[k] ?? 0) + 1), colours.ember, 2.5),
        data: points(values),
        markLine: {
          symbol: "none",
          silent: true,
          label: { formatter: texts.off.start, color: colours.ink, position: "end" },
          lineStyle: { color: colours.ink, type: "dashed" },
          data: [
            ...starts.map((yAxis) => ({ yAxis })),
            ...flashes.map((xAxis) => ({
              xAxis,
              label: { show: false },
              lineStyle: { color: colours.ember, type: "solid", width: 5, opacity: 0.28 },
            })),
          ],
        },
      })),
      ...(strip.standby_v.length > 0
        ? [{ ...line(texts.off.standby, colours.steel, 1.5, "dashed"), data: points(strip.standby_v) }]
        : []),
    ],
  });
  const period = lamps.find((lamp) => lamp.flash_period_s !== null)?.flash_period_s ?? null;
  const words = `${flashes.length} flashes in ${significant(end)} s${period === null ? "" : `, one every ${significant(period)} s`}. Bars mark the flashes.`;
  return <Chart height={230} words={words} option={option} />;
}
