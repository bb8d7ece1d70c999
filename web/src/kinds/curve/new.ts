/** A new step of this kind, as it is to begin with. */
import type { Part, PlaceAt } from "../../api/types";
import type { CurveStep } from "./step";
import { beginning } from "../../state/beginning";

const spot = (x: number, y: number, z: number): PlaceAt => ({ by: "place", x, y, z });

const SHAPES: { [K in CurveStep["shape"]["by"]]: { name: string; shape: Extract<CurveStep["shape"], { by: K }> } } = {
  three: {
    name: "Arc",
    shape: { by: "three", start: spot(0, 0, 0), via: spot(50, 30, 20), end: spot(100, 0, 0), whole: false },
  },
  round: {
    name: "Ellipse",
    shape: {
      by: "round",
      plane: { kind: "principal", plane: "XY" },
      radius: 50,
      other: 30,
      start_angle: 0,
      sweep: 360,
    },
  },
  formula: {
    name: "Curve by formula",
    shape: {
      by: "formula",
      plane: { kind: "principal", plane: "XY" },
      x: "40*cos(t)",
      y: "40*sin(t)",
      z: "8*sin(3*t)",
      first: 0,
      last: 360,
    },
  },
};

/** The same step with another form, as it is to begin with. */
export const curveShape = (by: CurveStep["shape"]["by"]): CurveStep["shape"] => SHAPES[by].shape;

/** A curve in space of one of its forms. */
export function newCurve(part: Part, by: CurveStep["shape"]["by"]): CurveStep {
  const { name, shape } = SHAPES[by];
  return { ...beginning(part, "curve", name), shape };
}
