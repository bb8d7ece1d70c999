/** A new step of this kind, as it is to begin with. */
import type { Part, RoutePoint, RouteStep, Vec3 } from "../../api/types";
import { freshId, freshName } from "../../state/part";
import { placed, PLAIN_POINT, withDrawn } from "../../state/paths";

const FIRST: Vec3[] = [[0, 0, 0], [100, 0, 0], [100, 80, 0], [100, 80, 60]];

/** A route through the points of the selected sketch, or through a few to begin with. */
export function newRoute(part: Part, selected: string | null): RouteStep {
  const drawn = withDrawn<RoutePoint>([], part.steps.find((s) => s.id === selected), null, undefined, PLAIN_POINT);
  const points = drawn.length > 1 ? drawn : FIRST.reduce<RoutePoint[]>((all, at) => [...all, placed(at, all)], []);
  return { id: freshId(part, "route"), name: freshName(part, "Route"), off: false, kind: "route", points, radius: 20, least_straight: 0, closed: false, shape: "bends", held: null };
}
