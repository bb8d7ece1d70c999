/** A new step of this kind, as it is to begin with. */
import type { Part, Vec3 } from "../../api/types";
import type { RoutePoint, RouteStep } from "./step";
import { beginning } from "../../state/beginning";
import { freshPoint, withDrawn } from "../../state/paths";

/** A point that leaves bend, direction and curvature to the route. */
export const PLAIN_POINT = { radius: null, way: null, curving: null };

export function placed([x, y, z]: Vec3, points: RoutePoint[]): RoutePoint {
  return { id: freshPoint(points), at: { by: "place", x, y, z }, ...PLAIN_POINT };
}

const FIRST: Vec3[] = [
  [0, 0, 0],
  [100, 0, 0],
  [100, 80, 0],
  [100, 80, 60],
];

/** A route through the points of the selected sketch, or through a few to begin with. */
export function newRoute(part: Part, selected: string | null): RouteStep {
  const drawn = withDrawn<RoutePoint>(
    [],
    part.steps.find((s) => s.id === selected),
    null,
    undefined,
    PLAIN_POINT,
  );
  const points = drawn.length > 1 ? drawn : FIRST.reduce<RoutePoint[]>((all, at) => [...all, placed(at, all)], []);
  return { ...beginning(part, "route", "Route"), points, radius: 20 };
}
