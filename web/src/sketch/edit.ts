/** Edits of a sketch as pure functions. Nothing here solves; the server does that with the result. */
import type { Constraint, Dimension, Entity, Sketch, Vec2 } from "../api/types";

export const ORIGIN = "O";

export function freshSketchId(sketch: Sketch, stem: string): string {
  const taken = new Set([
    ...sketch.points.map((p) => p.id), ...sketch.entities.map((e) => e.id),
    ...sketch.constraints.map((c) => c.id), ...sketch.dimensions.map((d) => d.id),
  ]);
  for (let i = 1; ; i++) if (!taken.has(`${stem}${i}`)) return `${stem}${i}`;
}

export function pointAt(sketch: Sketch, id: string): Vec2 {
  if (id === ORIGIN) return [0, 0];
  const p = sketch.points.find((q) => q.id === id);
  if (p === undefined) throw new Error(`no point ${id}`);
  return [p.x, p.y];
}

export const isPoint = (sketch: Sketch, id: string) => id === ORIGIN || sketch.points.some((p) => p.id === id);

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
  if (spot.onPath !== undefined) return { ...made, sketch: addConstraint(made.sketch, "on_path", [made.id], spot.onPath) };
  if (spot.middleOf !== undefined) return { ...made, sketch: addConstraint(made.sketch, "midpoint", [made.id, spot.middleOf]) };
  return { ...made, sketch: (spot.onCurves ?? []).reduce((s, curve) => addConstraint(s, "on_curve", [made.id, curve]), made.sketch) };
}

export function addEntity(sketch: Sketch, make: (id: string) => Entity): { sketch: Sketch; id: string } {
  const id = freshSketchId(sketch, "e");
  return { sketch: { ...sketch, entities: [...sketch.entities, make(id)] }, id };
}

export function addConstraint(sketch: Sketch, kind: Constraint["kind"], items: string[], path: string | null = null): Sketch {
  const id = freshSketchId(sketch, "k");
  return { ...sketch, constraints: [...sketch.constraints, { id, kind, items, path }] };
}

export function addLine(sketch: Sketch, from: Spot, to: Spot, level: "horizontal" | "vertical" | null): { sketch: Sketch; end: string; id: string } {
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

export function addArc(sketch: Sketch, from: Spot, to: Spot, shape: ArcShape, tangentTo: string | null): { sketch: Sketch; id: string; end: string } {
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
  return addEntity(first.sketch, (id) => ({ kind: "circle", id, center: circle.center, radius: inner, construction: false })).sketch;
}

/** Four lines about a centre that stays their middle. */
export function addRectangle(sketch: Sketch, center: Spot, corner: Vec2): Sketch {
  const c = takePoint(sketch, center);
  const [dx, dy] = [Math.abs(corner[0] - center.at[0]), Math.abs(corner[1] - center.at[1])];
  let next = c.sketch;
  const corners: string[] = [];
  for (const [sx, sy] of [[-1, -1], [1, -1], [1, 1], [-1, 1]] as const) {
    const p = addPoint(next, [center.at[0] + sx * dx, center.at[1] + sy * dy]);
    next = p.sketch;
    corners.push(p.id);
  }
  for (let i = 0; i < 4; i++) {
    const line = addEntity(next, (id) => ({ kind: "line", id, start: corners[i]!, end: corners[(i + 1) % 4]!, construction: false }));
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
  return addEntity(next, (id) => ({ kind: "spline", id, points, knots: null, start_handle: null, end_handle: null, construction: false })).sketch;
}

/** The points that an entity stands on, centre first. */
export function entityPoints(e: Entity): string[] {
  switch (e.kind) {
    case "line": return [e.start, e.end];
    case "arc": return [e.center, e.start, e.end];
    case "circle": return [e.center];
    case "ellipse": return [e.center, e.major, e.start, e.end].filter((p) => p !== null);
    case "spline": return [...e.points, ...[e.start_handle, e.end_handle].filter((p) => p !== null)];
    case "control_spline": return e.points;
    case "smoothed": return [];
  }
}

const holds = (e: Entity, point: string) => entityPoints(e).includes(point);

/** Delete things, whatever stood on them, and points that nothing uses any more. */
export function removeItems(sketch: Sketch, ids: ReadonlySet<string>): Sketch {
  const left = sketch.entities.filter((e) => !ids.has(e.id) && ![...ids].some((id) => isPoint(sketch, id) && holds(e, id)));
  const entities = left.filter((e) => e.kind !== "smoothed" || e.of.every((o) => left.some((x) => x.id === o)));
  const gone = new Set(sketch.entities.filter((e) => !entities.includes(e)).map((e) => e.id));
  const orphaned = sketch.points.filter((p) => ids.has(p.id)
    || (sketch.entities.some((e) => holds(e, p.id)) && !entities.some((e) => holds(e, p.id))));
  for (const p of orphaned) gone.add(p.id);
  const stays = (item: string) => !gone.has(item) && !ids.has(item);
  return {
    projections: sketch.projections.filter((p) => [...p.entities, ...p.points].every(stays)),
    points: sketch.points.filter((p) => !gone.has(p.id)),
    entities,
    constraints: sketch.constraints.filter((c) => !ids.has(c.id) && c.items.every(stays)),
    dimensions: sketch.dimensions.filter((d) => !ids.has(d.id) && d.items.every(stays)),
  };
}

export function toggleConstruction(sketch: Sketch, ids: ReadonlySet<string>): Sketch {
  return { ...sketch, entities: sketch.entities.map((e) => (ids.has(e.id) ? { ...e, construction: !e.construction } : e)) };
}

/** Whether a constraint can go on what is selected. */
export function applies(sketch: Sketch, kind: Constraint["kind"], items: string[]): boolean {
  const points = items.filter((i) => isPoint(sketch, i)).length;
  const entities = items.map((i) => sketch.entities.find((e) => e.id === i)).filter((e) => e !== undefined);
  const axes = items.filter((i) => i === "X" || i === "Y").length;
  if (points + entities.length + axes !== items.length || items.length === 0) return false;
  const lines = entities.filter((e) => e.kind === "line").length + axes;
  const rounds = entities.filter((e) => e.kind === "arc" || e.kind === "circle").length;
  const centred = rounds + entities.filter((e) => e.kind === "ellipse").length;
  const splines = entities.filter((e) => e.kind === "spline" || e.kind === "control_spline").length;
  if (entities.some((e) => e.kind === "smoothed")) return false;
  const [two, three] = [items.length === 2, items.length === 3];
  switch (kind) {
    case "coincident": return two && points === 2;
    case "horizontal":
    case "vertical": return lines === items.length || (two && points === 2);
    case "parallel":
    case "perpendicular": return two && lines === 2;
    case "tangent": return two && points === 0 && lines < 2;
    case "equal": return two && (lines === 2 || rounds === 2);
    case "midpoint": return (two && points === 1 && lines === 1) || (three && points === 3);
    case "on_curve": return two && points === 1;
    case "smooth": return two && points === 0 && splines > 0 && axes === 0;
    case "concentric": return two && centred === 2;
    case "collinear": return two && lines === 2;
    case "symmetric": return three && axis(sketch, items[2]!) && (points >= 2 || entities.length + axes === 3);
    case "on_path": return points === items.length;
    case "fix": return axes === 0;
  }
}

const axis = (sketch: Sketch, id: string) => id === "X" || id === "Y" || isPoint(sketch, id) || sketch.entities.some((e) => e.id === id && e.kind === "line");

/** What a dimension on the picked things measures, by where its figure is put; null when it cannot be one. */
export function dimensionFor(sketch: Sketch, items: string[], place: Vec2): Pick<Dimension, "kind" | "items"> | null {
  const points = items.filter((i) => isPoint(sketch, i));
  const entities = items.map((i) => sketch.entities.find((e) => e.id === i)).filter((e) => e !== undefined);
  const lines = items.filter((i) => i === "X" || i === "Y" || entities.some((e) => e.id === i && e.kind === "line"));
  if (items.length === 1) {
    const [e] = entities;
    if (e === undefined) return null;
    return e.kind === "line" ? lineDimension(sketch, e, place) : e.kind === "circle" ? { kind: "diameter", items }
      : e.kind === "arc" ? { kind: "radius", items } : e.kind === "ellipse" ? { kind: nearMajor(sketch, e, place) ? "radius" : "minor_radius", items }
        : e.kind === "spline" || e.kind === "control_spline" ? { kind: "curve_length", items } : null;
  }
  const round = entities.find((e) => e.kind === "arc" || e.kind === "circle");
  if (items.length === 2 && round !== undefined && points.length + lines.length + entities.length >= 2) {
    const other = entities.find((e) => e !== round && (e.kind === "arc" || e.kind === "circle"))?.id ?? points[0] ?? lines[0];
    return other === undefined ? null : { kind: "distance", items: [other, round.id] };
  }
  if (points.length === 2) return { kind: directionOf(pointAt(sketch, points[0]!), pointAt(sketch, points[1]!), place), items };
  if (points.length === 1 && lines.length === 1) return { kind: "distance", items: [points[0]!, lines[0]!] };
  if (lines.length === 2) return { kind: areParallel(sketch, lines) ? "distance" : "angle", items: lines };
  return null;
}

/** Whether a figure stands nearer to an ellipse's major axis than to its minor one. */
function nearMajor(sketch: Sketch, e: Extract<Entity, { kind: "ellipse" }>, place: Vec2): boolean {
  const [c, m] = [pointAt(sketch, e.center), pointAt(sketch, e.major)];
  const [u, d] = [minus(m, c), minus(place, c)];
  return Math.abs(u[0] * d[0] + u[1] * d[1]) > Math.abs(u[0] * d[1] - u[1] * d[0]);
}

function lineDimension(sketch: Sketch, e: Extract<Entity, { kind: "line" }>, place: Vec2): Pick<Dimension, "kind" | "items"> {
  const kind = directionOf(pointAt(sketch, e.start), pointAt(sketch, e.end), place);
  return kind === "distance" ? { kind: "length", items: [e.id] } : { kind, items: [e.start, e.end] };
}

/** Beside the span: along it. Well above or below: horizontal. Well to the left or right: vertical. */
function directionOf(a: Vec2, b: Vec2, place: Vec2): "distance" | "horizontal_distance" | "vertical_distance" {
  const [low, high] = [[Math.min(a[0], b[0]), Math.min(a[1], b[1])], [Math.max(a[0], b[0]), Math.max(a[1], b[1])]] as [Vec2, Vec2];
  const level = high[1] - low[1] < 1e-6 || high[0] - low[0] < 1e-6;
  if (level) return "distance";
  const beside = (k: 0 | 1) => place[k] >= low[k] && place[k] <= high[k];
  if (beside(0) && !beside(1)) return "horizontal_distance";
  if (beside(1) && !beside(0)) return "vertical_distance";
  return "distance";
}

function areParallel(sketch: Sketch, lines: string[]): boolean {
  const [u, v] = lines.map((l) => {
    if (l === "X") return [1, 0] as Vec2;
    if (l === "Y") return [0, 1] as Vec2;
    const e = sketch.entities.find((x) => x.id === l) as Extract<Entity, { kind: "line" }>;
    const [a, b] = [pointAt(sketch, e.start), pointAt(sketch, e.end)];
    return [b[0] - a[0], b[1] - a[1]] as Vec2;
  }) as [Vec2, Vec2];
  return Math.abs(u[0] * v[1] - u[1] * v[0]) < 1e-4 * Math.hypot(...u) * Math.hypot(...v);
}

/** What a dimension measures now, in mm, or degrees for an angle. */
export function measured(sketch: Sketch, d: Pick<Dimension, "kind" | "items">): number {
  const ends = (line: string): [Vec2, Vec2] => {
    if (line === "X") return [[0, 0], [1, 0]];
    if (line === "Y") return [[0, 0], [0, 1]];
    const e = sketch.entities.find((x) => x.id === line) as Extract<Entity, { kind: "line" }>;
    return [pointAt(sketch, e.start), pointAt(sketch, e.end)];
  };
  const e = sketch.entities.find((x) => x.id === d.items[0]);
  if (d.kind === "distance" && d.items.some((i) => sketch.entities.some((x) => x.id === i && x.kind !== "line"))) return distanceToRound(sketch, d.items);
  if (e?.kind === "ellipse") return d.kind === "minor_radius" ? e.minor : Math.hypot(...minus(pointAt(sketch, e.major), pointAt(sketch, e.center)));
  if (e?.kind === "circle") return d.kind === "radius" ? e.radius : 2 * e.radius;
  if (e?.kind === "arc") {
    const [c, s] = [pointAt(sketch, e.center), pointAt(sketch, e.start)];
    return Math.hypot(s[0] - c[0], s[1] - c[1]) * (d.kind === "diameter" ? 2 : 1);
  }
  if (d.kind === "angle") return angleBetween(...outward(ends(d.items[0]!), ends(d.items[1]!)));
  const points = d.items.filter((i) => isPoint(sketch, i));
  if (d.items.length === 1) points.splice(0, 2);
  const [a, b] = points.length === 2 ? [pointAt(sketch, points[0]!), pointAt(sketch, points[1]!)]
    : d.items.length === 1 ? ends(d.items[0]!) : [null, null];
  if (a !== null && b !== null) {
    if (d.kind === "horizontal_distance") return Math.abs(b[0] - a[0]);
    if (d.kind === "vertical_distance") return Math.abs(b[1] - a[1]);
    return Math.hypot(b[0] - a[0], b[1] - a[1]);
  }
  const line = d.items.find((i) => !isPoint(sketch, i))!;
  const other = points[0] !== undefined ? pointAt(sketch, points[0]) : ends(d.items[1]!)[0];
  const [p, q] = ends(line);
  const u: Vec2 = [q[0] - p[0], q[1] - p[1]];
  return Math.abs(u[0] * (other[1] - p[1]) - u[1] * (other[0] - p[0])) / Math.hypot(...u);
}

/** From a point, a line or another circle to the near side of a circle. */
function distanceToRound(sketch: Sketch, items: string[]): number {
  const rounds = sketch.entities.filter((x) => items.includes(x.id) && (x.kind === "arc" || x.kind === "circle"));
  const radius = (x: Entity) => (x.kind === "circle" ? x.radius : x.kind === "arc" ? Math.hypot(...minus(pointAt(sketch, x.start), pointAt(sketch, x.center))) : 0);
  const centre = (x: Entity) => pointAt(sketch, (x as Extract<Entity, { kind: "arc" }>).center);
  const [first, second] = rounds as [Entity, Entity | undefined];
  if (second !== undefined) return Math.abs(Math.hypot(...minus(centre(first), centre(second))) - radius(first) - radius(second));
  const other = items.find((i) => i !== first.id)!;
  if (isPoint(sketch, other)) return Math.abs(Math.hypot(...minus(pointAt(sketch, other), centre(first))) - radius(first));
  const line = sketch.entities.find((x) => x.id === other);
  const [p, q]: [Vec2, Vec2] = line?.kind === "line" ? [pointAt(sketch, line.start), pointAt(sketch, line.end)] : [[0, 0], other === "Y" ? [0, 1] : [1, 0]];
  const [u, c] = [minus(q, p), minus(centre(first), p)];
  return Math.abs(Math.abs(u[0] * c[1] - u[1] * c[0]) / Math.hypot(...u) - radius(first));
}

/** Two lines turned to lead away from the point that they share. */
function outward(a: [Vec2, Vec2], b: [Vec2, Vec2]): [Vec2, Vec2] {
  const near = (p: Vec2, q: Vec2) => Math.hypot(p[0] - q[0], p[1] - q[1]) < 1e-6;
  for (const i of [0, 1] as const) for (const j of [0, 1] as const) {
    if (near(a[i], b[j])) return [minus(a[1 - i]!, a[i]), minus(b[1 - j]!, b[j])];
  }
  return [minus(a[1], a[0]), minus(b[1], b[0])];
}

const minus = (p: Vec2, q: Vec2): Vec2 => [p[0] - q[0], p[1] - q[1]];

function angleBetween(u: Vec2, v: Vec2): number {
  return Math.abs(Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1])) * (180 / Math.PI);
}
