/** The rails of a sweep: curves that its profile reaches, and the point of the profile that each holds. */
import { ActionIcon, Button, SegmentedControl, Select } from "@mantine/core";
import type { SweepStep } from "./step";
import { stepOf, stepsBefore, usePart } from "../../state/part";
import { isOwnPath, ownPaths } from "../../state/paths";
import { isSketch } from "../../state/bodies";
import type { Draft } from "../../slip/draft";
import { Card } from "../../slip/Card";
import { SourcePick } from "../../slip/SourcePick";
import { isDrawn, sketchOf } from "../../state/drawings";
import fields from "../../ui/fields.module.css";

const USES = [
  { value: "stretch", label: "Both ways" },
  { value: "across", label: "Across only" },
  { value: "turn", label: "Turn only" },
];
const MOST = 20;

export function RailCard({ step, draft }: { step: SweepStep; draft: Draft<SweepStep> }) {
  const part = usePart((s) => s.document)!;
  const profile = isSketch(step.profile) ? stepOf(part, step.profile.step) : undefined;
  const points = isDrawn(profile) ? sketchOf(profile).points.map((p) => ({ value: p.id, label: `Point ${p.id}` })) : [];
  const set = (label: string, rails: SweepStep["rails"]) => draft.commit(label, { rails });
  const put = (i: number, patch: Partial<SweepStep["rails"][number]>) =>
    step.rails.map((r, k) => (k === i ? { ...r, ...patch } : r));
  const before = stepsBefore(part, step.id);
  const free = before.filter(
    (s) =>
      (isDrawn(s) || isOwnPath(s)) &&
      s.id !== step.path.step &&
      !(isSketch(step.profile) && step.profile.step === s.id) &&
      !step.rails.some((r) => r.path.step === s.id),
  );
  return (
    <Card title="Rails" tone="rail">
      {step.rails.map((rail, i) => (
        <div key={i} className={fields.railRow}>
          <SourcePick
            label={`Rail ${i + 1}`}
            kinds={["sketch", ...ownPaths()]}
            value={rail.path.step}
            onPick={(id) => set("Pick rail", put(i, { path: { step: id, curves: null }, anchor: null }))}
          />
          <Select
            aria-label={`Anchor of rail ${i + 1}`}
            data={[{ value: "", label: "Automatic" }, ...points]}
            value={rail.anchor ?? ""}
            onChange={(v) => set("Change anchor", put(i, { anchor: v || null }))}
          />
          <ActionIcon
            variant="subtle"
            color="gray"
            size="sm"
            aria-label={`Take rail ${i + 1} away`}
            onClick={() =>
              set(
                "Take a rail away",
                step.rails.filter((_, k) => k !== i),
              )
            }
          >
            ×
          </ActionIcon>
        </div>
      ))}
      {step.rails.length > 0 && step.rails.length < 3 && (
        <SegmentedControl
          aria-label="What the rails do"
          data={USES}
          value={step.rail_use}
          onChange={(use) => draft.commit("Change what the rails do", { rail_use: use as SweepStep["rail_use"] })}
        />
      )}
      {step.rails.length === 0 && free.length === 0 && (
        <p className="soft">A further curve, drawn before this step, can steer its size.</p>
      )}
      {step.rails.length < MOST && free.length > 0 && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() =>
            set("Add a rail", [...step.rails, { path: { step: free.at(-1)!.id, curves: null }, anchor: null }])
          }
        >
          {step.rails.length === 0 ? "Steer it by a rail" : "Another rail"}
        </Button>
      )}
    </Card>
  );
}
