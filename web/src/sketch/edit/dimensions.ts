/** What a dimension on picked things is of, and what it measures now. */
import type { Dimension, Entity, Sketch, Vec2 } from "../../api/types";
import { isPoint, pointAt } from "./entities";

/** What a dimension on the picked things measures, by where its figure is put; null when it cannot be one. */
export function dimensionFor(sketch: Sketch, items: string[], place: Vec2): Pick<Dimension, "kind" | "items"> | null {
  const points = items.filter((i) => isPoint(sketch, i));
  const entities = items.map((i) => sketch.entities.find((e) => e.id === i)).filter((e) => e !== undefined);
  const lines = items.filter((i) => i === "X" || i === "Y" || entities.some((e) => e.id === i && e.kind === "line"));
  if (items.length === 1) {
    const [e] = entities;
    if (e === undefined) return null;
    return e.kind === "line"
      ? lineDimension(sketch, e, place)
      : e.kind === "circle"
        ? { kind: "diameter", items }
        : e.kind === "arc"
          ? { kind: "radius", items }
          : e.kind === "ellipse"
            ? { kind: nearMajor(sketch, e, place) ? "radius" : "minor_radius", items }
            : e.kind === "spline" || e.kind === "control_spline"
              ? { kind: "curve_length", items }
              : null;
  }
  const round = entities.find((e) => e.kind === "arc" || e.kind === "circle");
  if (items.length === 2 && round !== undefined && points.length + lines.length + entities.length >= 2) {
    const other =
      entities.find((e) => e !== round && (e.kind === "arc" || e.kind === "circle"))?.id ?? points[0] ?? lines[0];
    return other === undefined ? null : { kind: "distance", items: [other, round.id] };
  }
  if (points.length === 2)
    return { kind: directionOf(pointAt(sketch, points[0]!), pointAt(sketch, points[1]!), place), items };
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

function lineDimension(
  sketch: Sketch,
  e: Extract<Entity, { kind: "line" }>,
  place: Vec2,
): Pick<Dimension, "kind" | "items"> {
  const kind = directionOf(pointAt(sketch, e.start), pointAt(sketch, e.end), place);
  return kind === "distance" ? { kind: "length", items: [e.id] } : { kind, items: [e.start, e.end] };
}

/** Beside the span: along it. Well above or below: horizontal. Well to the left or right: vertical. */
function directionOf(a: Vec2, b: Vec2, place: Vec2): "distance" | "horizontal_distance" | "vertical_distance" {
  const [low, high] = [
    [Math.min(a[0], b[0]), Math.min(a[1], b[1])],
    [Math.max(a[0], b[0]), Math.max(a[1], b[1])],
  ] as [Vec2, Vec2];
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
    if (line === "X")
      return [
        [0, 0],
        [1, 0],
      ];
    if (line === "Y")
      return [
        [0, 0],
        [0, 1],
      ];
    const e = sketch.entities.find((x) => x.id === line) as Extract<Entity, { kind: "line" }>;
    return [pointAt(sketch, e.start), pointAt(sketch, e.end)];
  };
  const e = sketch.entities.find((x) => x.id === d.items[0]);
  if (d.kind === "distance" && d.items.some((i) => sketch.entities.some((x) => x.id === i && x.kind !== "line")))
    return distanceToRound(sketch, d.items);
  if (e?.kind === "ellipse")
    return d.kind === "minor_radius"
      ? e.minor
      : Math.hypot(...minus(pointAt(sketch, e.major), pointAt(sketch, e.center)));
  if (e?.kind === "circle") return d.kind === "radius" ? e.radius : 2 * e.radius;
  if (e?.kind === "arc") {
    const [c, s] = [pointAt(sketch, e.center), pointAt(sketch, e.start)];
    return Math.hypot(s[0] - c[0], s[1] - c[1]) * (d.kind === "diameter" ? 2 : 1);
  }
  if (d.kind === "angle") return angleBetween(...outward(ends(d.items[0]!), ends(d.items[1]!)));
  const points = d.items.filter((i) => isPoint(sketch, i));
  if (d.items.length === 1) points.splice(0, 2);
  const [a, b] =
    points.length === 2
      ? [pointAt(sketch, points[0]!), pointAt(sketch, points[1]!)]
      : d.items.length === 1
        ? ends(d.items[0]!)
        : [null, null];
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
  const radius = (x: Entity) =>
    x.kind === "circle"
      ? x.radius
      : x.kind === "arc"
        ? Math.hypot(...minus(pointAt(sketch, x.start), pointAt(sketch, x.center)))
        : 0;
  const centre = (x: Entity) => pointAt(sketch, (x as Extract<Entity, { kind: "arc" }>).center);
  const [first, second] = rounds as [Entity, Entity | undefined];
  if (second !== undefined)
    return Math.abs(Math.hypot(...minus(centre(first), centre(second))) - radius(first) - radius(second));
  const other = items.find((i) => i !== first.id)!;
  if (isPoint(sketch, other))
    return Math.abs(Math.hypot(...minus(pointAt(sketch, other), centre(first))) - radius(first));
  const line = sketch.entities.find((x) => x.id === other);
  const [p, q]: [Vec2, Vec2] =
    line?.kind === "line"
      ? [pointAt(sketch, line.start), pointAt(sketch, line.end)]
      : [[0, 0], other === "Y" ? [0, 1] : [1, 0]];
  const [u, c] = [minus(q, p), minus(centre(first), p)];
  return Math.abs(Math.abs(u[0] * c[1] - u[1] * c[0]) / Math.hypot(...u) - radius(first));
}

/** Two lines turned to lead away from the point that they share. */
function outward(a: [Vec2, Vec2], b: [Vec2, Vec2]): [Vec2, Vec2] {
  const near = (p: Vec2, q: Vec2) => Math.hypot(p[0] - q[0], p[1] - q[1]) < 1e-6;
  for (const i of [0, 1] as const)
    for (const j of [0, 1] as const) {
      if (near(a[i], b[j])) return [minus(a[1 - i]!, a[i]), minus(b[1 - j]!, b[j])];
    }
  return [minus(a[1], a[0]), minus(b[1], b[0])];
}

const minus = (p: Vec2, q: Vec2): Vec2 => [p[0] - q[0], p[1] - q[1]];

function angleBetween(u: Vec2, v: Vec2): number {
  return Math.abs(Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1])) * (180 / Math.PI);
}
