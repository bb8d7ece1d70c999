/** A sketch: its plane, and the way into it. */
import { sourceOf } from "../../state/drawings";
import { Button } from "@mantine/core";
import type { StepReport } from "../../api/types";
import type { SketchStep } from "./step";
import { Card } from "../../slip/Card";
import { PlanePick } from "../../slip/PlanePick";
import { SourcePick } from "../../slip/SourcePick";
import { usePart, withStep } from "../../state/part";
import { useView } from "../../state/view";

export function SketchCards({ step, report }: { step: SketchStep; report: StepReport | undefined }) {
  const freedom = report?.data.freedom;
  const change = (label: string, to: Partial<SketchStep>) =>
    void usePart.getState().change(label, (p) => withStep<SketchStep>(p, step.id, (s) => ({ ...s, ...to })));
  return (
    <>
      <Card title="Plane">
        <PlanePick
          label="Plane"
          value={step.plane}
          onPick={(plane) => change("Move sketch to another plane", { plane })}
        />
      </Card>
      {step.same_as !== null && (
        <Card title="Drawing">
          <SourcePick
            label="Sketch whose drawing it shows"
            value={step.same_as ?? ""}
            onPick={(same_as) => change("Pick the sketch", { same_as })}
          />
        </Card>
      )}
      <Button fullWidth onClick={() => useView.getState().sketch(sourceOf(step).id)}>
        Open sketch
      </Button>
      {freedom !== undefined && step.same_as === null && (
        <p className="soft">
          {freedom === 0 ? "Settled: nothing can move." : `${freedom} ways to move are still free.`}
        </p>
      )}
    </>
  );
}
