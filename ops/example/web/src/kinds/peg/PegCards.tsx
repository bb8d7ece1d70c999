/** The cards of this kind of step: where it stands, its sizes, and what becomes of it. */
import { SegmentedControl, Switch } from "@mantine/core";
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview } from "../../slip/draft";
import { PlanePick } from "../../slip/PlanePick";
import { ResultPick } from "../../slip/ResultPick";
import { fieldFor } from "../../slip/StepField";
import type { PegStep } from "./step";

const Field = fieldFor<PegStep>();

const SIDES = [
  { value: "along", label: "Along" },
  { value: "against", label: "Against" },
];

export function PegCards({ step }: { step: PegStep }) {
  const draft = useDraft<PegStep>(step.id);
  useFirstPreview(step.id, draft);
  return (
    <>
      <Card title="Plane">
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => draft.commit("Pick plane", { plane })} />
        <SegmentedControl
          aria-label="Side of the plane"
          data={SIDES}
          value={step.side}
          onChange={(side) => draft.commit("Change side", { side: side as PegStep["side"] })}
        />
      </Card>
      <Card title="Size">
        <Field of="diameter" />
        <Field of="height" />
        <Switch
          mt={6}
          size="xs"
          label="Hollow"
          checked={step.hollow}
          onChange={(e) => draft.commit("Change hollow", { hollow: e.currentTarget.checked })}
        />
      </Card>
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}
