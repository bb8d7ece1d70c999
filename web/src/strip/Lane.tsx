/** One lane: a quantity over station, with its limit, hatched where it is out of it. */
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import clsx from "clsx";
import styles from "./Lane.module.css";

interface Props {
  title: string;
  unit: string;
  width: number;
  height: number;
  x: number[];
  y: (number | null)[];
  limit?: (number | null)[] | undefined;
  range: [number, number];
  empty?: string | undefined;
}

const GUTTER = 62;

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

export function Lane({ title, unit, width, height, x, y, limit, range, empty }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const [low, high] = range;
  useEffect(() => {
    if (host.current === null) return;
    const plot = new uPlot(
      options({ title, unit, width, height, range: [low, high], limit }),
      data(x, y, limit),
      host.current,
    );
    return () => plot.destroy();
  }, [title, unit, width, height, x, y, limit, low, high]);
  const blank = y.every((v) => v === null);
  return (
    <div className={styles.lane} ref={host}>
      <span className={styles.laneTitle} data-testid="lane-title">
        {title} <span className="soft">{unit}</span>
      </span>
      {blank && empty && <span className={clsx(styles.laneEmpty, "soft")}>{empty}</span>}
    </div>
  );
}

function data(x: number[], y: (number | null)[], limit?: (number | null)[]): uPlot.AlignedData {
  return limit ? [x, y, limit] : [x, y];
}

function options({
  width,
  height,
  range,
  limit,
}: Pick<Props, "title" | "unit" | "width" | "height" | "range" | "limit">): uPlot.Options {
  const ink = token("--soft");
  const axis: uPlot.Axis = {
    stroke: ink,
    grid: { stroke: token("--hair"), width: 1 },
    ticks: { show: false },
    font: "10.5px 'JetBrains Mono Variable'",
  };
  return {
    width,
    height,
    padding: [9, 12, 6, 0],
    legend: { show: false },
    cursor: { show: false },
    select: { show: false, left: 0, top: 0, width: 0, height: 0 },
    scales: { x: { time: false }, y: { range: () => range } },
    axes: [
      { ...axis, show: false },
      { ...axis, size: GUTTER, space: 16 },
    ],
    series: [
      {},
      { stroke: token("--madder"), width: 1.8, pxAlign: 0, points: { show: false }, spanGaps: false },
      ...(limit ? [{ stroke: token("--brass"), width: 1.4, pxAlign: 0, dash: [5, 4], points: { show: false } }] : []),
    ],
    hooks: limit ? { draw: [hatch] } : {},
  };
}

/** Slanted lines over every stretch in which the bend is under its limit. */
function hatch(plot: uPlot): void {
  const [x, y, limit] = plot.data;
  if (y === undefined || limit === undefined) return;
  const { ctx, bbox } = plot;
  ctx.save();
  ctx.beginPath();
  ctx.rect(bbox.left, bbox.top, bbox.width, bbox.height);
  ctx.clip();
  ctx.strokeStyle = token("--madder");
  ctx.lineWidth = 1;
  for (let i = 0; i < x.length - 1; i++) {
    const under = y[i] != null && limit[i] != null && y[i]! < limit[i]!;
    if (!under) continue;
    const from = plot.valToPos(x[i]!, "x", true);
    const to = plot.valToPos(x[i + 1]!, "x", true);
    for (let p = Math.ceil(from / 6) * 6; p < to; p += 6) {
      ctx.beginPath();
      ctx.moveTo(p, bbox.top + bbox.height);
      ctx.lineTo(p + bbox.height / 2, bbox.top);
      ctx.stroke();
    }
  }
  ctx.restore();
}
