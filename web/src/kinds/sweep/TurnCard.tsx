/** How the profile of a sweep is turned along the way. */
import { Button, Select } from "@mantine/core";
import type { SweepStep } from "./step";
import { faceTitle } from "../../state/faceTitle";
import { faceRef } from "../../state/pickedFace";
import { usePart } from "../../state/part";
import { ownPaths } from "../../state/paths";
import { useView } from "../../state/view";
import { Card } from "../../slip/Card";
import { ExpressionField } from "../../ui/ExpressionField";
import { TwistFields } from "./LawFields";
import { More } from "../../slip/More";
import { SourcePick } from "../../slip/SourcePick";
import { UpPick } from "../../slip/UpPick";
import type { Shared } from "./shared";

const MODES = [
  { value: "turning", label: "Turning with the path" },
  { value: "held", label: "Held parallel" },
  { value: "upright", label: "Upright" },
  { value: "lying", label: "Lying on a surface" },
  { value: "facing", label: "Facing a rail" },
];

export function TurnCard({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const length = usePart((s) => s.result?.steps[step.id]?.data.length ?? 100);
  const choose = (mode: string | null) => {
    if (mode === null) return;
    const more = mode === "upright" && step.up === null ? { up: { by: "axis", axis: "Z" } as const } : {};
    draft.commit("Change orientation", { orientation: mode as SweepStep["orientation"], ...more });
  };
  const twisted = step.twist !== 0 || typeof step.twist === "object";
  return (
    <Card title="Orientation">
      <Select aria-label="Orientation" data={MODES} value={step.orientation} onChange={choose} />
      {step.orientation === "upright" && (
        <UpPick value={step.up} onPick={(up) => draft.commit("Change what is up", { up })} />
      )}
      {step.orientation === "lying" && <LyingFields step={step} draft={draft} />}
      {step.orientation === "facing" && (
        <SourcePick
          label="The rail to face"
          kinds={["sketch", ...ownPaths()]}
          value={step.facing?.step ?? ""}
          onPick={(id) => draft.commit("Pick rail to face", { facing: { step: id, curves: null } })}
        />
      )}
      <More label="Twist" open={twisted}>
        <TwistFields
          value={step.twist}
          units={units}
          length={length}
          onPreview={(twist) => draft.preview({ twist })}
          onCommit={(twist) => draft.commit("Change twist", { twist })}
        />
      </More>
      <More label="Start angle" open={step.start_angle !== 0}>
        <ExpressionField
          label="Start angle"
          unit="°"
          value={step.start_angle}
          onPreview={(v) => draft.preview({ start_angle: v ?? 0 })}
          onCommit={(v) => draft.commit("Change start angle", { start_angle: v ?? 0 })}
        />
      </More>
    </Card>
  );
}

/** Waits for a face to be clicked in the stage. */
function FacePick({
  step,
  label,
  want,
  onPick,
}: {
  step: SweepStep;
  label: string;
  want: "side" | "face";
  onPick: (step: string, face: string) => void;
}) {
  const waiting = useView((s) => s.pick?.label === label);
  const ask = () =>
    useView.getState().set({
      pick: waiting
        ? null
        : {
            want,
            before: step.id,
            label,
            take: (from, face) => {
              useView.getState().set({ pick: null });
              onPick(from, face);
            },
          },
    });
  return (
    <Button size="compact-xs" variant={waiting ? "filled" : "default"} aria-pressed={waiting} onClick={ask}>
      {waiting ? "Click it in the stage…" : label}
    </Button>
  );
}

function LyingFields({ step, draft }: Shared) {
  return (
    <>
      {step.lying !== null && <p className="soft">{faceTitle(step.lying.face)}</p>}
      <FacePick
        step={step}
        label="Pick the side to lie on"
        want="side"
        onPick={(_, face) => draft.commit("Lie on a surface", { lying: faceRef(face) })}
      />
    </>
  );
}
