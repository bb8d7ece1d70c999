/** The thickness of a section that is carried along, and the side of its outline that it is on. */
import { SegmentedControl } from "@mantine/core";
import type { Expression } from "../api/types";
import { usePart } from "../state/part";
import { ExpressionField } from "../ui/ExpressionField";
import type { Draft } from "./draft";

const SIDES = [
  { value: "inward", label: "Inward" },
  { value: "outward", label: "Outward" },
  { value: "both", label: "Both" },
];

interface Walled {
  wall: Expression | null;
  wall_side: "inward" | "outward" | "both";
  surface: boolean;
}

export function WallFields({ step, draft }: { step: Walled; draft: Draft<Walled> }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <ExpressionField
        label="Wall"
        unit={units}
        value={step.wall}
        empty={step.surface ? "none" : "solid"}
        onPreview={(wall) => draft.preview({ wall })}
        onCommit={(wall) => draft.commit("Change wall", { wall })}
      />
      {step.wall !== null && (
        <SegmentedControl
          aria-label="Side of the wall"
          data={SIDES}
          value={step.wall_side}
          onChange={(side) => draft.commit("Change side of the wall", { wall_side: side as Walled["wall_side"] })}
        />
      )}
    </>
  );
}
