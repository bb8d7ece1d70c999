/** The parts of a joined path, in any order: it finds their own. */
import { Button } from "@mantine/core";
import type { JoinedStep } from "./step";
import { stepsBefore, usePart } from "../../state/part";
import { isOwnPath, pathSources } from "../../state/paths";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { fieldFor } from "../../slip/StepField";
import { ListRow } from "../../slip/ListRow";
import { SourcePick } from "../../slip/SourcePick";
import { isDrawn } from "../../state/drawings";

const Field = fieldFor<JoinedStep>();

export function JoinedCards({ step }: { step: JoinedStep }) {
  const draft = useDraft<JoinedStep>(step.id);
  const part = usePart((s) => s.document)!;
  const taken = new Set(step.parts.map((p) => p.step));
  const free = stepsBefore(part, step.id).filter((s) => (isDrawn(s) || isOwnPath(s)) && !taken.has(s.id));
  const set = (label: string, parts: JoinedStep["parts"]) => draft.commit(label, { parts });
  return (
    <Card title="Parts" tone="path">
      {step.parts.map((p, i) => (
        <ListRow
          key={i}
          away={`Take part ${i + 1} away`}
          disabled={step.parts.length < 2}
          onAway={() =>
            set(
              "Take a part away",
              step.parts.filter((_, k) => k !== i),
            )
          }
        >
          <SourcePick
            label={`Part ${i + 1}`}
            kinds={pathSources()}
            value={p.step}
            onPick={(id) =>
              set(
                "Pick part",
                step.parts.map((q, k) => (k === i ? { step: id, curves: null } : q)),
              )
            }
          />
        </ListRow>
      ))}
      {free.length > 0 && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => set("Add a part", [...step.parts, { step: free[0]!.id, curves: null }])}
        >
          Another part
        </Button>
      )}
      <Field of="tolerance" />
    </Card>
  );
}
