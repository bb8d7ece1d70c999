/** A drawing after a drag: what moved put in the place of what was. */
import type { Entity, Moved, Sketch, Vec2 } from "../api/types";

const STEP = (2 * Math.PI) / 180; // of an arc, between two of the points that it is drawn with

interface Drawing {
  sketch: Sketch;
  curves: Record<string, Vec2[]>;
}

export function withMoved<T extends Drawing>(data: T, moved: Moved): T {
  const points = data.sketch.points.map((p) => {
    const at = moved.points[p.id];
    return at === undefined ? p : { ...p, x: at[0], y: at[1] };
  });
  const entities = data.sketch.entities.map((e) => {
    const size = moved.sizes[e.id];
    if (size === undefined) return e;
    return e.kind === "circle" ? { ...e, radius: size } : e.kind === "ellipse" ? { ...e, minor: size } : e;
  });
  const at = (id: string): Vec2 => moved.points[id] ?? [0, 0];
  const curves: Record<string, Vec2[]> = { ...data.curves, ...moved.curves };
  for (const e of entities) {
    const curve = plainCurve(e, at);
    if (curve !== null) curves[e.id] = curve;
  }
  return {
    ...data,
    sketch: { ...data.sketch, points, entities },
    curves,
    combs: moved.combs,
    measured: moved.measured,
  };
}

/** A line or an arc to be drawn, which is wholly told by its points; null for other curves. */
export function plainCurve(entity: Entity, at: (point: string) => Vec2): Vec2[] | null {
  if (entity.kind === "line") return [at(entity.start), at(entity.end)];
  if (entity.kind !== "arc") return null;
  const [centre, start, end] = [at(entity.center), at(entity.start), at(entity.end)];
  const [a, b] = [start, end].map(([x, y]): Vec2 => [x - centre[0], y - centre[1]]) as [Vec2, Vec2];
  const from = Math.atan2(a[1], a[0]);
  const turn = (Math.atan2(b[1], b[0]) - from + 4 * Math.PI) % (2 * Math.PI);
  const sweep = turn === 0 ? 2 * Math.PI : turn;
  const radius = (Math.hypot(...a) + Math.hypot(...b)) / 2;
  const steps = Math.max(2, Math.ceil(sweep / STEP));
  const inner = Array.from({ length: steps - 1 }, (_, i): Vec2 => {
    const angle = from + (sweep * (i + 1)) / steps;
    return [centre[0] + radius * Math.cos(angle), centre[1] + radius * Math.sin(angle)];
  });
  return [start, ...inner, end];
}
