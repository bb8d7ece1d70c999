/** What is copied, the plane that places the copies, and how. */
import { SegmentedControl, Switch } from "@mantine/core";
import type { Expression } from "../../api/types";
import { BodyCard } from "../../slip/BodyCard";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { PlanePick } from "../../slip/PlanePick";
import { ResultPick } from "../../slip/ResultPick";
import { usePart } from "../../state/part";
import { ExpressionField } from "../../ui/ExpressionField";
import { PLAIN, type How } from "./new";
import type { ArrangedStep } from "./step";

const WAYS = [
  { value: "mirror", label: "Mirror" },
  { value: "move", label: "Move" },
  { value: "rows", label: "Rows" },
  { value: "round", label: "Round" },
];
const PLACES = {
  mirror: "Mirrored in",
  move: "Moved as seen on",
  rows: "Along x and y of",
  round: "Round the normal of",
};

export function ArrangedCards({ step }: { step: ArrangedStep }) {
  const draft = useDraft<ArrangedStep>(step.id);
  const { how } = step;
  return (
    <>
      <BodyCard value={step.source} onPick={(source) => draft.commit("Pick a body", { source })}>
        <SegmentedControl
          aria-label="How it is copied"
          data={WAYS}
          value={how.by}
          onChange={(by) => draft.commit("Copy otherwise", { how: PLAIN[by as How["by"]] })}
        />
      </BodyCard>
      <Card title={PLACES[how.by]}>
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => draft.commit("Pick a plane", { plane })} />
        <HowFields
          how={how}
          preview={(part) => draft.preview({ how: { ...how, ...part } as How })}
          change={(label, part) => draft.commit(label, { how: { ...how, ...part } as How })}
        />
      </Card>
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}

interface HowProps {
  how: How;
  preview: (part: Partial<How>) => void;
  change: (label: string, part: Partial<How>) => void;
}

function HowFields({ how, preview, change }: HowProps) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const field = (name: string, label: string, unit: string = units) => (
    <ExpressionField
      label={label}
      unit={unit}
      value={(how as unknown as Record<string, Expression>)[name] ?? 0}
      onPreview={(v) => v === null || preview({ [name]: v })}
      onCommit={(v) => change(`Change ${label.toLowerCase()}`, { [name]: v ?? 0 })}
    />
  );
  if (how.by === "rows")
    return (
      <>
        {field("count", "Count along x", "")}
        {field("spacing", "Spacing along x")}
        {field("count_y", "Count along y", "")}
        {field("spacing_y", "Spacing along y")}
      </>
    );
  if (how.by === "round")
    return (
      <>
        {field("count", "Count", "")}
        {field("angle", "Angle in all", "°")}
        {field("rise", "Rise of each")}
      </>
    );
  return (
    <>
      {how.by === "move" && (
        <>
          {field("x", "Along x")}
          {field("y", "Along y")}
          {field("out", "Out of the plane")}
          {field("turn", "Turn", "°")}
        </>
      )}
      <Switch
        mt={6}
        size="xs"
        label="The body itself stays"
        checked={how.keep}
        onChange={(e) => change("Keep the body", { keep: e.currentTarget.checked })}
      />
    </>
  );
}
