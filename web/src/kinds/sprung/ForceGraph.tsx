/** Force over length (moment over angle): the spring's curve, and a mark for each load to take hold of. */
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { StepReport, Units } from "../../api/types";
import { useDraft } from "../../slip/draft";
import { inUnits, trim } from "../../ui/format";
import styles from "./ForceGraph.module.css";
import { loadOf } from "./loadKinds";
import type { SprungStep } from "./step";

type Spring = NonNullable<StepReport["data"]["spring"]>;

const WIDTH = 276;
const HEIGHT = 150;

interface Props {
  step: SprungStep;
  spring: Spring;
  units: Units;
}

interface Scale {
  /** Pixels of a place on the plot, and back. */
  left: (at: number) => number;
  top: (force: number) => number;
  at: (left: number) => number;
}

export function ForceGraph({ step, spring, units }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const [scale, setScale] = useState<Scale | null>(null);
  const torsion = spring.duty === "torsion";
  const { at, force } = spring;
  useEffect(() => {
    if (host.current === null) return;
    const along = torsion ? at : at.map((v) => inUnits(v, units));
    const order = along.map((_, i) => i).sort((a, b) => along[a]! - along[b]! || force[a]! - force[b]!);
    const data: uPlot.AlignedData = [order.map((i) => along[i]!), order.map((i) => force[i]!)];
    const plot = new uPlot(options(), data, host.current);
    const frame = () => plot.over.offsetLeft;
    setScale({
      left: (v) => frame() + plot.valToPos(v, "x"),
      top: (v) => plot.over.offsetTop + plot.valToPos(v, "y"),
      at: (pixel) => plot.posToVal(pixel - frame(), "x"),
    });
    return () => plot.destroy();
  }, [at, force, torsion, units]);
  return (
    <div className={styles.graph} ref={host} data-testid="force-graph">
      {scale !== null && <LoadMarks step={step} spring={spring} units={units} scale={scale} />}
      <span className={styles.unit}>{torsion ? "N mm over °" : `N over ${units}`}</span>
    </div>
  );
}

/** A load's mark is dragged along the length; on release it is a load of that length (of that angle). */
function LoadMarks({ step, spring, units, scale }: Props & { scale: Scale }) {
  const draft = useDraft<SprungStep>(step.id);
  const [held, setHeld] = useState<{ i: number; value: number } | null>(null);
  const by = spring.duty === "torsion" ? "angle" : "length";
  const placed = spring.loads.map((l) => (by === "angle" ? (l.angle ?? 0) : inUnits(l.length ?? 0, units)));
  const moved = (i: number, value: number): Partial<SprungStep> => ({
    loads: step.loads.map((l, k) => (k === i ? loadOf(l.id, by, Number(value.toPrecision(4))) : l)),
  });
  const onMove = (e: PointerEvent) => {
    if (held === null) return;
    const box = e.currentTarget.parentElement!.getBoundingClientRect();
    const value = within(scale.at(e.clientX - box.left), spring, units);
    setHeld({ ...held, value });
    draft.preview(moved(held.i, value));
  };
  const onUp = () => {
    if (held === null) return;
    setHeld(null);
    if (held.value !== placed[held.i]) draft.commit("Drag a load", moved(held.i, held.value));
  };
  const onKey = (i: number) => (e: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (way === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    const value = within(placed[i]! + way * (e.shiftKey ? 10 : 1) * (units === "in" ? 0.01 : 0.1), spring, units);
    draft.commit("Move a load", moved(i, value));
  };
  if (placed.length !== step.loads.length) return null;
  return placed.map((value, i) => (
    <span
      key={step.loads[i]!.id}
      className={styles.mark}
      style={{ left: scale.left(held?.i === i ? held.value : value), top: scale.top(spring.loads[i]!.force) }}
      role="slider"
      tabIndex={0}
      aria-label={`Load ${i + 1} on the graph`}
      aria-valuenow={value}
      aria-valuetext={`${trim(value)} ${by === "angle" ? "°" : units}, ${trim(spring.loads[i]!.force)} N`}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld({ i, value });
      }}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onKeyDown={onKey(i)}
    />
  ));
}

/** The nearest place on the curve's own stretch. */
function within(value: number, spring: Spring, units: Units): number {
  const ends = spring.duty === "torsion" ? [0, 720] : spring.at.map((v) => inUnits(v, units));
  const most = spring.duty === "extension" ? Math.max(...ends) * 1.5 : Math.max(...ends);
  return Math.min(most, Math.max(Math.min(...ends), value));
}

function options(): uPlot.Options {
  const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  const axis: uPlot.Axis = {
    stroke: token("--soft"),
    grid: { stroke: token("--hair"), width: 1 },
    ticks: { show: false },
    font: "10.5px 'JetBrains Mono Variable'",
  };
  return {
    width: WIDTH,
    height: HEIGHT,
    padding: [10, 10, 0, 0],
    legend: { show: false },
    cursor: { show: false },
    select: { show: false, left: 0, top: 0, width: 0, height: 0 },
    scales: { x: { time: false } },
    axes: [
      { ...axis, size: 22, space: 44 },
      { ...axis, size: 46, space: 26 },
    ],
    series: [{}, { stroke: token("--sea"), width: 1.8, pxAlign: 0, points: { show: false } }],
  };
}
