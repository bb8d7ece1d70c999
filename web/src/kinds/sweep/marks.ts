/** The marks of a sweep's laws on the lanes of the station strip, which can be dragged there. */
import type { Expression, SweepData, Units } from "../../api/types";
import type { LaneName } from "../../state/view";
import type { Mark } from "../../state/laws";
import type { SweepStep } from "./step";

const number = (e: unknown): e is number => typeof e === "number";
const tidy = (v: number) => Number(v.toPrecision(4));

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
      ? tableMarks(twist, mm, (points) => ({ twist: { ...twist, points } }), home(data))
      : [];
  }
  if (lane !== "size") return [];
  const field = row === 1 ? "size_y" : "size";
  const law = row === 1 ? (step.size_y ?? step.size) : step.size;
  if (law?.by === "table") return tableMarks(law, mm, (points) => ({ [field]: { ...law, points } }), 0);
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

/** The twist lane counts from the section's own station, its table from nought. */
function home(data: SweepData): number {
  return data.lanes.twist[0] ?? 0;
}

type Points = { at: Expression; value: Expression }[];

function tableMarks(
  law: { points: Points },
  mm: number,
  put: (points: Points) => Partial<SweepStep>,
  shift: number,
): Mark[] {
  const { points } = law;
  return points.flatMap((p, i): Mark[] => {
    if (!number(p.at) || !number(p.value)) return [];
    const first = points[0]!.value;
    const base = number(first) ? shift - (shift === 0 ? 0 : first) : 0;
    return [
      {
        at: p.at * mm,
        value: p.value + base,
        fixed: false,
        moved: (at, value) =>
          put(points.map((q, k) => (k === i ? { at: tidy(at / mm), value: tidy(value - base) } : q))),
      },
    ];
  });
}
