/** The cards of this kind of step: where it lies, its sizes, and what becomes of it. */
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview } from "../../slip/draft";
import { PlanePick } from "../../slip/PlanePick";
import { ResultPick } from "../../slip/ResultPick";
import { fieldFor } from "../../slip/StepField";
import type { WasherStep } from "./step";

const Field = fieldFor<WasherStep>();

export function WasherCards({ step }: { step: WasherStep }) {
  const draft = useDraft<WasherStep>(step.id);
  useFirstPreview(step.id, draft);
  return (
    <>
      <Card title="Plane">
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => draft.commit("Pick plane", { plane })} />
      </Card>
      <Card title="Ring">
        <Field of="outer" />
        <Field of="inner" />
        <Field of="thickness" />
      </Card>
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}
