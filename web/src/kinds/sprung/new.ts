/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { inUnits } from "../../ui/format";
import { beginning } from "../../state/beginning";
import { EVEN, type SprungStep } from "./step";

/** A compression spring of 2 mm wire, 18 mm wide and 42 mm long, closed and ground, with one load. */
export function newSprung(part: Part): SprungStep {
  const size = (mm: number) => Number(inUnits(mm, part.units).toPrecision(4));
  return {
    ...beginning(part, "sprung", "Spring"),
    plane: { kind: "principal", plane: "XY" },
    wire: size(2),
    diameter: size(18),
    ...EVEN,
    turns: 6,
    free: size(42),
    leg_start: size(25),
    leg_end: size(25),
    loads: [{ id: "load1", by: "length", length: size(32) }],
  };
}
