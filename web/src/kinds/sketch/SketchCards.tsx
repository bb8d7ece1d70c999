/** A sketch: its plane, and the way into it. */
import { Button } from "@mantine/core";
import type { StepReport } from "../../api/types";
import type { SketchStep } from "./step";
import { Card } from "../../slip/Card";
import { PlanePick } from "../../slip/PlanePick";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";

export function SketchCards({ step, report }: { step: SketchStep; report: StepReport | undefined }) {
  const freedom = report?.data.freedom;
  return (
    <>
      <Card title="Plane">
        <PlanePick
          label="Plane"
          value={step.plane}
          onPick={(plane) =>
            void usePart
              .getState()
              .change("Move sketch to another plane", (p) => ({
                ...p,
                steps: p.steps.map((s) => (s.id === step.id ? { ...step, plane } : s)),
              }))
          }
        />
      </Card>
      <Button fullWidth onClick={() => useView.getState().sketch(step.id)}>
        Open sketch
      </Button>
      {freedom !== undefined && (
        <p className="soft">
          {freedom === 0 ? "Settled: nothing can move." : `${freedom} ways to move are still free.`}
        </p>
      )}
    </>
  );
}
