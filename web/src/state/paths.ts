/** Steps that give a path, and new ones of them. */
import type { BuildData, CrossingStep, CurveStep, DerivedStep, EdgesStep, HoseStep, JoinedStep, Part, Port, ProjectedStep, RoutePoint, RouteStep, SketchData, Step, Vec3, WoundStep } from "../api/types";
import { toSpace } from "../stage/space";
import { freshId, freshName } from "./part";
import { givesOf, kindsThatGive } from "./fields";
import { isBody } from "./sweeps";

/** Steps that are a path of their own. */
export const ownPaths = () => kindsThatGive("path");

/** Steps that a path can be taken from. */
export const pathSources = () => [...kindsThatGive("drawing"), ...ownPaths(), ...kindsThatGive("body")];

export const isOwnPath = (step: Step | undefined) => givesOf(step) === "path";

/** Ids of the ends of a sketch's lines and curves, in the order in which they were drawn. */
export function drawnPoints(step: Step | undefined): string[] {
  if (step?.kind !== "sketch") return [];
  const used = new Set(step.sketch.entities.filter((e) => !e.construction).flatMap((e) => ("start" in e && "end" in e ? [e.start, e.end] : "points" in e ? e.points : [])));
  return step.sketch.points.map((p) => p.id).filter((id) => used.has(id));
}

/** A route's point that leaves bend, direction and curvature to the route. */
export const PLAIN_POINT = { radius: null, way: null, curving: null };

export function freshPoint(points: { id: string }[]): string {
  const taken = new Set(points.map((p) => p.id));
  for (let i = points.length + 1; ; i++) if (!taken.has(`q${i}`)) return `q${i}`;
}

export type PlaceAt = RoutePoint["at"];

export function placed([x, y, z]: Vec3, points: RoutePoint[]): RoutePoint {
  return { id: freshPoint(points), at: { by: "place", x, y, z }, ...PLAIN_POINT };
}

/** The points of a sketch put after those of a route; one that stands where the route ends is not said twice. */
export function withDrawn<P extends Pick<RoutePoint, "id" | "at">>(points: P[], sketch: Step | undefined, result: BuildData | null, last: Vec3 | undefined, rest: Omit<P, "id" | "at">): P[] {
  const data = sketch === undefined ? undefined : (result?.steps[sketch.id]?.data as SketchData | undefined);
  const place = (id: string): Vec3 | null => {
    const p = data?.sketch?.points.find((q) => q.id === id);
    return p === undefined || data?.plane === undefined ? null : toSpace(data.plane, [p.x, p.y]);
  };
  const near = (a: Vec3 | null) => a !== null && last !== undefined && Math.hypot(...a.map((v, k) => v - last[k]!)) < 1e-6;
  let ids = drawnPoints(sketch);
  if (ids.length > 1 && near(place(ids.at(-1)!)) && !near(place(ids[0]!))) ids = ids.reverse();
  return ids.filter((id, i) => i > 0 || !near(place(id))).reduce<P[]>(
    (all, point) => [...all, { ...rest, id: freshPoint(all), at: { by: "sketch", step: sketch!.id, point } } as P], points);
}

const spot = (x: number, y: number, z: number): PlaceAt => ({ by: "place", x, y, z });

const FIRST: Vec3[] = [[0, 0, 0], [100, 0, 0], [100, 80, 0], [100, 80, 60]];

/** A route through the points of the selected sketch, or through a few to begin with. */
export function newRoute(part: Part, selected: string | null): RouteStep {
  const drawn = withDrawn<RoutePoint>([], part.steps.find((s) => s.id === selected), null, undefined, PLAIN_POINT);
  const points = drawn.length > 1 ? drawn : FIRST.reduce<RoutePoint[]>((all, at) => [...all, placed(at, all)], []);
  return { id: freshId(part, "route"), name: freshName(part, "Route"), off: false, kind: "route", points, radius: 20, least_straight: 0, closed: false, shape: "bends", held: null };
}

const SHAPES: { [K in CurveStep["shape"]["by"]]: { name: string; shape: Extract<CurveStep["shape"], { by: K }> } } = {
  three: { name: "Arc", shape: { by: "three", start: spot(0, 0, 0), via: spot(50, 30, 20), end: spot(100, 0, 0), whole: false } },
  round: { name: "Ellipse", shape: { by: "round", plane: { kind: "principal", plane: "XY" }, radius: 50, other: 30, start_angle: 0, sweep: 360 } },
  formula: { name: "Curve by formula", shape: { by: "formula", plane: { kind: "principal", plane: "XY" }, x: "40*cos(t)", y: "40*sin(t)", z: "8*sin(3*t)", first: 0, last: 360 } },
};

/** A curve in space of one of its forms. */
export function newCurve(part: Part, by: CurveStep["shape"]["by"]): CurveStep {
  const { name, shape } = SHAPES[by];
  return { id: freshId(part, "curve"), name: freshName(part, name), off: false, kind: "curve", shape };
}

/** The same step with another form, as it is to begin with. */
export const curveShape = (by: CurveStep["shape"]["by"]): CurveStep["shape"] => SHAPES[by].shape;

const port = (x: number, y: number, z: number, dx: number, dz: number): Port => ({
  at: { by: "place", x, y, z, dx, dy: 0, dz }, reverse: false, straight: 20, pull: 1,
});

/** A hose between two ports; on the last two planes of the part, if it has them. */
export function newHose(part: Part): HoseStep {
  const planes = part.steps.filter((s) => s.kind === "plane" || s.kind === "datum").slice(-2);
  const onPlane = (s: Step): Port => ({ at: { by: "plane", plane: { kind: "step", step: s.id } }, reverse: false, straight: 20, pull: 1 });
  const [start, end] = planes.length === 2 ? planes.map(onPlane) : [port(0, 0, 0, 1, 0), port(160, 60, 90, 0, -1)];
  return { id: freshId(part, "hose"), name: freshName(part, "Hose"), off: false, kind: "hose", start: start!, end: end!, points: [], length: null, weight: 0, stiffness: 1, least_bend: 0 };
}

/** The paths before it that nothing uses yet, put end to end; null when there is none. */
export function newJoined(part: Part, used: Set<string>): JoinedStep | null {
  const loose = part.steps.filter((s) => (s.kind === "sketch" || isOwnPath(s)) && !used.has(s.id));
  if (loose.length === 0) return null;
  return { id: freshId(part, "joined"), name: freshName(part, "Joined path"), off: false, kind: "joined", parts: loose.map((s) => ({ step: s.id, curves: null })), tolerance: 0.001 };
}

const DERIVED: { [K in DerivedStep["how"]["by"]]: { name: string; how: Extract<DerivedStep["how"], { by: K }> } } = {
  piece: { name: "Piece of a path", how: { by: "piece", start: null, end: null, measure: "length", from_end: false, cut_start: null, cut_end: null } },
  beside: { name: "Path beside", how: { by: "beside", distance: 10, angle: 0 } },
  mirror: { name: "Mirrored path", how: { by: "mirror", plane: { kind: "principal", plane: "YZ" } } },
  move: { name: "Moved path", how: { by: "move", dx: 0, dy: 0, dz: 20, axis: "Z", turn: 0 } },
};

/** A path made of another. */
export function newDerived(part: Part, by: DerivedStep["how"]["by"], path: string): DerivedStep {
  const { name, how } = DERIVED[by];
  return { id: freshId(part, by), name: freshName(part, name), off: false, kind: "derived", path: { step: path, curves: null }, how };
}

/** An edge of a body as a path. */
export function newEdges(part: Part, step: string, edge: string): EdgesStep {
  return { id: freshId(part, "edges"), name: freshName(part, "Edge path"), off: false, kind: "edges", edges: [{ step, edge }], tangent: true };
}

/** A curve in which the last two bodies cross. */
export function newCrossing(part: Part): CrossingStep | null {
  const [first, second] = part.steps.filter(isBody).slice(-2);
  if (first === undefined || second === undefined) return null;
  return {
    id: freshId(part, "crossing"), name: freshName(part, "Crossing"), off: false, kind: "crossing",
    first: { step: first.id, edge: null, off: 0 }, second: { step: second.id, edge: null, off: 0 }, branch: 1,
  };
}

/** A path laid onto the last body that it does not come from. */
export function newProjected(part: Part, path: string): ProjectedStep | null {
  const body = part.steps.filter(isBody).at(-1);
  if (body === undefined) return null;
  return {
    id: freshId(part, "projected"), name: freshName(part, "Path on a surface"), off: false, kind: "projected",
    path: { step: path, curves: null }, onto: { step: body.id, edge: null, off: 0 }, along: { by: "axis", axis: "Z" },
  };
}

/** A coil about a path; where the path goes from straight to bend it crosses its tube at an even angle. */
export function newWound(part: Part, path: string, result: BuildData | null): WoundStep {
  const step = part.steps.find((s) => s.id === path);
  const told = result?.steps[path]?.data;
  const jumps = step?.kind === "route" || [...(told?.joints ?? []), ...(told?.path?.joints ?? [])].some((j) => j.kind === "tangent");
  return {
    id: freshId(part, "wound"), name: freshName(part, "Wound path"), off: false, kind: "wound", path: { step: path, curves: null },
    radius: step?.kind === "sweep" ? null : 12, end_radius: null, radii: null, former: null, former_end: 1, standoff: step?.kind === "sweep" ? 2 : 0,
    turns: 6, pitch: null, turn_table: null, even: jumps ? "angle" : "axis", start_angle: 0, hand: "right",
  };
}
