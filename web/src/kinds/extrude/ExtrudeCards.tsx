/** A profile carried straight: how far, and to what. */
import { Switch } from "@mantine/core";
import type { ExtrudeStep } from "./step";
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview } from "../../slip/draft";
import { EndPick, type End } from "../../slip/EndPick";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import { More } from "../../slip/More";
import { RegionPick } from "../../slip/RegionPick";
import { ResultPick } from "../../slip/ResultPick";
import { SourcePick } from "../../slip/SourcePick";
import { usePart } from "../../state/part";

const Field = fieldFor<ExtrudeStep>();

type Until = NonNullable<ExtrudeStep["until"]>;

const ENDS = [
  { value: "", label: "Length" },
  { value: "plane", label: "Plane" },
  { value: "face", label: "Face" },
  { value: "side", label: "Side" },
  { value: "all", label: "Through" },
];

export function ExtrudeCards({ step }: { step: ExtrudeStep }) {
  const draft = useDraft<ExtrudeStep>(step.id);
  useFirstPreview(step.id, draft);
  return (
    <>
      <Card title="Profile" tone="section">
        <SourcePick
          label="Profile"
          value={step.profile.step}
          onPick={(id) => draft.commit("Pick profile", { profile: { step: id, regions: null } })}
        />
        <RegionPick
          profile={step.profile.step}
          value={step.profile.regions}
          onPick={(regions) => draft.commit("Pick regions", { profile: { step: step.profile.step, regions } })}
        />
      </Card>
      <Card title="Length">
        <EndPick
          owner={step.id}
          ends={ENDS}
          value={step.until}
          onPick={(until, by) => draft.commit("End somewhere else", { until: endOf(step, until, by) })}
        />
        {step.until === null ? (
          <Field of="length" />
        ) : (
          "short" in step.until && <ShortField step={step} until={step.until} />
        )}
        <Field of="back" />
        <More label="Leaning sides" open={step.taper !== 0}>
          <Field of="taper" />
        </More>
        <Switch
          mt={6}
          size="xs"
          label="As a surface: open outlines too"
          checked={step.surface}
          onChange={(e) => draft.commit("Change to a surface", { surface: e.currentTarget.checked })}
        />
      </Card>
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}

/** Where it ends, as the step has it. */
function endOf(step: ExtrudeStep, end: End | null, by: string): ExtrudeStep["until"] {
  if (end === null) return by === "all" ? { by } : null;
  if (end.by === "face" && by === "side") return { by, face: end.face };
  const short = step.until !== null && "short" in step.until ? step.until.short : 0;
  return end.by === "plane" ? { ...end, short } : { by: "face", face: end.face, short };
}

function ShortField({ step, until }: { step: ExtrudeStep; until: Extract<Until, { short: unknown }> }) {
  const draft = useDraft<ExtrudeStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <ExpressionField
      label="Short of it"
      unit={units}
      value={until.short}
      onPreview={(v) => draft.preview({ until: { ...until, short: v ?? 0 } })}
      onCommit={(v) => draft.commit("End short of it", { until: { ...until, short: v ?? 0 } })}
    />
  );
}
