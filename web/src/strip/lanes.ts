/** The lanes of the station strip: what each shows, and which marks of its law can be dragged. */
import type { SweepData, Units } from "../api/types";
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
  { name: "bend", label: "bend" },
  { name: "twist", label: "twist" },
  { name: "size", label: "size" },
  { name: "lean", label: "lean" },
  { name: "room", label: "room" },
];

const BEND_SHOWN = 3;
const SAME = 1e-6;

const varies = (values: number[], from: number) => values.some((v) => Math.abs(v - from) > SAME);

/** Whether a lane tells anything that is not so of every plain sweep. */
export function speaks(name: LaneName, { lanes }: SweepData): boolean {
  if (name === "bend") return lanes.radius.some((r) => r !== null);
  if (name === "twist") return varies(lanes.twist, lanes.twist[0] ?? 0);
  if (name === "size") return lanes.map.some((m) => varies([m[0], m[3]], 1));
  return false;
}

export function laneData(name: LaneName, data: SweepData, units: Units): LaneData[] {
  const { lanes } = data;
  if (name === "bend") return [bend(data, units)];
  if (name === "twist") return [{ name, title: "twist", unit: "°", y: lanes.twist }];
  if (name === "lean") {
    const range: [number, number] = [Math.min(60, ...lanes.tilt) - 5, 95];
    return [{ name, title: "section to path", unit: "°", y: lanes.tilt, range }];
  }
  if (name === "room") {
    return [
      {
        name,
        title: "room to itself",
        unit: units,
        y: lanes.clearance.map((v) => (v === null ? null : inUnits(v, units))),
        limit: lanes.station.map(() => 0),
        empty: "nothing near",
      },
    ];
  }
  const [x, y] = [lanes.map.map((m) => m[0]), lanes.map.map((m) => m[3])];
  const both = x.every((v, i) => Math.abs(v - y[i]!) < 1e-6);
  return both
    ? [{ name, title: "size", unit: "×", y: x }]
    : [
        { name, title: "size along x", unit: "×", y: x },
        { name, title: "size along y", unit: "×", y },
      ];
}

function bend({ lanes }: SweepData, units: Units): LaneData {
  const limit = Math.max(...lanes.limit.map((v) => v ?? 0));
  const finite = lanes.radius.filter((r): r is number => r !== null);
  const tightest = finite.length > 0 ? Math.min(...finite) : null;
  const top = tightest === null ? 1 : Math.max(limit * 1.6, tightest * BEND_SHOWN);
  const shown = (rows: (number | null)[]) => rows.map((v) => (v === null || v > top ? null : inUnits(v, units)));
  return {
    name: "bend",
    title: "bend radius",
    unit: units,
    y: shown(lanes.radius),
    limit: shown(lanes.limit),
    range: [0, inUnits(top, units)],
    empty: "straight",
  };
}
