import { BarChart } from "echarts/charts";
import { GridComponent, LegendComponent } from "echarts/components";
import { init, use as register, type EChartsType } from "echarts/core";
import { CanvasRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import type { RoughnessSpread } from "#core/finish/roughnessSpread";

register([BarChart, GridComponent, LegendComponent, CanvasRenderer]);

const INK = "#1d1c1a";
const PALE = "#b9b2a3";

/** How the roughness spreads before and after, from smooth to rough. */
export default function RoughnessChart({ spread }: { spread: RoughnessSpread }) {
  const place = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | undefined>(undefined);
  useEffect(() => {
    const made = init(place.current!);
    chart.current = made;
    return () => made.dispose();
  }, []);
  useEffect(() => {
    const { before, after } = spread;
    const series = (name: string, data: number[], color: string) => ({
      type: "bar" as const,
      name,
      data,
      itemStyle: { color },
      barGap: "-100%",
      barCategoryGap: "8%",
    });
    const share = before.length;
    chart.current?.setOption({
      animation: false,
      textStyle: { fontFamily: "Hanken Grotesk Variable, sans-serif", color: INK },
      grid: { left: 4, right: 4, top: 4, bottom: 18 },
      xAxis: {
        type: "category",
        data: before.map((_, at) => ((at + 0.5) / share).toFixed(2)),
        axisTick: { show: false },
        axisLabel: {
          interval: 0,
          color: INK,
          fontSize: 10,
          formatter: (_: string, at: number) => (at === 2 ? "smooth" : at === share - 3 ? "rough" : ""),
        },
        axisLine: { lineStyle: { color: INK } },
      },
      yAxis: { type: "value", show: false },
      series: [series("as it came", before, PALE), series("now", after, INK)],
    });
  }, [spread]);
  const { before, after } = spread.mean;
  return (
    <div
      ref={place}
      className="roughness-chart"
      role="img"
      aria-label={`Roughness from smooth to rough: mean ${before.toFixed(2)} as it came, ${after.toFixed(2)} now`}
    />
  );
}
