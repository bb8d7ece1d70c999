/** A profile carried straight: how far, and to what. */
import { Button, SegmentedControl, Switch } from "@mantine/core";
import type { ExtrudeStep } from "./step";
import { askFace } from "../../slip/askFace";
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { PlanePick } from "../../slip/PlanePick";
import { RegionPick } from "../../slip/RegionPick";
import { ResultPick } from "../../slip/ResultPick";
import { SourcePick } from "../../slip/SourcePick";
import { faceTitle } from "../../state/faceTitle";
import { faceRef } from "../../state/pickedFace";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";

type Until = NonNullable<ExtrudeStep["until"]>;

const ENDS = [
  { value: "length", label: "At a length" },
  { value: "plane", label: "At a plane" },
  { value: "face", label: "At a face" },
];
const PICKING = "Pick the face that it ends at";

export function ExtrudeCards({ step }: { step: ExtrudeStep }) {
  const draft = useDraft<ExtrudeStep>(step.id);
  useFirstPreview(step.id, draft);
  const units = usePart((s) => s.document?.units ?? "mm");
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
        <EndPick step={step} />
        {step.until === null ? (
          <ExpressionField
            label="Forward"
            unit={units}
            value={step.length}
            onPreview={(v) => draft.preview({ length: v ?? 0 })}
            onCommit={(v) => draft.commit("Change length", { length: v ?? 0 })}
          />
        ) : (
          <UntilFields step={step} until={step.until} />
        )}
        <ExpressionField
          label="Behind"
          unit={units}
          value={step.back}
          onPreview={(v) => draft.preview({ back: v ?? 0 })}
          onCommit={(v) => draft.commit("Change length behind", { back: v ?? 0 })}
        />
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

/** An end at a face waits until one is clicked. */
function EndPick({ step }: { step: ExtrudeStep }) {
  const draft = useDraft<ExtrudeStep>(step.id);
  const waiting = useView((s) => s.pick?.label === PICKING);
  const ask = () =>
    askFace(step.id, PICKING, (_, face) =>
      draft.commit("End at a face", { until: { by: "face", face: faceRef(face), short: step.until?.short ?? 0 } }),
    );
  const choose = (by: string) => {
    if (by === "face") return ask();
    const plane: Until = { by: "plane", plane: { kind: "principal", plane: "XY" }, short: step.until?.short ?? 0 };
    draft.commit("End somewhere else", { until: by === "plane" ? plane : null });
  };
  return (
    <>
      <SegmentedControl aria-label="Where it ends" data={ENDS} value={step.until?.by ?? "length"} onChange={choose} />
      {(waiting || step.until?.by === "face") && (
        <Button size="compact-sm" variant={waiting ? "filled" : "default"} aria-pressed={waiting} onClick={ask}>
          {waiting || step.until?.by !== "face" ? "Click it in the stage…" : faceTitle(step.until.face.face)}
        </Button>
      )}
    </>
  );
}

function UntilFields({ step, until }: { step: ExtrudeStep; until: Until }) {
  const draft = useDraft<ExtrudeStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      {until.by === "plane" && (
        <PlanePick
          label="Plane where it ends"
          value={until.plane}
          onPick={(plane) => draft.commit("Pick a plane", { until: { ...until, plane } })}
        />
      )}
      <ExpressionField
        label="Short of it"
        unit={units}
        value={until.short}
        onPreview={(v) => draft.preview({ until: { ...until, short: v ?? 0 } })}
        onCommit={(v) => draft.commit("Stay short of it", { until: { ...until, short: v ?? 0 } })}
      />
    </>
  );
}
