/** The file that bodies come from, and where they stand. */
import { Button } from "@mantine/core";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { PlanePick } from "../../slip/PlanePick";
import { chooseFile } from "./choose";
import type { ImportedStep } from "./step";

export function ImportedCards({ step }: { step: ImportedStep }) {
  const draft = useDraft<ImportedStep>(step.id);
  return (
    <>
      <Card title="File">
        <p className="figures">{step.title || "without a name"}</p>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => chooseFile((chosen) => draft.commit("Take another file", { ...chosen }))}
        >
          Take another file…
        </Button>
      </Card>
      <Card title="Placed on">
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => draft.commit("Pick a plane", { plane })} />
      </Card>
    </>
  );
}
