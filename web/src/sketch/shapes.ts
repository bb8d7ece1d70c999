/** Figures drawn in one go, with the constraints that keep them what they are. */
import type { Sketch, Vec2 } from "../api/types";
import { addCircle, addConstraint, addEntity, addPoint, takePoint, takePoints, type Spot } from "./edit/entities";

const line = (sketch: Sketch, start: string, end: string, construction = false) =>
  addEntity(sketch, (id) => ({ kind: "line", id, start, end, construction }));
const arc = (sketch: Sketch, center: string, start: string, end: string) =>
  addEntity(sketch, (id) => ({ kind: "arc", id, center, start, end, construction: false }));

function points(sketch: Sketch, places: Vec2[]): { sketch: Sketch; ids: string[] } {
  const ids: string[] = [];
  for (const at of places) {
    const p = addPoint(sketch, at);
    sketch = p.sketch;
    ids.push(p.id);
  }
  return { sketch, ids };
}

/** Four lines from corner to corner. */
export function addCornerRectangle(sketch: Sketch, from: Spot, to: Spot): Sketch {
  const a = takePoint(sketch, from);
  const c = takePoint(a.sketch, to);
  const made = points(c.sketch, [
    [to.at[0], from.at[1]],
    [from.at[0], to.at[1]],
  ]);
  const corners = [a.id, made.ids[0]!, c.id, made.ids[1]!];
  let next = made.sketch;
  for (let i = 0; i < 4; i++) {
    const side = line(next, corners[i]!, corners[(i + 1) % 4]!);
    next = addConstraint(side.sketch, i % 2 === 0 ? "horizontal" : "vertical", [side.id]);
  }
  return next;
}

/** The outline of a slot whose middle line runs from one end centre to the other. */
export function slotOutline(a: Vec2, b: Vec2, radius: number): Vec2[] {
  const size = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  const n: Vec2 = [(-(b[1] - a[1]) / size) * radius, ((b[0] - a[0]) / size) * radius];
  return [
    [a[0] + n[0], a[1] + n[1]],
    [b[0] + n[0], b[1] + n[1]],
    [b[0] - n[0], b[1] - n[1]],
    [a[0] - n[0], a[1] - n[1]],
  ];
}

/** A straight slot about its middle: two lines and two half circles, the middle between the end centres. */
export function addSlot(
  sketch: Sketch,
  middle: Spot,
  end: Vec2,
  radius: number,
  level: "horizontal" | "vertical" | null,
): Sketch {
  const m = takePoint(sketch, middle);
  const other: Vec2 = [2 * middle.at[0] - end[0], 2 * middle.at[1] - end[1]];
  const made = points(m.sketch, [other, end, ...slotOutline(other, end, radius)]);
  const [a, b, p1, p2, p3, p4] = made.ids as [string, string, string, string, string, string];
  const top = line(made.sketch, p1, p2);
  const bottom = line(top.sketch, p3, p4);
  const right = arc(bottom.sketch, b, p3, p2);
  const left = arc(right.sketch, a, p1, p4);
  let next = left.sketch;
  for (const pair of [
    [top.id, right.id],
    [right.id, bottom.id],
    [bottom.id, left.id],
    [left.id, top.id],
  ])
    next = addConstraint(next, "tangent", pair);
  next = addConstraint(next, "equal", [left.id, right.id]);
  next = addConstraint(next, "midpoint", [m.id, a, b]);
  return level === null ? next : addConstraint(next, level, [a, b]);
}

/** A slot along an arc about a centre: two arcs and two half circles. */
export function addArcSlot(sketch: Sketch, center: Spot, from: Vec2, to: Vec2, radius: number): Sketch {
  const c = takePoint(sketch, center);
  const reach = Math.hypot(from[0] - center.at[0], from[1] - center.at[1]);
  const at = (p: Vec2, r: number): Vec2 => {
    const d: Vec2 = [p[0] - center.at[0], p[1] - center.at[1]];
    const size = Math.hypot(...d) || 1;
    return [center.at[0] + (d[0] * r) / size, center.at[1] + (d[1] * r) / size];
  };
  const made = points(c.sketch, [
    at(from, reach),
    at(to, reach),
    at(from, reach + radius),
    at(to, reach + radius),
    at(from, reach - radius),
    at(to, reach - radius),
  ]);
  const [a, b, oa, ob, ia, ib] = made.ids as [string, string, string, string, string, string];
  const outer = arc(made.sketch, c.id, oa, ob);
  const inner = arc(outer.sketch, c.id, ia, ib);
  const first = arc(inner.sketch, a, ia, oa);
  const last = arc(first.sketch, b, ob, ib);
  let next = last.sketch;
  for (const pair of [
    [outer.id, last.id],
    [last.id, inner.id],
    [inner.id, first.id],
    [first.id, outer.id],
  ])
    next = addConstraint(next, "tangent", pair);
  return next;
}

export function polygonCorners(center: Vec2, at: Vec2, sides: number, byFlats: boolean): Vec2[] {
  const reach = Math.hypot(at[0] - center[0], at[1] - center[1]);
  const turn = Math.atan2(at[1] - center[1], at[0] - center[0]) + (byFlats ? Math.PI / sides : 0);
  const radius = byFlats ? reach / Math.cos(Math.PI / sides) : reach;
  return Array.from({ length: sides }, (_, i) => {
    const angle = turn + (2 * Math.PI * i) / sides;
    return [center[0] + radius * Math.cos(angle), center[1] + radius * Math.sin(angle)];
  });
}

/** A regular polygon on a construction circle: through its corners, or touching its flats. */
export function addPolygon(sketch: Sketch, center: Spot, at: Vec2, sides: number, byFlats: boolean): Sketch {
  const reach = Math.hypot(at[0] - center.at[0], at[1] - center.at[1]);
  const round = addCircle(sketch, center, reach);
  const made = points(round.sketch, polygonCorners(center.at, at, sides, byFlats));
  let next: Sketch = {
    ...made.sketch,
    entities: made.sketch.entities.map((e) => (e.id === round.id ? { ...e, construction: true } : e)),
  };
  const flats: string[] = [];
  for (let i = 0; i < sides; i++) {
    const side = line(next, made.ids[i]!, made.ids[(i + 1) % sides]!);
    next = side.sketch;
    flats.push(side.id);
  }
  const on = byFlats
    ? flats.map((f) => ["tangent", [f, round.id]] as const)
    : made.ids.map((p) => ["on_curve", [p, round.id]] as const);
  for (const [kind, items] of on) next = addConstraint(next, kind, [...items]);
  for (let i = 1; i < sides; i++)
    if (!byFlats || i < sides - 1) next = addConstraint(next, "equal", [flats[0]!, flats[i]!]);
  return next;
}

export interface EllipseShape {
  major: Vec2;
  minor: number;
}

/** An ellipse from its centre, the end of one half-axis, and a point level with the end of the other. */
export function ellipseFor(center: Vec2, tip: Vec2, side: Vec2): EllipseShape | null {
  const u: Vec2 = [tip[0] - center[0], tip[1] - center[1]];
  const size = Math.hypot(...u);
  const across = Math.abs(u[0] * (side[1] - center[1]) - u[1] * (side[0] - center[0])) / (size || 1);
  return size < 1e-9 || across < 1e-9 ? null : { major: tip, minor: across };
}

export function ellipseLine(center: Vec2, { major, minor }: EllipseShape): Vec2[] {
  const u: Vec2 = [major[0] - center[0], major[1] - center[1]];
  const size = Math.hypot(...u) || 1;
  const v: Vec2 = [(-u[1] / size) * minor, (u[0] / size) * minor];
  return Array.from({ length: 73 }, (_, i) => {
    const [c, s] = [Math.cos((i * Math.PI) / 36), Math.sin((i * Math.PI) / 36)];
    return [center[0] + c * u[0] + s * v[0], center[1] + c * u[1] + s * v[1]];
  });
}

export function addEllipse(
  sketch: Sketch,
  center: Spot,
  tip: Spot,
  minor: number,
  level: "horizontal" | "vertical" | null,
): Sketch {
  const c = takePoint(sketch, center);
  const m = takePoint(c.sketch, tip);
  const made = addEntity(m.sketch, (id) => ({
    kind: "ellipse",
    id,
    center: c.id,
    major: m.id,
    minor,
    start: null,
    end: null,
    construction: false,
  }));
  return level === null ? made.sketch : addConstraint(made.sketch, level, [c.id, m.id]);
}

export function addControlSpline(sketch: Sketch, spots: Spot[]): Sketch {
  const { sketch: next, ids: points } = takePoints(sketch, spots);
  return addEntity(next, (id) => ({ kind: "control_spline", id, points, construction: false })).sketch;
}
