/** The path of a sweep: which, how much of it, and what becomes of its corners and ends. */
import { SegmentedControl, Select } from "@mantine/core";
import type { SweepStep } from "./step";
import { usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { isSketch } from "../../state/bodies";
import { bringFor } from "./new";
import { Card } from "../../slip/Card";
import { ExpressionField } from "../../ui/ExpressionField";
import { More } from "../../slip/More";
import { PlanePick } from "../../slip/PlanePick";
import { SourcePick } from "../../slip/SourcePick";
import type { Shared } from "./shared";
import fields from "../../ui/fields.module.css";

const CORNERS = [
  { value: "refuse", label: "Refused" },
  { value: "mitre", label: "Mitred" },
  { value: "round", label: "Rounded" },
];
const WAYS = [
  { value: "both", label: "Both ways" },
  { value: "forward", label: "Onward" },
  { value: "back", label: "Back" },
];

export function PathCard({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const kinked = usePart(
    (s) =>
      s.result?.steps[step.id]?.messages.some(
        (m) => m.code === "corner" || (m.place as { field?: string }).field === "corners",
      ) ?? false,
  );
  const pick = (id: string) => {
    const part = usePart.getState().document!;
    const { profile } = step;
    draft.commit("Pick path", {
      path: { step: id, curves: null },
      ...(isSketch(profile) ? { bring: bringFor(part, id, profile.step) } : {}),
    });
  };
  const cut = step.cut_start !== null || step.cut_end !== null;
  const stretched =
    step.start !== null || step.end !== null || step.way !== "both" || step.extend_start !== 0 || step.extend_end !== 0;
  return (
    <Card title="Path" tone="path">
      <SourcePick label="Path" kinds={pathSources()} value={step.path.step} onPick={pick} />
      <More label="Corners" open={step.corners !== "refuse" || kinked}>
        <Select
          className={fields.expression}
          label="Corners"
          data={CORNERS}
          value={step.corners}
          onChange={(corners) =>
            draft.commit("Change corners", {
              corners: corners as SweepStep["corners"],
              ...(corners === "round" && step.corner_radius === 0 ? { corner_radius: 10 } : {}),
            })
          }
        />
        {step.corners === "round" && (
          <ExpressionField
            label="Corner radius"
            unit={units}
            value={step.corner_radius}
            onPreview={(v) => draft.preview({ corner_radius: v ?? 0 })}
            onCommit={(v) => draft.commit("Change corner radius", { corner_radius: v ?? 0 })}
          />
        )}
      </More>
      <More label="Ends cut by planes" open={cut}>
        {(["start", "end"] as const).map((end) => (
          <PlanePick
            key={end}
            label={`Cut its ${end} by`}
            none="Not cut"
            value={step[`cut_${end}`]}
            onPick={(plane) => draft.commit(`Cut the ${end}`, { [`cut_${end}`]: plane })}
            onNone={() => draft.commit(`Leave the ${end}`, { [`cut_${end}`]: null })}
          />
        ))}
      </More>
      <More label="A stretch of it" open={stretched}>
        <ExpressionField
          label="From station"
          unit={units}
          value={step.start}
          empty="its start"
          onPreview={(start) => draft.preview({ start })}
          onCommit={(start) => draft.commit("Change start", { start })}
        />
        <ExpressionField
          label="To station"
          unit={units}
          value={step.end}
          empty="its end"
          onPreview={(end) => draft.preview({ end })}
          onCommit={(end) => draft.commit("Change end", { end })}
        />
        {(["start", "end"] as const).map((end) => (
          <ExpressionField
            key={end}
            label={`Longer at its ${end} by`}
            unit={units}
            value={step[`extend_${end}`]}
            onPreview={(v) => draft.preview({ [`extend_${end}`]: v ?? 0 })}
            onCommit={(v) => draft.commit(`Extend the ${end}`, { [`extend_${end}`]: v ?? 0 })}
          />
        ))}
        <SegmentedControl
          aria-label="Way from the profile"
          data={WAYS}
          value={step.way}
          onChange={(way) => draft.commit("Change way", { way: way as SweepStep["way"] })}
        />
      </More>
    </Card>
  );
}
