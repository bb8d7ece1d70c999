/** A new step of this kind, as it is to begin with. */
import type { BuildData, Part } from "../../api/types";
import type { WoundStep } from "./step";
import { beginning } from "../../state/beginning";
import { isAlong } from "../../state/bodies";

/** A coil about a path; where the path goes from straight to bend it crosses its tube at an even angle. */
export function newWound(part: Part, path: string, result: BuildData | null): WoundStep {
  const step = part.steps.find((s) => s.id === path);
  const told = result?.steps[path]?.data;
  const jumps =
    told?.route !== undefined ||
    [...(told?.joints ?? []), ...(told?.path?.joints ?? [])].some((j) => j.kind === "tangent");
  return {
    ...beginning(part, "wound", "Wound path"),
    path: { step: path, curves: null },
    radius: isAlong(step) ? null : 12,
    standoff: isAlong(step) ? 2 : 0,
    turns: 6,
    even: jumps ? "angle" : "axis",
  };
}
