/** What the loop could pass to the control, against the voltage of its reservoir. */
import type { Schemas } from "../../api/client";
import { engineering, scaleText } from "../../format";
import { say, texts } from "../../texts";
import { Plot } from "./Plot";

const words = texts.off;

interface Props {
  curve: Schemas["PowerCurve"];
  needed_w: number;
  at_v: number | null;
}

export function PowerChart({ curve, needed_w, at_v }: Props) {
  const said = {
    most: engineering(Math.max(...curve.available_p_w), "W"),
    needed: engineering(needed_w, "W"),
    volts: engineering(at_v ?? 0, "V"),
  };
  return (
    <Plot
      x={curve.standby_v}
      xText={(value) => engineering(value, "V")}
      xScale={(value) => scaleText(value, "V")}
      words={say(at_v === null ? words.charts.power : words.charts.powerAt, said)}
      panes={[
        {
          unit: "W",
          height: 150,
          isFromZero: true,
          levels: [{ value: needed_w, name: words.needed }],
          spot: at_v === null ? null : { x: at_v, y: needed_w, name: words.standby },
          lines: [
            {
              name: words.available,
              values: curve.available_p_w.map((p_w) => Math.max(0, p_w)),
              tone: "verdigris",
              isHeavy: true,
            },
          ],
        },
      ]}
    />
  );
}
