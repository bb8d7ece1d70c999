/** Steps that give a path, and points in space for them. */
import type { BuildData, Step, Vec3 } from "../api/types";
import { toSpace } from "../geometry/space";
import { isDrawn, sketchOf } from "./drawings";
import { givesOf, kindsThatGive } from "./fields";

/** Steps that are a path of their own. */
export const ownPaths = () => kindsThatGive("path");

/** Steps that a path can be taken from. */
export const pathSources = () => [...kindsThatGive("drawing"), ...ownPaths(), ...kindsThatGive("body")];

export const isOwnPath = (step: Step | undefined) => givesOf(step) === "path";

/** Ids of the ends of a sketch's lines and curves, in the order in which they were drawn. */
export function drawnPoints(step: Step | undefined): string[] {
  if (!isDrawn(step)) return [];
  const used = new Set(
    sketchOf(step)
      .entities.filter((e) => !e.construction)
      .flatMap((e) => ("start" in e && "end" in e ? [e.start, e.end] : "points" in e ? e.points : [])),
  );
  return sketchOf(step)
    .points.map((p) => p.id)
    .filter((id) => used.has(id));
}

export function freshPoint(points: { id: string }[]): string {
  const taken = new Set(points.map((p) => p.id));
  for (let i = points.length + 1; ; i++) if (!taken.has(`q${i}`)) return `q${i}`;
}

/** The points of a sketch put after those of a route; one that stands where the route ends is not said twice. */
export function withDrawn<P extends { id: string; at: unknown }>(
  points: P[],
  sketch: Step | undefined,
  result: BuildData | null,
  last: Vec3 | undefined,
  rest: Omit<P, "id" | "at">,
): P[] {
  const data = result?.steps[sketch?.id ?? ""]?.data;
  const place = (id: string): Vec3 | null => {
    const p = data?.sketch?.points.find((q) => q.id === id);
    return p === undefined || data?.plane === undefined ? null : toSpace(data.plane, [p.x, p.y]);
  };
  const near = (a: Vec3 | null) =>
    a !== null && last !== undefined && Math.hypot(...a.map((v, k) => v - last[k]!)) < 1e-6;
  let ids = drawnPoints(sketch);
  if (ids.length > 1 && near(place(ids.at(-1)!)) && !near(place(ids[0]!))) ids = ids.reverse();
  return ids
    .filter((id, i) => i > 0 || !near(place(id)))
    .reduce<P[]>(
      (all, point) => [...all, { ...rest, id: freshPoint(all), at: { by: "sketch", step: sketch!.id, point } } as P],
      points,
    );
}
