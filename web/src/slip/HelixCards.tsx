/** What makes a helix: its axis, and two of pitch, turns and height. */
import { SegmentedControl } from "@mantine/core";
import type { HelixStep } from "../api/types";
import { usePart } from "../state/part";
import { useDraft } from "./draft";
import { Card } from "./Card";
import { ExpressionField } from "./ExpressionField";
import { PlanePick } from "./PlanePick";

export function HelixCards({ step }: { step: HelixStep }) {
  const draft = useDraft<HelixStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  /** The third of the three is the one that gives way. */
  const give = (name: "pitch" | "turns" | "height", value: HelixStep["pitch"]) => {
    const next = { pitch: step.pitch, turns: step.turns, height: step.height, [name]: value };
    if (value !== null && Object.values(next).every((v) => v !== null)) {
      const order = (["height", "turns", "pitch"] as const).filter((n) => n !== name);
      next[step[name] === null ? order[0]! : name] = step[name] === null ? null : value;
    }
    draft.commit(`Change ${name}`, next);
  };
  return (
    <>
      <Card title="Axis: square to a plane, through its origin">
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => draft.commit("Pick plane", { plane })} />
      </Card>
      <Card title="Coil" tone="path">
        <ExpressionField label="Radius" unit={units} value={step.radius} onCommit={(v) => draft.commit("Change radius", { radius: v ?? 0 })} />
        <ExpressionField label="Pitch" unit={units} value={step.pitch} empty="follows" onCommit={(v) => give("pitch", v)} />
        <ExpressionField label="Turns" unit="turns" value={step.turns} empty="follows" onCommit={(v) => give("turns", v)} />
        <ExpressionField label="Height" unit={units} value={step.height} empty="follows" onCommit={(v) => give("height", v)} />
        <ExpressionField label="Start angle" unit="°" value={step.start_angle} onCommit={(v) => draft.commit("Change start angle", { start_angle: v ?? 0 })} />
        <SegmentedControl aria-label="Hand" data={[{ value: "right", label: "Right-handed" }, { value: "left", label: "Left-handed" }]} value={step.hand}
          onChange={(hand) => draft.commit("Change hand", { hand: hand as HelixStep["hand"] })} />
      </Card>
    </>
  );
}
