/** A new step of this kind, as it is to begin with. */
import type { BuildData, Part } from "../../api/types";
import { ownersOfBodies } from "../../state/bodies";
import { beginning } from "../../state/beginning";
import type { ArrangedStep } from "./step";

export type How = ArrangedStep["how"];

export const PLAIN: { [By in How["by"]]: Extract<How, { by: By }> } = {
  mirror: { by: "mirror", keep: true },
  move: { by: "move", x: 0, y: 0, out: 0, turn: 0, keep: false },
  rows: { by: "rows", count: 3, spacing: 50, count_y: 1, spacing_y: 50 },
  round: { by: "round", count: 6, angle: 360, rise: 0 },
};
const NAMES = { mirror: "Mirrored", move: "Moved", rows: "Rows", round: "Ring" };

/** Copies of the selected body, or of the last one. */
export function newArranged(
  part: Part,
  result: BuildData | null,
  selected: string | null,
  by: How["by"],
): ArrangedStep | null {
  const source = ownersOfBodies(part, result, selected).at(-1);
  if (source === undefined) return null;
  return {
    ...beginning(part, "arranged", NAMES[by]),
    source: source.id,
    plane: { kind: "principal", plane: by === "mirror" ? "YZ" : "XY" },
    how: PLAIN[by],
  };
}
