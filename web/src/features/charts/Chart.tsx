/** A chart that follows its width and the theme; what it shows is also said in words below it. */
import { LineChart } from "echarts/charts";
import {
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  MarkPointComponent,
  TooltipComponent,
} from "echarts/components";
import * as echarts from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import type { EChartsCoreOption } from "echarts/core";
import { useEffect, useRef, useState } from "react";

echarts.use([
  LineChart,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  MarkPointComponent,
  TooltipComponent,
  SVGRenderer,
]);

export interface Colours {
  ink: string;
  quiet: string;
  hairline: string;
  ember: string;
  steel: string;
  verdigris: string;
  plum: string;
  paper: string;
}

function coloursNow(): Colours {
  const style = getComputedStyle(document.documentElement);
  const read = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    ink: read("ink"),
    quiet: read("quiet"),
    hairline: read("hairline"),
    ember: read("ember"),
    steel: read("steel"),
    verdigris: read("verdigris"),
    plum: read("plum"),
    paper: read("paper"),
  };
}

function useColours(): Colours {
  const [colours, setColours] = useState(coloursNow);
  useEffect(() => {
    const watcher = new MutationObserver(() => setColours(coloursNow()));
    watcher.observe(document.documentElement, { attributeFilter: ["data-mode"] });
    return () => watcher.disconnect();
  }, []);
  return colours;
}

interface Props {
  height: number;
  words: string;
  option: (colours: Colours) => EChartsCoreOption;
}

export function Chart({ height, words, option }: Props) {
  const ref = useRef<HTMLDivElement>(null);
  const chart = useRef<echarts.ECharts | null>(null);
  const colours = useColours();
  useEffect(() => {
    if (!ref.current) return;
    const made = echarts.init(ref.current, undefined, { renderer: "svg" });
    chart.current = made;
    const watcher = new ResizeObserver(() => made.resize());
    watcher.observe(ref.current);
    return () => {
      watcher.disconnect();
      made.dispose();
      chart.current = null;
    };
  }, []);
  useEffect(() => {
    chart.current?.setOption(
      {
        animation: false,
        textStyle: {
          fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
          color: colours.ink,
          fontSize: 13,
        },
        ...option(colours),
      },
      { notMerge: true },
    );
  });
  return (
    <figure className="chart">
      <div ref={ref} style={{ height }} role="img" aria-label={words} />
      <figcaption>{words}</figcaption>
    </figure>
  );
}

/** Axis style shared by all charts. */
export function axisStyle(colours: Colours) {
  return {
    axisLine: { lineStyle: { color: colours.ink } },
    axisLabel: { color: colours.quiet, fontFamily: "'Atkinson Hyperlegible Mono Variable', monospace" },
    splitLine: { lineStyle: { color: colours.hairline } },
    nameTextStyle: { color: colours.quiet },
  };
}
