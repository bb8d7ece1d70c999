/** Laws along a path, as the station strip shows and drags them. */
import type { Expression } from "../api/types";

/** A mark of a law: where it stands, and the step's fields when it is moved there. */
export interface Mark {
  at: number;
  value: number;
  fixed: boolean;
  moved: (at: number, value: number) => Record<string, unknown>;
}

/** A lane that a step has beside those of what is swept; stations in mm. */
export interface OwnLane {
  title: string;
  unit: string;
  stations: number[];
  y: number[];
  marks: Mark[];
}

type Points = { at: Expression; value: Expression }[];

const number = (e: Expression): e is number => typeof e === "number";
/** What is dragged is kept to four figures. */
export const tidy = (v: number) => Number(v.toPrecision(4));

/**
 * The marks of a table whose stations and values are plain numbers; a station counts in `mm` mm, and the lane shows
 * each value by so much more as `shift` says.
 */
export function tableMarks(
  points: Points,
  mm: number,
  put: (points: Points) => Record<string, unknown>,
  shift = 0,
): Mark[] {
  return points.flatMap((p, i): Mark[] => {
    if (!number(p.at) || !number(p.value)) return [];
    return [
      {
        at: p.at * mm,
        value: p.value + shift,
        fixed: false,
        moved: (at, value) =>
          put(points.map((q, k) => (k === i ? { at: tidy(at / mm), value: tidy(value - shift) } : q))),
      },
    ];
  });
}
