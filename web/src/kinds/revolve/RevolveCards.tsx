/** A profile carried round an axis. */
import { Select } from "@mantine/core";
import type { RevolveStep } from "./step";
import { stepOf, usePart } from "../../state/part";
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview } from "../../slip/draft";
import { EndPick } from "../../slip/EndPick";
import { fieldFor } from "../../slip/StepField";
import { RegionPick } from "../../slip/RegionPick";
import { ResultPick } from "../../slip/ResultPick";
import { SourcePick } from "../../slip/SourcePick";
import { isDrawn, sketchOf } from "../../state/drawings";

const Field = fieldFor<RevolveStep>();

const ENDS = [
  { value: "", label: "At an angle" },
  { value: "plane", label: "At a plane" },
  { value: "face", label: "At a face" },
];

export function RevolveCards({ step }: { step: RevolveStep }) {
  const draft = useDraft<RevolveStep>(step.id);
  useFirstPreview(step.id, draft);
  const sketch = usePart((s) => stepOf(s.document, step.profile.step));
  const lines = isDrawn(sketch)
    ? sketchOf(sketch)
        .entities.filter((e) => e.kind === "line")
        .map((e) => ({ value: e.id, label: `Line ${e.id}${e.construction ? ", construction" : ""}` }))
    : [];
  const axes = [{ value: "x", label: "The sketch's x axis" }, { value: "y", label: "The sketch's y axis" }, ...lines];
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
      <Card title="Round its axis">
        <Select
          aria-label="Axis"
          data={
            axes.some((a) => a.value === step.axis)
              ? axes
              : [{ value: step.axis, label: `${step.axis} (gone)` }, ...axes]
          }
          value={step.axis}
          onChange={(axis) => axis !== null && draft.commit("Pick axis", { axis })}
        />
        <EndPick
          owner={step.id}
          ends={ENDS}
          value={step.until}
          onPick={(until) => draft.commit("End somewhere else", { until })}
        />
        {step.until === null && <Field of="angle" />}
      </Card>
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}
