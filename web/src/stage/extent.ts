/** How much room the part takes, from what the builds say of its sketches and sweeps. */
import type { BuildData, Part, Vec2, Vec3 } from "../api/types";
import { toSpace } from "../geometry/space";

export interface Extent {
  centre: Vec3;
  radius: number;
  floor: number;
}

/** The corners of a section's box. */
function cornersOf(points: Vec2[]): Vec2[] {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const [a, b, c, d] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return [
    [a, c],
    [b, c],
    [b, d],
    [a, d],
  ];
}

export function extentOf(part: Part | null, result: BuildData | null): Extent {
  const low: Vec3 = [Infinity, Infinity, Infinity];
  const high: Vec3 = [-Infinity, -Infinity, -Infinity];
  const take = (p: Vec3) => {
    for (let i = 0; i < 3; i++) {
      low[i] = Math.min(low[i]!, p[i]!);
      high[i] = Math.max(high[i]!, p[i]!);
    }
  };
  for (const step of part?.steps ?? []) {
    const data = result?.steps[step.id]?.data;
    if (!data) continue;
    const { curves, plane, path, lanes, section } = data;
    if (curves && plane) for (const c of Object.values(curves)) for (const p of c) take(toSpace(plane, p));
    path?.points.forEach(take);
    if (lanes && section) {
      const corners = cornersOf(section.loops.flat());
      lanes.point.forEach((origin, i) =>
        corners.forEach((c) => take(toSpace({ origin, x: lanes.x[i]!, y: lanes.y[i]! }, c))),
      );
    }
  }
  result?.bodies.flatMap((b) => b.box).forEach(take);
  return Number.isFinite(low[0]) ? extentOfBox([low, high]) : { centre: [0, 0, 0], radius: 120, floor: 0 };
}

export function extentOfBox([low, high]: [Vec3, Vec3]): Extent {
  const centre = low.map((v, i) => (v + high[i]!) / 2) as Vec3;
  const radius = Math.max(5, Math.hypot(...low.map((v, i) => high[i]! - v)) / 2);
  return { centre, radius, floor: low[2] };
}
