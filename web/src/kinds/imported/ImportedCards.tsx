/** The file that bodies come from, and where they stand. */
import { Button, Select } from "@mantine/core";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { PlanePick } from "../../slip/PlanePick";
import { chooseFile, isMesh } from "./choose";
import type { ImportedStep } from "./step";

const UNITS = [
  { value: "mm", label: "Millimetres" },
  { value: "cm", label: "Centimetres" },
  { value: "m", label: "Metres" },
  { value: "in", label: "Inches" },
];

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
        {isMesh(step.title) && (
          <Select
            mt={8}
            label="Unit of its numbers"
            data={UNITS}
            value={step.unit}
            onChange={(unit) => draft.commit("Change the unit of the file", { unit: unit as ImportedStep["unit"] })}
          />
        )}
      </Card>
      <Card title="Placed on">
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => draft.commit("Pick a plane", { plane })} />
      </Card>
    </>
  );
}
