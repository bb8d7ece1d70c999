/** The marks of a sweep's laws on the lanes of the station strip, which can be dragged there. */
import type { SweepData, Units } from "../../api/types";
import type { LaneName } from "../../state/view";
import { tableMarks, tidy, type Mark } from "../../state/laws";
import type { SweepStep } from "./step";

const number = (e: unknown): e is number => typeof e === "number";

/** Marks for the laws that are given as plain numbers; stations in mm. */
export function marksOf(step: SweepStep, lane: LaneName, row: number, data: SweepData, units: Units): Mark[] {
  const mm = units === "in" ? 25.4 : 1;
  if (lane === "twist") {
    const { twist } = step;
    if (number(twist))
      return [
        {
          at: data.length,
          value: data.lanes.twist.at(-1) ?? 0,
          fixed: true,
          moved: (_, v) => ({ twist: tidy((v - data.lanes.twist[0]!) / 360) }),
        },
      ];
    return typeof twist === "object" && twist.by === "table"
      ? tableMarks(twist.points, mm, (points) => ({ twist: { ...twist, points } }), shiftOf(twist.points, data))
      : [];
  }
  if (lane !== "size") return [];
  const field = row === 1 ? "size_y" : "size";
  const law = row === 1 ? (step.size_y ?? step.size) : step.size;
  if (law?.by === "table") return tableMarks(law.points, mm, (points) => ({ [field]: { ...law, points } }));
  if (law?.by !== "ratio" || !number(law.start) || !number(law.end)) return [];
  return [
    {
      at: 0,
      value: law.start,
      fixed: true,
      moved: (_, v) => ({ [field]: { ...law, start: tidy(Math.max(0.02, v)) } }),
    },
    {
      at: data.length,
      value: law.end,
      fixed: true,
      moved: (_, v) => ({ [field]: { ...law, end: tidy(Math.max(0.02, v)) } }),
    },
  ];
}

/** The twist lane counts from the section's own station, a table from its own first value. */
function shiftOf(points: { value: unknown }[], data: SweepData): number {
  const [from, first] = [data.lanes.twist[0] ?? 0, points[0]?.value];
  return from !== 0 && number(first) ? from - first : 0;
}
