/** The lanes of the station strip: what each shows, and which marks of its law can be dragged. */
import type { Expression, SweepData, SweepStep, Units } from "../api/types";
import type { LaneName } from "../state/view";
import { inUnits } from "../ui/format";

export interface LaneData {
  name: LaneName;
  title: string;
  unit: string;
  y: (number | null)[];
  limit?: (number | null)[];
  range?: [number, number];
  empty?: string;
}

export const LANE_NAMES: { name: LaneName; label: string }[] = [
  { name: "bend", label: "bend" }, { name: "twist", label: "twist" }, { name: "size", label: "size" }, { name: "lean", label: "lean" }, { name: "room", label: "room" },
];

const BEND_SHOWN = 3;

export function laneData(name: LaneName, data: SweepData, units: Units): LaneData[] {
  const { lanes } = data;
  if (name === "bend") return [bend(data, units)];
  if (name === "twist") return [{ name, title: "twist", unit: "°", y: lanes.twist }];
  if (name === "lean") return [{ name, title: "section to path", unit: "°", y: lanes.tilt, range: [Math.min(60, ...lanes.tilt) - 5, 95] }];
  if (name === "room") {
    return [{ name, title: "room to itself", unit: units, y: lanes.clearance.map((v) => (v === null ? null : inUnits(v, units))), limit: lanes.station.map(() => 0), empty: "nothing near" }];
  }
  const [x, y] = [lanes.map.map((m) => m[0]), lanes.map.map((m) => m[3])];
  const both = x.every((v, i) => Math.abs(v - y[i]!) < 1e-6);
  return both ? [{ name, title: "size", unit: "×", y: x }] : [{ name, title: "size along x", unit: "×", y: x }, { name, title: "size along y", unit: "×", y }];
}

function bend({ lanes }: SweepData, units: Units): LaneData {
  const limit = Math.max(...lanes.limit.map((v) => v ?? 0));
  const finite = lanes.radius.filter((r): r is number => r !== null);
  const tightest = finite.length > 0 ? Math.min(...finite) : null;
  const top = tightest === null ? 1 : Math.max(limit * 1.6, tightest * BEND_SHOWN);
  const shown = (rows: (number | null)[]) => rows.map((v) => (v === null || v > top ? null : inUnits(v, units)));
  return { name: "bend", title: "bend radius", unit: units, y: shown(lanes.radius), limit: shown(lanes.limit), range: [0, inUnits(top, units)], empty: "straight" };
}

/** A mark of a law: where it stands, and the step's fields when it is moved there. */
export interface Mark {
  at: number;
  value: number;
  fixed: boolean;
  moved: (at: number, value: number) => Partial<SweepStep>;
}

const number = (e: unknown): e is number => typeof e === "number";
const tidy = (v: number) => Number(v.toPrecision(4));

/** Marks for the laws that are given as plain numbers; stations in mm. */
export function marksOf(step: SweepStep, lane: LaneName, row: number, data: SweepData, units: Units): Mark[] {
  const mm = units === "in" ? 25.4 : 1;
  if (lane === "twist") {
    const { twist } = step;
    if (number(twist)) return [{ at: data.length, value: data.lanes.twist.at(-1) ?? 0, fixed: true, moved: (_, v) => ({ twist: tidy((v - data.lanes.twist[0]!) / 360) }) }];
    return typeof twist === "object" && twist.by === "table" ? tableMarks(twist, mm, (points) => ({ twist: { ...twist, points } }), home(data)) : [];
  }
  if (lane !== "size") return [];
  const field = row === 1 ? "size_y" : "size";
  const law = row === 1 ? (step.size_y ?? step.size) : step.size;
  if (law?.by === "table") return tableMarks(law, mm, (points) => ({ [field]: { ...law, points } }), 0);
  if (law?.by !== "ratio" || !number(law.start) || !number(law.end)) return [];
  return [{ at: 0, value: law.start, fixed: true, moved: (_, v) => ({ [field]: { ...law, start: tidy(Math.max(0.02, v)) } }) },
    { at: data.length, value: law.end, fixed: true, moved: (_, v) => ({ [field]: { ...law, end: tidy(Math.max(0.02, v)) } }) }];
}

/** The twist lane counts from the section's own station, its table from nought. */
function home(data: SweepData): number {
  return data.lanes.twist[0] ?? 0;
}

type Points = { at: Expression; value: Expression }[];

function tableMarks(law: { points: Points }, mm: number, put: (points: Points) => Partial<SweepStep>, shift: number): Mark[] {
  const { points } = law;
  return points.flatMap((p, i): Mark[] => {
    if (!number(p.at) || !number(p.value)) return [];
    const first = points[0]!.value;
    const base = number(first) ? shift - (shift === 0 ? 0 : first) : 0;
    return [{ at: p.at * mm, value: p.value + base, fixed: false, moved: (at, value) => put(points.map((q, k) => (k === i ? { at: tidy(at / mm), value: tidy(value - base) } : q))) }];
  });
}
