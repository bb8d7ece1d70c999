/** What of the earlier steps can be projected into a sketch, as it is seen from there. */
import { isBody } from "../state/bodies";
import { isSolved } from "../state/drawings";
import type { BuildData, Part, PlaneData, Vec2, Vec3 } from "../api/types";
import type { BodyEdge, EdgeLines } from "../api/client";
import { edgeTitle } from "../state/faceTitle";
import { toSpace } from "../geometry/space";
import { stepsBefore } from "../state/part";
import { segmentDistance } from "./place";

export interface Source {
  source: string;
  what: "point" | "curve" | "edge";
  item: string;
  title: string;
  line: Vec2[];
}

function seenFrom(plane: PlaneData, p: Vec3): Vec2 {
  const d = p.map((v, i) => v - plane.origin[i]!);
  const dot = (u: Vec3) => d[0]! * u[0] + d[1]! * u[1] + d[2]! * u[2];
  return [dot(plane.x), dot(plane.y)];
}

/** Curves and points of the sketches before a step. */
export function sourcesFor(part: Part, result: BuildData | null, step: string, plane: PlaneData): Source[] {
  const before = stepsBefore(part, step);
  return before.flatMap((s): Source[] => {
    const data = result?.steps[s.id]?.data;
    if (!isSolved(data)) return [];
    const own = data.plane;
    const curves = Object.entries(data.curves).map(([item, curve]): Source => ({
      source: s.id,
      what: "curve",
      item,
      title: `${s.name}: ${item}`,
      line: curve.map((p) => seenFrom(plane, toSpace(own, p))),
    }));
    const points = data.sketch.points.map((p): Source => ({
      source: s.id,
      what: "point",
      item: p.id,
      title: `${s.name}: point ${p.id}`,
      line: [seenFrom(plane, toSpace(own, [p.x, p.y]))],
    }));
    return [...points, ...curves];
  });
}

/**
 * Edges of earlier bodies: one for each polyline, all of one name; those of their plans, and of what was built those
 * that no plan has.
 */
export function edgeSources(edges: EdgeLines[], built: BodyEdge[], plane: PlaneData): Source[] {
  const planned = new Set(edges.map((e) => e.item));
  const made = built
    .filter((e) => !planned.has(e.item))
    .map((e) => ({ ...e, lines: e.lines.map((line) => line.map((p) => seenFrom(plane, p))) }));
  return [...edges, ...made].flatMap((e) =>
    e.lines.map((line): Source => ({ source: e.source, what: "edge", item: e.item, title: edgeTitle(e.item), line })),
  );
}

/** Faces that can be projected: the ends of earlier bodies, and the face that was picked in the stage. */
export function facesFor(part: Part, step: string, picked: string | null): { face: string; title: string }[] {
  const before = stepsBefore(part, step);
  const ends = before.filter(isBody).flatMap((s) => [
    { face: `${s.id}/cap/start`, title: `${s.name}: start` },
    { face: `${s.id}/cap/end`, title: `${s.name}: end` },
  ]);
  const known =
    picked !== null && !ends.some((e) => e.face === picked) && before.some((s) => s.id === picked.split("/")[0]);
  return known ? [{ face: picked, title: "The picked face" }, ...ends] : ends;
}

/** The point or curve under the pointer, points first. */
export function sourceAt(sources: Source[], at: Vec2, scale: number): Source | null {
  const gap = (s: Source) =>
    s.line.length === 1
      ? Math.hypot(s.line[0]![0] - at[0], s.line[0]![1] - at[1])
      : Math.min(...s.line.slice(1).map((p, i) => segmentDistance(at, s.line[i]!, p)));
  const near = sources
    .map((s) => ({ s, d: gap(s) * scale }))
    .filter((c) => c.d <= 9)
    .sort((a, b) => a.s.line.length - b.s.line.length || a.d - b.d);
  const points = near.filter((c) => c.s.what === "point");
  return (points[0] ?? near.sort((a, b) => a.d - b.d)[0])?.s ?? null;
}
