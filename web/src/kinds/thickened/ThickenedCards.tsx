/** The surface that is made thick, its wall, and the side of it that the wall is on. */
import { SegmentedControl, Select } from "@mantine/core";
import type { Expression } from "../../api/types";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { ResultPick } from "../../slip/ResultPick";
import { SourcePick } from "../../slip/SourcePick";
import { round, TableFields } from "../../slip/TableFields";
import { isSurface } from "../../state/bodies";
import { stepsBefore, usePart } from "../../state/part";
import { ExpressionField } from "../../ui/ExpressionField";
import type { ThickenedStep } from "./step";

const WAYS = [
  { value: "even", label: "Even" },
  { value: "table", label: "Table" },
];
const SIDES = [
  { value: "front", label: "In front" },
  { value: "back", label: "Behind" },
  { value: "both", label: "Both" },
];
const plain = (e: Expression) => (typeof e === "number" ? e : 2);

export function ThickenedCards({ step }: { step: ThickenedStep }) {
  const draft = useDraft<ThickenedStep>(step.id);
  const part = usePart((s) => s.document)!;
  const mm = usePart((s) => s.result?.steps[step.surface]?.data.length ?? 100);
  const length = round(part.units === "in" ? mm / 25.4 : mm);
  const surfaces = stepsBefore(part, step.id).filter(isSurface);
  const { wall } = step;
  const spread = (by: string | null) => {
    if (by === "even" && typeof wall === "object")
      draft.commit("Make the wall even", { wall: wall.points[0]?.value ?? 2 });
    if (by === "table" && typeof wall !== "object") {
      const points = [
        { at: 0, value: plain(wall) },
        { at: length, value: plain(wall) },
      ];
      draft.commit("Give the wall by a table", { wall: { by: "table", points, smooth: true } });
    }
  };
  return (
    <>
      <Card title="Surface">
        <SourcePick
          label="Surface"
          kinds={[...new Set(surfaces.map((s) => s.kind))]}
          value={step.surface}
          onPick={(surface) => draft.commit("Pick a surface", { surface })}
        />
      </Card>
      <Card title="Wall">
        <Select
          aria-label="How the wall is given"
          data={WAYS}
          value={typeof wall === "object" ? "table" : "even"}
          onChange={spread}
        />
        {typeof wall === "object" ? (
          <TableFields
            unit={part.units}
            units={part.units}
            length={length}
            table={wall}
            onPreview={(table) => draft.preview({ wall: { ...wall, ...table } })}
            onCommit={(table) => draft.commit("Change wall", { wall: { ...wall, ...table } })}
          />
        ) : (
          <ExpressionField
            label="Wall"
            unit={part.units}
            value={wall}
            onPreview={(v) => v === null || draft.preview({ wall: v })}
            onCommit={(v) => draft.commit("Change wall", { wall: v ?? 0 })}
          />
        )}
        <SegmentedControl
          aria-label="Side of the surface"
          data={SIDES}
          value={step.side}
          onChange={(side) => draft.commit("Change the wall's side", { side: side as ThickenedStep["side"] })}
        />
      </Card>
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}
