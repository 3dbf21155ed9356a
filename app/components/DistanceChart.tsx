import { LineChart } from "echarts/charts";
import { GridComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import { init, use as register, type EChartsType } from "echarts/core";
import { CanvasRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import { distanceSeries } from "#core/judge/distanceSeries";
import type { Camera } from "#core/judge/holdsUp";

register([LineChart, GridComponent, MarkLineComponent, TooltipComponent, CanvasRenderer]);

interface DistanceChartProps {
  camera: Camera;
  lines: { name: string; density: number }[];
}

const INK = "#1d1c1a";

/** Pixels of the picture for each texel, against the distance: above 1 the map is magnified and looks soft. */
export default function DistanceChart({ camera, lines }: DistanceChartProps) {
  const place = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | undefined>(undefined);
  useEffect(() => {
    const made = init(place.current!);
    chart.current = made;
    const watch = new ResizeObserver(() => made.resize());
    watch.observe(place.current!);
    return () => {
      watch.disconnect();
      made.dispose();
    };
  }, []);
  useEffect(() => {
    const axis = {
      nameLocation: "middle",
      axisLine: { lineStyle: { color: INK } },
      splitLine: { lineStyle: { color: "#cfc9bb" } },
    };
    chart.current?.setOption(
      {
        animation: false,
        textStyle: { fontFamily: "Hanken Grotesk Variable, sans-serif", color: INK },
        grid: { left: 52, right: 16, top: 14, bottom: 42 },
        tooltip: { trigger: "axis", valueFormatter: (value: unknown) => Number(value).toFixed(2) },
        xAxis: { ...axis, type: "log", name: "distance, m", nameGap: 26, min: 0.25, max: 64, logBase: 2 },
        yAxis: { ...axis, type: "log", name: "picture px per texel", nameGap: 36, logBase: 2 },
        series: distanceSeries(camera, lines).map(({ names, points }, i) => ({
          type: "line",
          name: names.join(", "),
          data: points,
          showSymbol: false,
          lineStyle: { color: INK, width: 1.6, type: (["solid", "dashed", "dotted"] as const)[i % 3] },
          itemStyle: { color: INK },
          ...(i === 0 && {
            markLine: {
              silent: true,
              symbol: "none",
              data: [{ yAxis: 1 }],
              lineStyle: { color: "#8a5a00", type: "solid" },
              label: { formatter: "one to one", position: "insideEndTop", color: "#8a5a00" },
            },
          }),
        })),
      },
      { notMerge: true },
    );
  }, [camera, lines]);
  return (
    <div
      ref={place}
      className="distance-chart"
      role="img"
      aria-label="Pixels of the picture for each texel, falling with the distance; the table above says where each map reaches one to one."
    />
  );
}
