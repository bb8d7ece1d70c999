/**
 * Points and entities of a sketch, and new ones, as pure functions. Nothing here solves; the server does that with the
 * result.
 */
import type { Constraint, Entity, Sketch, Vec2 } from "../../api/types";

export const ORIGIN = "O";

export function freshSketchId(sketch: Sketch, stem: string): string {
  const taken = new Set([
    ...sketch.points.map((p) => p.id),
    ...sketch.entities.map((e) => e.id),
    ...sketch.constraints.map((c) => c.id),
    ...sketch.dimensions.map((d) => d.id),
  ]);
  for (let i = 1; ; i++) if (!taken.has(`${stem}${i}`)) return `${stem}${i}`;
}

/** Points and entities by their ids, looked up once for each sketch: a drawing asks for them hundreds of times. */
const indices = new WeakMap<Sketch, { points: Map<string, Sketch["points"][number]>; entities: Map<string, Entity> }>();

function indexOf(sketch: Sketch) {
  let index = indices.get(sketch);
  if (index === undefined) {
    index = {
      points: new Map(sketch.points.map((p) => [p.id, p])),
      entities: new Map(sketch.entities.map((e) => [e.id, e])),
    };
    indices.set(sketch, index);
  }
  return index;
}

export const entityOf = (sketch: Sketch, id: string): Entity | undefined => indexOf(sketch).entities.get(id);

export function pointAt(sketch: Sketch, id: string): Vec2 {
  if (id === ORIGIN) return [0, 0];
  const p = indexOf(sketch).points.get(id);
  if (p === undefined) throw new Error(`no point ${id}`);
  return [p.x, p.y];
}

export const isPoint = (sketch: Sketch, id: string) => id === ORIGIN || indexOf(sketch).points.has(id);

export function addPoint(sketch: Sketch, [x, y]: Vec2): { sketch: Sketch; id: string } {
  const id = freshSketchId(sketch, "p");
  return { sketch: { ...sketch, points: [...sketch.points, { id, x, y }] }, id };
}

/** A point that is there already, or a new one at the place, perhaps on curves or at the middle of a line. */
export interface Spot {
  at: Vec2;
  existing?: string;
  onPath?: string;
  onCurves?: string[];
  middleOf?: string;
}

export function takePoint(sketch: Sketch, spot: Spot): { sketch: Sketch; id: string } {
  if (spot.existing !== undefined && spot.existing !== ORIGIN) return { sketch, id: spot.existing };
  const made = addPoint(sketch, spot.at);
  if (spot.existing === ORIGIN) return { ...made, sketch: addConstraint(made.sketch, "coincident", [made.id, ORIGIN]) };
  if (spot.onPath !== undefined)
    return { ...made, sketch: addConstraint(made.sketch, "on_path", [made.id], spot.onPath) };
  if (spot.middleOf !== undefined)
    return { ...made, sketch: addConstraint(made.sketch, "midpoint", [made.id, spot.middleOf]) };
  return {
    ...made,
    sketch: (spot.onCurves ?? []).reduce((s, curve) => addConstraint(s, "on_curve", [made.id, curve]), made.sketch),
  };
}

export function addEntity(sketch: Sketch, make: (id: string) => Entity): { sketch: Sketch; id: string } {
  const id = freshSketchId(sketch, "e");
  return { sketch: { ...sketch, entities: [...sketch.entities, make(id)] }, id };
}

export function addConstraint(
  sketch: Sketch,
  kind: Constraint["kind"],
  items: string[],
  path: string | null = null,
): Sketch {
  const id = freshSketchId(sketch, "k");
  return { ...sketch, constraints: [...sketch.constraints, { id, kind, items, path }] };
}

export function addLine(
  sketch: Sketch,
  from: Spot,
  to: Spot,
  level: "horizontal" | "vertical" | null,
): { sketch: Sketch; end: string; id: string } {
  const a = takePoint(sketch, from);
  const b = takePoint(a.sketch, to);
  const line = addEntity(b.sketch, (id) => ({ kind: "line", id, start: a.id, end: b.id, construction: false }));
  const next = level === null ? line.sketch : addConstraint(line.sketch, level, [line.id]);
  return { sketch: next, end: b.id, id: line.id };
}

export interface ArcShape {
  center: Vec2;
  radius: number;
  /** Counter-clockwise from the start as clicked to the end as clicked. */
  counterClockwise: boolean;
}

/** The arc from a through m to b; null when they stand in line. */
export function arcThrough(a: Vec2, b: Vec2, m: Vec2): ArcShape | null {
  const d = 2 * ((a[0] - m[0]) * (b[1] - m[1]) - (a[1] - m[1]) * (b[0] - m[0]));
  const size = Math.hypot(b[0] - a[0], b[1] - a[1]);
  if (Math.abs(d) < 1e-6 * size * size) return null;
  const sq = (p: Vec2) => (p[0] - m[0]) ** 2 + (p[1] - m[1]) ** 2;
  const cx = m[0] + ((b[1] - m[1]) * sq(a) - (a[1] - m[1]) * sq(b)) / d;
  const cy = m[1] + ((a[0] - m[0]) * sq(b) - (b[0] - m[0]) * sq(a)) / d;
  return { center: [cx, cy], radius: Math.hypot(a[0] - cx, a[1] - cy), counterClockwise: d < 0 };
}

/** The arc from a to b that leaves a in a direction; null when b lies straight ahead. */
export function arcTangent(a: Vec2, b: Vec2, heading: Vec2): ArcShape | null {
  const size = Math.hypot(...heading);
  const n: Vec2 = [-heading[1] / size, heading[0] / size];
  const d: Vec2 = [b[0] - a[0], b[1] - a[1]];
  const across = n[0] * d[0] + n[1] * d[1];
  if (Math.abs(across) < 1e-6 * Math.hypot(...d)) return null;
  const r = (d[0] ** 2 + d[1] ** 2) / (2 * across);
  return { center: [a[0] + n[0] * r, a[1] + n[1] * r], radius: Math.abs(r), counterClockwise: r > 0 };
}

/** The direction in which a chain arrives at its last point, from the entity drawn there. */
export function headingAt(sketch: Sketch, point: string): { heading: Vec2; entity: string } | null {
  for (const e of [...sketch.entities].reverse()) {
    if (e.construction) continue;
    if (e.kind === "line" && (e.start === point || e.end === point)) {
      const from = pointAt(sketch, e.end === point ? e.start : e.end);
      const to = pointAt(sketch, point);
      return { heading: [to[0] - from[0], to[1] - from[1]], entity: e.id };
    }
    if (e.kind === "control_spline" && e.points.at(-1) === point) {
      const [from, to] = [pointAt(sketch, e.points.at(-2)!), pointAt(sketch, point)];
      return { heading: [to[0] - from[0], to[1] - from[1]], entity: e.id };
    }
    if (e.kind === "arc" && (e.start === point || e.end === point)) {
      const c = pointAt(sketch, e.center);
      const p = pointAt(sketch, point);
      const r: Vec2 = [p[0] - c[0], p[1] - c[1]];
      return { heading: e.end === point ? [-r[1], r[0]] : [r[1], -r[0]], entity: e.id };
    }
  }
  return null;
}

export function addArc(
  sketch: Sketch,
  from: Spot,
  to: Spot,
  shape: ArcShape,
  tangentTo: string | null,
): { sketch: Sketch; id: string; end: string } {
  const a = takePoint(sketch, from);
  const b = takePoint(a.sketch, to);
  const c = addPoint(b.sketch, shape.center);
  const [start, end] = shape.counterClockwise ? [a.id, b.id] : [b.id, a.id];
  const arc = addEntity(c.sketch, (id) => ({ kind: "arc", id, center: c.id, start, end, construction: false }));
  const next = tangentTo === null ? arc.sketch : addConstraint(arc.sketch, "tangent", [tangentTo, arc.id]);
  return { sketch: next, id: arc.id, end: b.id };
}

export function addCircle(sketch: Sketch, center: Spot, radius: number): { sketch: Sketch; id: string } {
  const c = takePoint(sketch, center);
  return addEntity(c.sketch, (id) => ({ kind: "circle", id, center: c.id, radius, construction: false }));
}

export function addRing(sketch: Sketch, center: Spot, outer: number, inner: number): Sketch {
  const first = addCircle(sketch, center, outer);
  const circle = first.sketch.entities.at(-1) as Extract<Entity, { kind: "circle" }>;
  return addEntity(first.sketch, (id) => ({
    kind: "circle",
    id,
    center: circle.center,
    radius: inner,
    construction: false,
  })).sketch;
}

/** Four lines about a centre that stays their middle. */
export function addRectangle(sketch: Sketch, center: Spot, corner: Vec2): Sketch {
  const c = takePoint(sketch, center);
  const [dx, dy] = [Math.abs(corner[0] - center.at[0]), Math.abs(corner[1] - center.at[1])];
  let next = c.sketch;
  const corners: string[] = [];
  for (const [sx, sy] of [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ] as const) {
    const p = addPoint(next, [center.at[0] + sx * dx, center.at[1] + sy * dy]);
    next = p.sketch;
    corners.push(p.id);
  }
  for (let i = 0; i < 4; i++) {
    const line = addEntity(next, (id) => ({
      kind: "line",
      id,
      start: corners[i]!,
      end: corners[(i + 1) % 4]!,
      construction: false,
    }));
    next = addConstraint(line.sketch, i % 2 === 0 ? "horizontal" : "vertical", [line.id]);
  }
  return addConstraint(next, "midpoint", [c.id, corners[0]!, corners[2]!]);
}

export function takePoints(sketch: Sketch, spots: Spot[]): { sketch: Sketch; ids: string[] } {
  const ids = spots.map((spot) => {
    const p = takePoint(sketch, spot);
    sketch = p.sketch;
    return p.id;
  });
  return { sketch, ids };
}

export function addSpline(sketch: Sketch, spots: Spot[]): Sketch {
  const { sketch: next, ids: points } = takePoints(sketch, spots);
  return addEntity(next, (id) => ({
    kind: "spline",
    id,
    points,
    knots: null,
    start_handle: null,
    end_handle: null,
    construction: false,
  })).sketch;
}

/** The points that an entity stands on, centre first. */
export function entityPoints(e: Entity): string[] {
  switch (e.kind) {
    case "line":
      return [e.start, e.end];
    case "arc":
      return [e.center, e.start, e.end];
    case "circle":
      return [e.center];
    case "ellipse":
      return [e.center, e.major, e.start, e.end].filter((p) => p !== null);
    case "spline":
      return [...e.points, ...[e.start_handle, e.end_handle].filter((p) => p !== null)];
    case "control_spline":
      return e.points;
    case "smoothed":
      return [];
  }
}
