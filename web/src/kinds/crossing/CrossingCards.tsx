/** Paths on the sides of bodies: two surfaces with the curve in which they cross, and a path laid onto one. */
import { SegmentedControl, Select } from "@mantine/core";
import type { Units } from "../../api/types";
import type { CrossingStep } from "./step";
import type { ProjectedStep } from "../projected/step";
import { reportOf, stepOf, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { bodySources } from "../../state/bodies";
import { isSketch } from "../../state/bodies";
import { length } from "../../ui/format";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { More } from "../../slip/More";
import { SourcePick } from "../../slip/SourcePick";
import { UpPick } from "../../slip/UpPick";
import { isDrawn, sketchOf } from "../../state/drawings";

export function CrossingCards({ step }: { step: CrossingStep }) {
  const draft = useDraft<CrossingStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const branches = usePart((s) => reportOf(s.result, step.id)?.data.branches) ?? [];
  const options = branches.map((b, i) => ({ value: String(i + 1), label: branchTitle(b, i, units) }));
  const value = String(step.branch);
  return (
    <>
      <SidesCard
        title="First surface"
        sides={step.first}
        onPick={(first) => draft.commit("Pick a surface", { first })}
      />
      <SidesCard
        title="Second surface"
        sides={step.second}
        onPick={(second) => draft.commit("Pick a surface", { second })}
      />
      <Card title="Which curve" tone="path">
        <Select
          aria-label="Branch"
          data={
            options.some((o) => o.value === value) ? options : [{ value, label: `${value} (none such)` }, ...options]
          }
          value={value}
          onChange={(v) => v !== null && draft.commit("Pick another branch", { branch: Number(v) })}
        />
        {branches.length > 0 && (
          <p className="soft">
            {branches.length === 1
              ? "They cross in one curve."
              : `They cross in ${branches.length} curves, the longest first.`}
          </p>
        )}
      </Card>
    </>
  );
}

const branchTitle = (b: { length: number; closed: boolean }, i: number, units: Units) =>
  `${i + 1}: ${length(b.length, units)}, ${b.closed ? "closed" : "open"}`;

export function ProjectedCards({ step }: { step: ProjectedStep }) {
  const draft = useDraft<ProjectedStep>(step.id);
  return (
    <>
      <Card title="Path" tone="path">
        <SourcePick
          label="Path that is laid on"
          kinds={pathSources()}
          value={step.path.step}
          onPick={(id) => draft.commit("Pick path", { path: { step: id, curves: null } })}
        />
      </Card>
      <SidesCard title="Surface" sides={step.onto} onPick={(onto) => draft.commit("Pick a surface", { onto })} />
      <Card title="How it is laid on">
        <SegmentedControl
          aria-label="How it is laid on"
          data={[
            { value: "along", label: "Along a direction" },
            { value: "nearest", label: "Nearest" },
          ]}
          value={step.along === null ? "nearest" : "along"}
          onChange={(v) =>
            draft.commit(v === "along" ? "Lay it along a direction" : "Lay it at the nearest place", {
              along: v === "along" ? { by: "axis", axis: "Z" } : null,
            })
          }
        />
        {step.along !== null && (
          <UpPick
            name="Direction"
            word="Along"
            value={step.along}
            onPick={(along) => draft.commit("Change direction", { along })}
          />
        )}
      </Card>
    </>
  );
}

interface SidesProps {
  title: string;
  sides: CrossingStep["first"];
  onPick: (sides: CrossingStep["first"]) => void;
}

function SidesCard({ title, sides, onPick }: SidesProps) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const body = usePart((s) => stepOf(s.document, sides.step));
  const sketch = usePart((s) =>
    stepOf(s.document, body !== undefined && "profile" in body && isSketch(body.profile) ? body.profile.step : null),
  );
  const edges = isDrawn(sketch)
    ? sketchOf(sketch)
        .entities.filter((e) => !e.construction)
        .map((e) => ({ value: e.id, label: `Along ${e.kind} ${e.id}` }))
    : [];
  return (
    <Card title={title} tone="section">
      <SourcePick
        label={title}
        kinds={bodySources()}
        value={sides.step}
        onPick={(id) => onPick({ ...sides, step: id, edge: null })}
      />
      {(edges.length > 1 || sides.edge !== null) && (
        <Select
          aria-label={`Side of the ${title.toLowerCase()}`}
          data={[{ value: "", label: "All its sides" }, ...edges]}
          value={sides.edge ?? ""}
          onChange={(edge) => edge !== null && onPick({ ...sides, edge: edge || null })}
        />
      )}
      <More label="At a distance off it" open={sides.off !== 0}>
        <ExpressionField
          label="Distance off"
          unit={units}
          value={sides.off}
          onCommit={(off) => onPick({ ...sides, off: off ?? 0 })}
        />
      </More>
    </Card>
  );
}
