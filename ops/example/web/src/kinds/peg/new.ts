/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { PegStep } from "./step";
import { beginning } from "../../state/beginning";

export function newPeg(part: Part): PegStep {
  return { ...beginning(part, "peg", "Peg"), plane: { kind: "principal", plane: "XY" } };
}
