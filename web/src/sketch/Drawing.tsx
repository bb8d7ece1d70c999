/**
 * What a sketch looks like: curves, points, tags and figures. Each layer is drawn anew only when what it shows is
 * another.
 */
import { memo } from "react";
import type { Constraint, Dimension, Entity, Sketch, SketchData, Units, Vec2 } from "../api/types";
import { curveTitle } from "../state/curveTitle";
import { inUnits, trim } from "../ui/format";
import { CONSTRAINTS } from "./sketchKeys";
import { entityPoints, isPoint, ORIGIN, pointAt, entityOf } from "./edit/entities";
import { middleOf, radiusBearing, spanOf, tagPlace, type Span } from "./place";
import styles from "./Drawing.module.css";

export type Place = (p: Vec2) => Vec2;

interface DrawingProps {
  data: SketchData;
  place: Place;
  selection: ReadonlySet<string>;
  against: ReadonlySet<string>;
  hover: string | null;
  wiggle: Record<string, Vec2> | null;
}

const TAG_HEIGHT = 15;
const FIGURE_HEIGHT = 18;
const TAGS = new Map(CONSTRAINTS.map((k) => [k.kind as string, k.tag]));

const line = (points: Vec2[]) =>
  points.map((p, i) => `${i === 0 ? "M" : "L"}${p[0].toFixed(2)} ${p[1].toFixed(2)}`).join("");

function isFree(e: Entity, free: ReadonlySet<string>): boolean {
  return free.has(e.id) || entityPoints(e).some((p) => free.has(p));
}

export const Curves = memo(function Curves({ data, place, selection, against, hover, wiggle }: DrawingProps) {
  const free = new Set(data.free);
  return (
    <g>
      {data.sketch.entities.map((e) => {
        const curve = data.curves[e.id];
        if (!curve) return null;
        const state = against.has(e.id) ? "disputed" : isFree(e, free) ? "free" : "settled";
        const shown = wiggle === null ? curve : shifted(data, e, curve, wiggle);
        return (
          <path
            key={e.id}
            className={styles.curve}
            d={line(shown.map(place))}
            data-entity={e.id}
            data-state={state}
            data-construction={e.construction || undefined}
            data-selected={selection.has(e.id) || undefined}
            data-hover={hover === e.id || undefined}
          />
        );
      })}
    </g>
  );
});

/** A curve carried along by its moving points, blended by nearness: enough to show what is free. */
function shifted(data: SketchData, e: Entity, curve: Vec2[], wiggle: Record<string, Vec2>): Vec2[] {
  const ids = entityPoints(e).filter((id) => id !== (e.kind === "arc" ? e.center : ""));
  if (ids.length === 0) return curve;
  const anchors = ids.map((id) => ({ at: pointAt(data.sketch, id), move: wiggle[id] ?? ([0, 0] as Vec2) }));
  return curve.map((p) => {
    let total = 0;
    const sum: Vec2 = [0, 0];
    for (const { at, move } of anchors) {
      const w = 1 / (Math.hypot(p[0] - at[0], p[1] - at[1]) + 1e-6);
      total += w;
      sum[0] += w * move[0];
      sum[1] += w * move[1];
    }
    return [p[0] + sum[0] / total, p[1] + sum[1] / total];
  });
}

export const Points = memo(function Points({ data, place, selection, hover, wiggle }: DrawingProps) {
  const free = new Set(data.free);
  return (
    <g>
      {data.sketch.points.map((p) => {
        const move = wiggle?.[p.id] ?? [0, 0];
        const [x, y] = place([p.x + move[0], p.y + move[1]]);
        const state = free.has(p.id) ? "free" : "settled";
        const shared = {
          className: styles.point,
          "data-point": p.id,
          "data-state": state,
          "data-selected": selection.has(p.id) || undefined,
          "data-hover": hover === p.id || undefined,
        };
        return state === "free" ? (
          <circle key={p.id} {...shared} cx={x} cy={y} r="4" />
        ) : (
          <rect key={p.id} {...shared} x={x - 3.2} y={y - 3.2} width="6.4" height="6.4" />
        );
      })}
    </g>
  );
});

export const Tags = memo(function Tags({
  data,
  place,
  selection,
  against,
  units,
  onPick,
}: DrawingProps & { units: Units; onPick: (id: string, more: boolean) => void }) {
  const stacked = new Map<string, number>();
  const figures = figureBoxes(data, place, units);
  return (
    <g>
      {data.sketch.constraints.map((c: Constraint) => {
        const at = tagPlace(data, c.items);
        if (at === null) return null;
        const key = `${at[0].toFixed(3)},${at[1].toFixed(3)}`;
        const before = stacked.get(key) ?? 0;
        const [x, y] = place(at);
        const text = TAGS.get(c.kind) ?? c.kind;
        const width = 9 + 6 * text.length;
        const [left, top] = clearOf(figures, [x + 9 + before, y + 9, width, TAG_HEIGHT]);
        stacked.set(key, before + width + 7);
        return (
          <g
            key={c.id}
            className={styles.tag}
            data-selected={selection.has(c.id) || undefined}
            data-disputed={against.has(c.id) || undefined}
            transform={`translate(${left} ${top})`}
            data-constraint={c.kind}
            onPointerDown={(e) => {
              e.stopPropagation();
              onPick(c.id, e.shiftKey);
            }}
          >
            <title>
              {`${c.kind.replace("_", " ")}: ${c.items.map((i) => curveTitle(data.sketch, i, units)).join(", ")}`}
            </title>
            <rect width={width} height={TAG_HEIGHT} rx="7.5" />
            <text x={width / 2} y="11" textAnchor="middle">
              {text}
            </text>
          </g>
        );
      })}
    </g>
  );
});

interface FigureProps extends DrawingProps {
  units: Units;
  onPick: (id: string, more: boolean) => void;
  onEdit: (id: string) => void;
}

export function figureText(d: Dimension, data: SketchData, units: Units): string {
  const sign =
    d.kind === "radius" || d.kind === "minor_radius"
      ? "R "
      : d.kind === "diameter"
        ? "Ø "
        : d.kind === "curve_length"
          ? "∿ "
          : "";
  if (!d.driving) {
    const value = data.measured[d.id];
    if (value === undefined) return "( )";
    return `(${sign}${d.kind === "angle" ? `${trim((value * 180) / Math.PI)}°` : trim(inUnits(value, units))})`;
  }
  return `${sign}${d.value}${d.kind === "angle" && typeof d.value === "number" ? "°" : ""}`;
}

const figureWidth = (text: string) => 10 + 7.2 * text.length;

type Box = [left: number, top: number, width: number, height: number];

/** Where the figures of dimensions stand, px. */
function figureBoxes(data: SketchData, place: Place, units: Units): Box[] {
  const scale = Math.abs(place([1, 0])[0] - place([0, 0])[0]);
  return data.sketch.dimensions.flatMap((d): Box[] => {
    const span = measurable(data.sketch, d) ? spanOf(data.sketch, d) : null;
    if (span === null) return [];
    const [x, y] = place(figurePlace(d, span, scale));
    const width = figureWidth(figureText(d, data, units));
    return [[x - width / 2, y - FIGURE_HEIGHT / 2, width, FIGURE_HEIGHT]];
  });
}

/** The place of a tag, moved down below the figures that would cover it. */
function clearOf(figures: Box[], [left, top, width, height]: Box): [number, number] {
  const meets = (y: number) =>
    figures.find((f) => left < f[0] + f[2] && f[0] < left + width && y < f[1] + f[3] && f[1] < y + height);
  let y = top;
  for (let tries = 0; tries < figures.length; tries++) {
    const over = meets(y);
    if (over === undefined) break;
    y = over[1] + over[3] + 2;
  }
  return [left, y];
}

/** Whether all that a dimension measures is there. */
const measurable = (sketch: Sketch, d: Dimension) =>
  d.items.every((i) => isPoint(sketch, i) || i === "X" || i === "Y" || entityOf(sketch, i) !== undefined);

/** Where a dimension's figure stands, in the sketch. */
export function figurePlace(d: Dimension, span: Span, scale: number): Vec2 {
  const [mx, my] = middleOf(span);
  const [ax, ay]: Vec2 = d.at ?? [18 / scale, 18 / scale];
  return [mx + ax, my + ay];
}

export const Figures = memo(function Figures({ data, place, selection, against, units, onPick, onEdit }: FigureProps) {
  const scale = Math.abs(place([1, 0])[0] - place([0, 0])[0]);
  return (
    <g>
      {data.sketch.dimensions.map((d) => {
        const span = measurable(data.sketch, d) ? spanOf(data.sketch, d) : null;
        if (span === null) return null;
        const at = figurePlace(d, span, scale);
        const [x, y] = place(at);
        const text = figureText(d, data, units);
        const width = figureWidth(text);
        return (
          <g
            key={d.id}
            className={styles.figure}
            data-dimension={d.id}
            data-selected={selection.has(d.id) || undefined}
            data-disputed={against.has(d.id) || undefined}
            data-reference={!d.driving || undefined}
          >
            <path className={styles.leader} d={leader(span, at, place)} />
            <g
              onPointerDown={(e) => {
                e.stopPropagation();
                onPick(d.id, e.shiftKey);
              }}
              onClick={(e) => {
                e.stopPropagation();
                onEdit(d.id);
              }}
            >
              <title>{`${d.kind.replace("_", " ")}: click to change`}</title>
              <rect x={x - width / 2} y={y - FIGURE_HEIGHT / 2} width={width} height={FIGURE_HEIGHT} rx="2" />
              <text x={x} y={y + 4.2} textAnchor="middle">
                {text}
              </text>
            </g>
          </g>
        );
      })}
    </g>
  );
});

/** Extension and dimension lines, or a ray from the centre, with small ticks. */
function leader(span: Span, at: Vec2, place: Place): string {
  if (span.shape === "angle") return line([place(span.vertex), place(at)]);
  if (span.shape === "round") {
    const bearing = radiusBearing(span, at);
    const rim = (k: number): Vec2 => [
      span.center[0] + k * span.radius * Math.cos(bearing),
      span.center[1] + k * span.radius * Math.sin(bearing),
    ];
    return (
      line([place(span.across ? rim(-1) : span.center), place(rim(1))]) +
      tick(place(rim(1)), place(span.center)) +
      line([place(rim(1)), place(at)])
    );
  }
  const { a, b, along } = span;
  const u: Vec2 = along === "x" ? [1, 0] : along === "y" ? [0, 1] : unit([b[0] - a[0], b[1] - a[1]]);
  const onto = (p: Vec2): Vec2 => {
    const t = (p[0] - at[0]) * u[0] + (p[1] - at[1]) * u[1];
    return [at[0] + t * u[0], at[1] + t * u[1]];
  };
  const [p, q] = [onto(a), onto(b)];
  return (
    line([place(a), place(p)]) +
    line([place(p), place(q)]) +
    line([place(q), place(b)]) +
    tick(place(p), place(q)) +
    tick(place(q), place(p))
  );
}

function unit([x, y]: Vec2): Vec2 {
  const size = Math.hypot(x, y) || 1;
  return [x / size, y / size];
}

function tick(p: Vec2, q: Vec2): string {
  const [ux, uy] = unit([q[0] - p[0], q[1] - p[1]]);
  const left: Vec2 = [p[0] + 7 * ux - 3 * uy, p[1] + 7 * uy + 3 * ux];
  const right: Vec2 = [p[0] + 7 * ux + 3 * uy, p[1] + 7 * uy - 3 * ux];
  return `M${left.join(" ")}L${p.join(" ")}L${right.join(" ")}`;
}

/** Where an outline is open or crosses another: no region is found there. */
export const Faults = memo(function Faults({
  data,
  place,
  profile,
}: {
  data: SketchData;
  place: Place;
  profile: boolean;
}) {
  const { loose = [], crossing = [] } = data.faults ?? {};
  return (
    <g className={styles.faults}>
      {profile &&
        loose.map((p, i) => {
          const [x, y] = place(p);
          return (
            <path key={`l${i}`} d={`M${x - 9} ${y}a9 9 0 1 1 15 6.7`}>
              <title>The outline is open here</title>
            </path>
          );
        })}
      {crossing.map((p, i) => {
        const [x, y] = place(p);
        return (
          <path
            key={`c${i}`}
            className={styles.crossed}
            d={`M${x - 8} ${y}L${x} ${y - 8}L${x + 8} ${y}L${x} ${y + 8}Z`}
          >
            <title>Outlines cross here</title>
          </path>
        );
      })}
    </g>
  );
});

/** How strongly each spline bends: a hair at each place, away from the centre of curvature. */
export const Combs = memo(function Combs({ data, place }: { data: SketchData; place: Place }) {
  const all = Object.values(data.combs ?? {}).flat();
  if (all.length === 0) return null;
  const largest = Math.max(...all.map(([, , kx, ky]) => Math.hypot(kx, ky)), 1e-12);
  const scale = Math.abs(place([1, 0])[0] - place([0, 0])[0]);
  const reach = 46 / scale / largest;
  return (
    <g className={styles.comb} data-testid="comb">
      {Object.entries(data.combs).map(([id, hairs]) => {
        const ends = hairs.map(([x, y, kx, ky]): [Vec2, Vec2] => [
          place([x, y]),
          place([x + kx * reach, y + ky * reach]),
        ]);
        return <path key={id} d={ends.map(([a, b]) => line([a, b])).join("") + line(ends.map(([, b]) => b))} />;
      })}
    </g>
  );
});

/** A spline's handles and a control spline's legs. */
export const Legs = memo(function Legs({ data, place }: { data: SketchData; place: Place }) {
  const at = (id: string) => place(pointAt(data.sketch, id));
  const legs = data.sketch.entities.flatMap((e): string[] => {
    if (e.kind === "control_spline") return [line(e.points.map(at))];
    if (e.kind === "ellipse") return [line([at(e.center), at(e.major)])];
    if (e.kind !== "spline") return [];
    return [
      ...(e.start_handle ? [line([at(e.points[0]!), at(e.start_handle)])] : []),
      ...(e.end_handle ? [line([at(e.points.at(-1)!), at(e.end_handle)])] : []),
    ];
  });
  return (
    <g className={styles.legs}>
      {legs.map((d, i) => (
        <path key={i} d={d} />
      ))}
    </g>
  );
});

/** The origin and the two axes of the plane. */
export const Axes = memo(function Axes({ place, width, height }: { place: Place; width: number; height: number }) {
  const [x, y] = place([0, 0]);
  return (
    <g className={styles.axes} data-point={ORIGIN}>
      <path d={`M0 ${y}H${width}M${x} 0V${height}`} />
      <path
        className={styles.origin}
        data-testid="origin"
        d={`M${x - 6} ${y}L${x} ${y - 6}L${x + 6} ${y}L${x} ${y + 6}Z`}
      />
    </g>
  );
});
