/** Reservoirs rising to the start threshold, flashing, and falling back. */
import type { Schemas } from "../../api/client";
import { scaleText, significant } from "../../format";
import { say, texts } from "../../texts";
import { Plot } from "./Plot";

const words = texts.off;

interface Props {
  strip: Schemas["Blink"];
  lamps: Schemas["LampResult"][];
}

const seconds = (value: number) => `${significant(value)} s`;

export function BlinkChart({ strip, lamps }: Props) {
  const end = strip.t_s.at(-1) ?? 1;
  const flashes = strip.lit.flatMap((lit) =>
    lit.flatMap((now, k) => (now > 0 && (lit[k - 1] ?? 0) === 0 ? [strip.t_s[k] ?? 0] : [])),
  );
  const starts = strip.groups.flatMap((group) => lamps[group]?.v_start_v ?? []);
  const period = lamps.find((lamp) => lamp.flash_period_s !== null)?.flash_period_s ?? null;
  const said = { count: flashes.length, time: seconds(end), period: seconds(period ?? 0) };
  return (
    <Plot
      x={strip.t_s}
      xText={seconds}
      xScale={(value) => scaleText(value, "s")}
      moments={flashes}
      words={say(period === null ? words.charts.flashes : words.charts.flashesEvery, said)}
      panes={[
        {
          unit: "V",
          height: 160,
          levels: [...new Set(starts)].map((value) => ({ value, name: words.start })),
          lines: [
            ...strip.v_reservoir_v.map((values, k) => ({
              name: say(words.reservoir, { group: (strip.groups[k] ?? 0) + 1 }),
              values,
              tone: "ember" as const,
              isHeavy: true,
            })),
            ...(strip.standby_v.length > 0
              ? [{ name: words.standby, values: strip.standby_v, tone: "steel" as const, isDashed: true }]
              : []),
          ],
        },
      ]}
    />
  );
}
