/** The inputs of a sweep, in the order in which one decides them. What is seldom chosen is folded away until it is. */
import type { SweepStep } from "./step";
import { usePart } from "../../state/part";
import { useDraft, useFirstPreview } from "../../slip/draft";
import { Card } from "../../slip/Card";
import { SizeFields } from "./LawFields";
import { FoldChoice } from "../../slip/FoldChoice";
import { More } from "../../slip/More";
import { RailCard } from "./RailCard";
import { ResultPick } from "../../slip/ResultPick";
import { PathCard } from "./PathCard";
import { ProfileCard } from "./ProfileCard";
import { SectionsCard } from "./SectionsCard";
import type { Shared } from "./shared";
import { TurnCard } from "./TurnCard";

export function SweepCards({ step }: { step: SweepStep }) {
  const draft = useDraft<SweepStep>(step.id);
  useFirstPreview(step.id, draft);
  const shared = { step, draft };
  return (
    <>
      <PathCard {...shared} />
      <ProfileCard {...shared} />
      <TurnCard {...shared} />
      <SizeCard {...shared} />
      <RailCard {...shared} />
      <SectionsCard {...shared} />
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
        <FoldChoice {...shared} />
      </Card>
    </>
  );
}

function SizeCard({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const length = usePart((s) => s.result?.steps[step.id]?.data.length ?? 100);
  const fields = { units, length };
  if (step.size === null && step.size_y === null) {
    return (
      <Card title="Size along the path">
        <More label="Change it along the path" open={false}>
          <SizeFields
            {...fields}
            label="Both ways"
            value={null}
            onPreview={(size) => draft.preview({ size })}
            onCommit={(size) => draft.commit("Change size", { size })}
          />
        </More>
      </Card>
    );
  }
  return (
    <Card title="Size along the path">
      <SizeFields
        {...fields}
        label={step.size_y === null ? "Both ways" : "Along x"}
        value={step.size}
        onPreview={(size) => draft.preview({ size })}
        onCommit={(size) => draft.commit("Change size", { size })}
      />
      <More label="Another along y" open={step.size_y !== null}>
        <SizeFields
          {...fields}
          label="Along y"
          value={step.size_y}
          onPreview={(size_y) => draft.preview({ size_y })}
          onCommit={(size_y) => draft.commit("Change size along y", { size_y })}
        />
      </More>
    </Card>
  );
}
