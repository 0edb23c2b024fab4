"use client";
import { CategoryScale, Chart, Filler, LinearScale, LineController, LineElement, PointElement } from "chart.js";
import { useEffect, useRef } from "react";
import { plain } from "../format";
import { tokens } from "../tokens/tokens";

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, Filler);

export interface Series {
  label: string;
  color: string;
  /** dashes in px, so that lines are told apart without colour */
  dash?: number[];
  points: { x: number; y: number }[];
}

interface Props {
  /** what the chart shows, in one sentence, for those who cannot see it */
  summary: string;
  series: Series[];
  xTitle: string;
  yTitle?: string;
  xMin: number;
  xMax: number;
  xStep: number;
  height: number;
  /** values below zero are shown too */
  signed?: boolean;
  /** top of the scale, where it does not follow from the values */
  yMax?: number;
}

/** Lines over one axis, in the panel's greys. */
export function LineChart({ summary, series, xTitle, yTitle, xMin, xMax, xStep, height, signed = false, yMax }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const font = { family: "IBM Plex Sans Condensed", size: 12 };
    const callback = (v: number | string) => plain(Number(v), Number(v) % 1 ? (Math.abs(Number(v)) < 0.1 ? 2 : 1) : 0);
    const grid = { color: tokens.line, drawTicks: false };
    const chart = new Chart(canvas.current!, {
      type: "line",
      data: {
        datasets: series.map((s) => ({
          data: s.points,
          borderColor: s.color,
          borderDash: s.dash ?? [],
          borderWidth: 1.5,
          pointRadius: s.points.length < 16 ? 2 : 0,
          pointBackgroundColor: s.color,
        })),
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        parsing: false,
        events: [],
        scales: {
          x: {
            type: "linear",
            min: xMin,
            max: xMax,
            grid,
            ticks: { stepSize: xStep, callback, font, color: tokens.text, padding: 3, maxRotation: 0 },
            title: { display: true, text: xTitle, font, color: tokens.text, padding: 0 },
          },
          y: {
            display: yTitle !== undefined,
            ...(signed ? { suggestedMin: -0.1, suggestedMax: 0.1 } : { min: 0 }),
            ...(yMax === undefined ? {} : { max: yMax }),
            grid,
            ticks: { maxTicksLimit: signed ? 3 : 4, callback, font, color: tokens.text, padding: 3 },
            title: { display: yTitle !== undefined, text: yTitle, font, color: tokens.text },
          },
        },
      },
    });
    return () => chart.destroy();
  }, [series, xTitle, yTitle, xMin, xMax, xStep, signed, yMax]);
  return (
    <div style={{ position: "relative", height, marginTop: 6 }}>
      <canvas ref={canvas} role="img" aria-label={summary} />
    </div>
  );
}
