/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { inUnits } from "../../ui/format";
import { freshId, freshName } from "../../state/part";
import { EVEN, type SprungStep } from "./step";

/** A compression spring of 2 mm wire, 18 mm wide and 42 mm long, closed and ground, with one load. */
export function newSprung(part: Part): SprungStep {
  const size = (mm: number) => Number(inUnits(mm, part.units).toPrecision(4));
  return {
    id: freshId(part, "sprung"),
    name: freshName(part, "Spring"),
    off: false,
    kind: "sprung",
    plane: { kind: "principal", plane: "XY" },
    along: null,
    pressed: "ends",
    duty: "compression",
    wire: size(2),
    diameter: size(18),
    measured: "outer",
    ...EVEN,
    turns: 6,
    free: size(42),
    ends: "ground",
    end_turns: 1,
    loop_start: "full",
    loop_end: "full",
    initial: 0,
    leg_start: size(25),
    leg_end: size(25),
    hand: "right",
    start_angle: 0,
    material: "SM",
    loads: [{ id: "load1", by: "length", length: size(32) }],
    shown_under: null,
    moving: false,
    seat: 0.5,
    bore: null,
    rod: null,
    wish: null,
    turned_wish: null,
    tolerances: null,
    result: "separate",
  };
}
