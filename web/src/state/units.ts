/** Changing a part's unit keeps every size: what had no unit of its own is given the old one. */
import type { CrossingStep, CurveStep, DatumStep, DerivedStep, Expression, HelixStep, HoseStep, Part, Port, RoutePoint, RouteStep, SweepStep, Units, WoundStep } from "../api/types";

import { isQuick, type QuickProfile } from "./sweeps";

const UNIT_WORD = /(^|[\d.)\s])(um|mm|cm|m|in|inch|ft)(?![\w(])/;
const NAME = /[A-Za-z_]\w*/g;
const MARKED = /['"’”]|\blength\(/; // feet and inches, or the length of a path

/** Whether an expression comes out without a unit, its named values included. */
function isBare(value: Expression, named: Map<string, Expression>, depth = 0): boolean {
  if (typeof value === "number") return true;
  if (/%\s*$/.test(value)) return false; // a share of a path's length
  if (depth > 50 || UNIT_WORD.test(value) || MARKED.test(value)) return false;
  return (value.match(NAME) ?? []).every((n) => !named.has(n) || isBare(named.get(n)!, named, depth + 1));
}

function withUnit(value: Expression, from: Units, named: Map<string, Expression>): Expression {
  if (!isBare(value, named)) return value;
  if (typeof value === "number") return value === 0 ? 0 : `${value} ${from}`;
  return `(${value.trim()}) ${from}`;
}

type Convert = (v: Expression) => Expression;
const maybe = (v: Expression | null, length: Convert) => (v === null ? null : length(v));

const quickIn = (p: QuickProfile, length: Convert): QuickProfile => ({
  ...p, width: length(p.width), height: length(p.height), wall: length(p.wall), corners: p.corners.map(({ x, y }) => ({ x: length(x), y: length(y) })),
});

function datumIn(step: DatumStep, length: Convert): DatumStep {
  const { how } = step;
  if (how.by === "offset") return { ...step, how: { ...how, distance: length(how.distance) } };
  return how.by === "normal" ? { ...step, how: { ...how, x: length(how.x), y: length(how.y), z: length(how.z) } } : step;
}

function sweepIn(step: SweepStep, length: Convert): SweepStep {
  const table = <T extends { at: Expression }>(points: T[]) => points.map((p) => ({ ...p, at: length(p.at) }));
  const size = (s: SweepStep["size"]) => (s?.by === "table" ? { ...s, points: table(s.points) } : s);
  const { twist, profile, bring } = step;
  return {
    ...step, wall: maybe(step.wall, length), start: maybe(step.start, length), end: maybe(step.end, length), corner_radius: length(step.corner_radius), extend_start: length(step.extend_start), extend_end: length(step.extend_end),
    size: size(step.size), size_y: size(step.size_y),
    twist: typeof twist !== "object" ? twist : twist.by === "pitch" ? { ...twist, pitch: length(twist.pitch) } : { ...twist, points: table(twist.points) },
    profile: isQuick(profile) ? quickIn(profile, length) : profile,
    bring: bring === null ? null : { ...bring, at: length(bring.at) },
  };
}

/** A place by coordinates; one that follows a sketch or a plane stays as it is. */
function placeIn<T extends RoutePoint["at"] | Port["at"]>(at: T, length: Convert): T {
  if (at.by === "path") return { ...at, station: length(at.station) };
  return at.by === "place" ? { ...at, x: length(at.x), y: length(at.y), z: length(at.z) } : at;
}

function pathIn(step: RouteStep | WoundStep, length: Convert): RouteStep | WoundStep {
  if (step.kind === "route") {
    const points = step.points.map((p) => ({
      ...p, radius: maybe(p.radius, length), at: placeIn(p.at, length),
      curving: p.curving === null ? null : { ...p.curving, radius: length(p.curving.radius) },
    }));
    const held = step.held === null ? null : { ...step.held, length: length(step.held.length) };
    return { ...step, points, radius: length(step.radius), least_straight: length(step.least_straight), held };
  }
  const both = (t: WoundStep["radii"]) => t?.map((p) => ({ at: length(p.at), value: length(p.value) })) ?? null;
  return {
    ...step, radius: maybe(step.radius, length), end_radius: maybe(step.end_radius, length), radii: both(step.radii), standoff: length(step.standoff),
    pitch: maybe(step.pitch, length), turn_table: step.turn_table?.map((p) => ({ ...p, at: length(p.at) })) ?? null,
  };
}

function helixIn(step: HelixStep, length: Convert): HelixStep {
  const pitch_table = step.pitch_table?.map((p) => ({ ...p, value: length(p.value) })) ?? null;
  return { ...step, radius: length(step.radius), end_radius: maybe(step.end_radius, length), pitch: maybe(step.pitch, length), height: maybe(step.height, length), pitch_table };
}

function curveIn(step: CurveStep, length: Convert): CurveStep {
  const { shape } = step;
  if (shape.by === "three") return { ...step, shape: { ...shape, start: placeIn(shape.start, length), via: placeIn(shape.via, length), end: placeIn(shape.end, length) } };
  if (shape.by === "round") return { ...step, shape: { ...shape, radius: length(shape.radius), other: maybe(shape.other, length) } };
  return { ...step, shape: { ...shape, x: length(shape.x), y: length(shape.y), z: length(shape.z) } };
}

const sidesIn = (sides: CrossingStep["first"], length: Convert): CrossingStep["first"] => ({ ...sides, off: length(sides.off) });

function derivedIn(step: DerivedStep, length: Convert): DerivedStep {
  const { how } = step;
  if (how.by === "piece") return how.measure === "ratio" ? step : { ...step, how: { ...how, start: maybe(how.start, length), end: maybe(how.end, length) } };
  if (how.by === "beside") return { ...step, how: { ...how, distance: length(how.distance) } };
  return how.by === "move" ? { ...step, how: { ...how, dx: length(how.dx), dy: length(how.dy), dz: length(how.dz) } } : step;
}

function hoseIn(step: HoseStep, length: Convert): HoseStep {
  const port = (p: Port): Port => ({ ...p, straight: length(p.straight), at: placeIn(p.at, length) });
  const points = step.points.map((p) => ({ ...p, at: placeIn(p.at, length) }));
  return { ...step, start: port(step.start), end: port(step.end), points, length: maybe(step.length, length), least_bend: length(step.least_bend) };
}

export function toUnits(part: Part, units: Units): Part {
  const named = new Map(part.values.map((v) => [v.name, v.value]));
  const length = (v: Expression) => withUnit(v, part.units, named);
  return {
    ...part, units,
    steps: part.steps.map((step) => {
      if (step.kind === "extrude") return { ...step, length: length(step.length), back: length(step.back) };
      if (step.kind === "sweep") return sweepIn(step, length);
      if (step.kind === "repeat") return { ...step, spacing: maybe(step.spacing, length), first: length(step.first), last: length(step.last) };
      if (step.kind === "clearance") return { ...step, diameter: maybe(step.diameter, length), least: length(step.least), skip_start: length(step.skip_start), skip_end: length(step.skip_end) };
      if (step.kind === "curve") return curveIn(step, length);
      if (step.kind === "helix") return helixIn(step, length);
      if (step.kind === "route" || step.kind === "wound") return pathIn(step, length);
      if (step.kind === "joined") return { ...step, tolerance: length(step.tolerance) };
      if (step.kind === "hose") return hoseIn(step, length);
      if (step.kind === "derived") return derivedIn(step, length);
      if (step.kind === "revolve" || step.kind === "edges") return step;
      if (step.kind === "crossing") return { ...step, first: sidesIn(step.first, length), second: sidesIn(step.second, length) };
      if (step.kind === "projected") return { ...step, onto: sidesIn(step.onto, length) };
      if (step.kind === "plane") return step.place === "length" ? { ...step, value: length(step.value) } : step;
      if (step.kind === "datum") return datumIn(step, length);
      const dimensions = step.sketch.dimensions.map((d) => (d.kind === "angle" ? d : { ...d, value: length(d.value) }));
      return { ...step, sketch: { ...step.sketch, dimensions } };
    }),
  };
}
