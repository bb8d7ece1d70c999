/** The body that stays, those that are added to it or cut out of it. */
import { MultiSelect, SegmentedControl, Switch } from "@mantine/core";
import { BodyCard } from "../../slip/BodyCard";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { hasSolids } from "../../state/bodies";
import { stepsBefore, usePart } from "../../state/part";
import type { CombinedStep } from "./step";

const OPERATIONS = [
  { value: "add", label: "Add" },
  { value: "cut", label: "Cut" },
  { value: "common", label: "Common" },
];

export function CombinedCards({ step }: { step: CombinedStep }) {
  const draft = useDraft<CombinedStep>(step.id);
  const part = usePart((s) => s.document)!;
  const others = stepsBefore(part, step.id).filter((s) => hasSolids(s) && s.id !== step.body);
  const gone = step.tools
    .filter((t) => !others.some((s) => s.id === t))
    .map((t) => ({ value: t, label: `${t} (gone)` }));
  return (
    <>
      <BodyCard
        value={step.body}
        onPick={(body) => draft.commit("Pick a body", { body, tools: step.tools.filter((t) => t !== body) })}
      >
        <SegmentedControl
          aria-label="What becomes of them"
          data={OPERATIONS}
          value={step.operation}
          onChange={(v) => draft.commit("Put together otherwise", { operation: v as CombinedStep["operation"] })}
        />
      </BodyCard>
      <Card title="With">
        <MultiSelect
          aria-label="Bodies that it is put together with"
          data={[...gone, ...others.map((s) => ({ value: s.id, label: s.name }))]}
          value={step.tools}
          placeholder={step.tools.length === 0 ? "Pick a body" : ""}
          onChange={(tools) => draft.commit("Pick bodies", { tools })}
        />
        <Switch
          mt={6}
          size="xs"
          label="They stay as well"
          checked={step.keep}
          onChange={(e) => draft.commit("Keep the bodies", { keep: e.currentTarget.checked })}
        />
      </Card>
    </>
  );
}
