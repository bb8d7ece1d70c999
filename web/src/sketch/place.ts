/** Where things stand: hit tests, snapping, the middle of what a dimension measures. */
import type { Dimension, Entity, Sketch, SketchData, Vec2 } from "../api/types";
import { isPoint, ORIGIN, pointAt, type Spot, entityOf } from "./edit/entities";

export const SNAP_PX = 10;
const HIT_PX = 7;
const LEVEL_DEG = 4;

const distance = (a: Vec2, b: Vec2) => Math.hypot(a[0] - b[0], a[1] - b[1]);

export function segmentDistance(p: Vec2, a: Vec2, b: Vec2): number {
  const d: Vec2 = [b[0] - a[0], b[1] - a[1]];
  const size = d[0] ** 2 + d[1] ** 2;
  const t = size === 0 ? 0 : Math.min(1, Math.max(0, ((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / size));
  return distance(p, [a[0] + t * d[0], a[1] + t * d[1]]);
}

/** The points and curves under the pointer, nearest first, points before curves. */
export function candidates(data: SketchData, at: Vec2, scale: number): string[] {
  const near = (list: { id: string; d: number }[], px: number) =>
    list
      .filter((c) => c.d * scale <= px)
      .sort((a, b) => a.d - b.d)
      .map((c) => c.id);
  const points = near(
    data.sketch.points.map((p) => ({ id: p.id, d: distance(at, [p.x, p.y]) })),
    SNAP_PX,
  );
  const origin = distance(at, [0, 0]) * scale <= SNAP_PX ? [ORIGIN] : [];
  const curves = near(
    data.sketch.entities.map((e) => ({ id: e.id, d: curveDistance(data.curves[e.id] ?? [], at) })),
    HIT_PX,
  );
  return [...points, ...origin, ...curves];
}

function curveDistance(curve: Vec2[], at: Vec2): number {
  let best = Infinity;
  for (let i = 0; i + 1 < curve.length; i++) best = Math.min(best, segmentDistance(at, curve[i]!, curve[i + 1]!));
  return best;
}

export interface PathCrossing {
  path: string;
  at: Vec2;
}

/**
 * An existing point, the origin, where a path crosses, the middle of a line, a crossing or a place on a curve or axis;
 * or just the place.
 */
export function snap(data: SketchData, at: Vec2, scale: number, crossings: PathCrossing[], hold = false): Spot {
  const existing = candidates(data, at, scale).find((id) => isPoint(data.sketch, id) && id !== ORIGIN);
  if (existing !== undefined) return { at: pointAt(data.sketch, existing), existing };
  const crossing = crossings.find((c) => distance(c.at, at) * scale <= SNAP_PX + 2);
  if (crossing !== undefined) return { at: crossing.at, onPath: crossing.path };
  if (distance(at, [0, 0]) * scale <= SNAP_PX) return { at: [0, 0], existing: ORIGIN };
  return hold ? { at } : snapToCurves(data, at, scale);
}

function snapToCurves(data: SketchData, at: Vec2, scale: number): Spot {
  for (const e of data.sketch.entities) {
    if (e.kind !== "line") continue;
    const [a, b] = [pointAt(data.sketch, e.start), pointAt(data.sketch, e.end)];
    const middle: Vec2 = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
    if (distance(middle, at) * scale <= SNAP_PX - 2) return { at: middle, middleOf: e.id };
  }
  const near = [
    ...data.sketch.entities
      .filter((e) => e.kind !== "smoothed")
      .map((e) => ({ id: e.id, ...nearestOn(data.curves[e.id] ?? [], at) })),
    { id: "X", at: [at[0], 0] as Vec2, along: [1, 0] as Vec2 },
    { id: "Y", at: [0, at[1]] as Vec2, along: [0, 1] as Vec2 },
  ]
    .map((c) => ({ ...c, d: distance(c.at, at) }))
    .filter((c) => c.d * scale <= HIT_PX)
    .sort((p, q) => p.d - q.d);
  const [first, second] = near;
  if (first === undefined) return { at };
  const cross = second === undefined ? null : meet(first.at, first.along, second.at, second.along);
  if (second !== undefined && cross !== null && distance(cross, at) * scale <= SNAP_PX)
    return { at: cross, onCurves: [first.id, second.id] };
  return { at: first.at, onCurves: [first.id] };
}

/** The nearest place on a polyline, and the direction there. */
function nearestOn(curve: Vec2[], at: Vec2): { at: Vec2; along: Vec2 } {
  let best: { at: Vec2; along: Vec2 } = { at: [Infinity, Infinity], along: [1, 0] };
  for (let i = 0; i + 1 < curve.length; i++) {
    const [a, b] = [curve[i]!, curve[i + 1]!];
    const d: Vec2 = [b[0] - a[0], b[1] - a[1]];
    const size = d[0] ** 2 + d[1] ** 2;
    const t = size === 0 ? 0 : Math.min(1, Math.max(0, ((at[0] - a[0]) * d[0] + (at[1] - a[1]) * d[1]) / size));
    const p: Vec2 = [a[0] + t * d[0], a[1] + t * d[1]];
    if (distance(p, at) < distance(best.at, at)) best = { at: p, along: d };
  }
  return best;
}

function meet(p: Vec2, u: Vec2, q: Vec2, v: Vec2): Vec2 | null {
  const cross = u[0] * v[1] - u[1] * v[0];
  if (Math.abs(cross) < 1e-3 * Math.hypot(...u) * Math.hypot(...v)) return null;
  const t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross;
  return [p[0] + t * u[0], p[1] + t * u[1]];
}

/** Whether a line from a to b is nearly level or upright, and b made exactly so. */
export function levelled(a: Vec2, b: Vec2): { at: Vec2; level: "horizontal" | "vertical" | null } {
  const angle = (Math.atan2(Math.abs(b[1] - a[1]), Math.abs(b[0] - a[0])) * 180) / Math.PI;
  if (angle <= LEVEL_DEG) return { at: [b[0], a[1]], level: "horizontal" };
  if (angle >= 90 - LEVEL_DEG) return { at: [a[0], b[1]], level: "vertical" };
  return { at: b, level: null };
}

function lineEnds(sketch: Sketch, id: string): [Vec2, Vec2] | null {
  if (id === "X")
    return [
      [0, 0],
      [1, 0],
    ];
  if (id === "Y")
    return [
      [0, 0],
      [0, 1],
    ];
  const e = entityOf(sketch, id);
  return e?.kind === "line" ? [pointAt(sketch, e.start), pointAt(sketch, e.end)] : null;
}

export type Span =
  | { shape: "span"; a: Vec2; b: Vec2; along: "free" | "x" | "y" }
  | { shape: "round"; center: Vec2; radius: number; across: boolean; arc?: [number, number] }
  | { shape: "angle"; vertex: Vec2 };

/** What a dimension spans; null when its items are gone. */
export function spanOf(sketch: Sketch, d: Pick<Dimension, "kind" | "items">): Span | null {
  const e = d.items[0] === undefined ? undefined : entityOf(sketch, d.items[0]);
  const round = d.items.map((i) => entityOf(sketch, i)).find((x) => x?.kind === "arc" || x?.kind === "circle");
  if (e?.kind === "circle" && d.items.length === 1)
    return { shape: "round", center: pointAt(sketch, e.center), radius: e.radius, across: d.kind === "diameter" };
  if (d.kind === "distance" && round !== undefined) return spanToRound(sketch, d.items, round);
  if (e?.kind === "ellipse") {
    const [center, tip] = [pointAt(sketch, e.center), pointAt(sketch, e.major)];
    if (d.kind === "radius") return { shape: "span", a: center, b: tip, along: "free" };
    const size = distance(center, tip) || 1;
    return {
      shape: "span",
      a: center,
      b: [center[0] - ((tip[1] - center[1]) * e.minor) / size, center[1] + ((tip[0] - center[0]) * e.minor) / size],
      along: "free",
    };
  }
  if (e?.kind === "spline" || e?.kind === "control_spline" || (e?.kind === "arc" && d.kind === "curve_length")) {
    const points = e.kind === "arc" ? [e.start, e.end] : [e.points[0]!, e.points.at(-1)!];
    return { shape: "span", a: pointAt(sketch, points[0]!), b: pointAt(sketch, points[1]!), along: "free" };
  }
  if (e?.kind === "arc") {
    const center = pointAt(sketch, e.center);
    const bearing = (id: string) => {
      const p = pointAt(sketch, id);
      return Math.atan2(p[1] - center[1], p[0] - center[0]);
    };
    const from = bearing(e.start);
    const arc: [number, number] = [from, from + turnBetween(from, bearing(e.end))];
    return {
      shape: "round",
      center,
      radius: distance(center, pointAt(sketch, e.start)),
      across: d.kind === "diameter",
      arc,
    };
  }
  const ends = d.items.map((i) => lineEnds(sketch, i));
  if (d.kind === "angle") {
    if (!ends[0] || !ends[1]) return null;
    return { shape: "angle", vertex: meeting(ends[0], ends[1]) };
  }
  const along = d.kind === "horizontal_distance" ? "x" : d.kind === "vertical_distance" ? "y" : "free";
  if (d.items.length === 1 && ends[0]) return { shape: "span", a: ends[0][0], b: ends[0][1], along };
  const points = d.items.filter((i) => isPoint(sketch, i)).map((i) => pointAt(sketch, i));
  if (points.length === 2) return { shape: "span", a: points[0]!, b: points[1]!, along };
  const line = ends.find((x) => x !== null);
  const from = points[0] ?? ends[1]?.[0];
  if (!line || !from) return null;
  return { shape: "span", a: from, b: foot(from, line), along };
}

/** From a point, line or circle to the near (or far) side of a circle. */
function spanToRound(sketch: Sketch, items: string[], round: Entity): Span | null {
  const centre = (x: Entity) => pointAt(sketch, (x as Extract<Entity, { kind: "arc" }>).center);
  const radius = (x: Entity) =>
    x.kind === "circle"
      ? x.radius
      : distance(centre(x), pointAt(sketch, (x as Extract<Entity, { kind: "arc" }>).start));
  const other = items.find((i) => i !== round.id) ?? round.id;
  const curve = entityOf(sketch, other);
  const line = lineEnds(sketch, other);
  const from = isPoint(sketch, other)
    ? pointAt(sketch, other)
    : line
      ? foot(centre(round), line)
      : curve
        ? centre(curve)
        : null;
  if (from === null) return null;
  const towards = (a: Vec2, b: Vec2, by: number): Vec2 => {
    const size = distance(a, b) || 1;
    return [a[0] + ((b[0] - a[0]) * by) / size, a[1] + ((b[1] - a[1]) * by) / size];
  };
  const a = curve && !line ? towards(from, centre(round), radius(curve)) : from;
  return { shape: "span", a, b: towards(centre(round), from, radius(round)), along: "free" };
}

/** Counter-clockwise turn from one bearing to another, 0 to 2π. */
function turnBetween(from: number, to: number): number {
  return (((to - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
}

/** The bearing at which a radius is drawn: the figure's own, or where the arc is nearest to it or to its opposite. */
export function radiusBearing(span: Extract<Span, { shape: "round" }>, at: Vec2): number {
  const own = Math.atan2(at[1] - span.center[1], at[0] - span.center[0]);
  if (!span.arc) return own;
  const [from, to] = span.arc;
  const within = (b: number) => turnBetween(from, b) <= to - from;
  if (within(own)) return own;
  if (within(own + Math.PI)) return own + Math.PI;
  const off = (end: number) => Math.abs(Math.atan2(Math.sin(2 * (own - end)), Math.cos(2 * (own - end))));
  return off(from) < off(to) ? from : to;
}

function foot(p: Vec2, [a, b]: [Vec2, Vec2]): Vec2 {
  const d: Vec2 = [b[0] - a[0], b[1] - a[1]];
  const t = ((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / (d[0] ** 2 + d[1] ** 2);
  return [a[0] + t * d[0], a[1] + t * d[1]];
}

function meeting([a, b]: [Vec2, Vec2], [c, d]: [Vec2, Vec2]): Vec2 {
  const u: Vec2 = [b[0] - a[0], b[1] - a[1]];
  const v: Vec2 = [d[0] - c[0], d[1] - c[1]];
  const cross = u[0] * v[1] - u[1] * v[0];
  if (Math.abs(cross) < 1e-9) return [(a[0] + c[0]) / 2, (a[1] + c[1]) / 2];
  const t = ((c[0] - a[0]) * v[1] - (c[1] - a[1]) * v[0]) / cross;
  return [a[0] + t * u[0], a[1] + t * u[1]];
}

export function middleOf(span: Span): Vec2 {
  if (span.shape === "span") return [(span.a[0] + span.b[0]) / 2, (span.a[1] + span.b[1]) / 2];
  return span.shape === "round" ? span.center : span.vertex;
}

/** Where a constraint's tag stands: at its first entity's middle, or at its point. */
export function tagPlace(data: SketchData, items: string[]): Vec2 | null {
  const entity = items.map((i) => entityOf(data.sketch, i)).find((e) => e !== undefined);
  if (entity !== undefined) {
    const curve = data.curves[entity.id];
    if (!curve || curve.length < 2) return null;
    if (curve.length === 2) return [(curve[0]![0] + curve[1]![0]) / 2, (curve[0]![1] + curve[1]![1]) / 2];
    return curve[Math.floor(curve.length / 2)]!;
  }
  const point = items.find((i) => isPoint(data.sketch, i) && i !== ORIGIN) ?? items[0];
  return point !== undefined && isPoint(data.sketch, point) ? pointAt(data.sketch, point) : null;
}

/** Middle and half-size of all that is drawn, for fitting it on the screen. */
export function bounds(data: SketchData): { centre: Vec2; width: number; height: number } | null {
  const all = [...Object.values(data.curves).flat(), ...data.sketch.points.map((p): Vec2 => [p.x, p.y])];
  if (all.length === 0) return null;
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return { centre: [(x0 + x1) / 2, (y0 + y1) / 2], width: x1 - x0, height: y1 - y0 };
}

/** The sketch's axis under a place. */
export function axisAt([x, y]: Vec2, scale: number): string | null {
  if (Math.abs(y) * scale < 5) return "X";
  return Math.abs(x) * scale < 5 ? "Y" : null;
}
