/** What makes a step of this kind. */
import type { CurveStep } from "./step";
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newCurve } from "./new";

function addCurve(by: CurveStep["shape"]["by"]): void {
  add("Add a curve in space", (p) => newCurve(p, by));
}

export const commands: Command[] = [
  {
    id: "curve-three",
    title: "Arc through three points",
    detail: "In space, or the whole circle",
    intent: "Route",
    keys: "shift+A",
    run: () => addCurve("three"),
  },
  {
    id: "curve-round",
    title: "Arc or ellipse about a plane's origin",
    detail: "One radius or two, all round or by an angle",
    intent: "Route",
    run: () => addCurve("round"),
  },
  {
    id: "curve-formula",
    title: "Path by formula",
    detail: "x, y and z of t, with units and named values",
    intent: "Route",
    run: () => addCurve("formula"),
  },
];
