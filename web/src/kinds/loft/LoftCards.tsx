/** The inputs of a loft: its sections in order, the line and the rails that they stand on, how it leaves its ends. */
import { Button, SegmentedControl, Select, Switch } from "@mantine/core";
import type { LoftStep } from "./step";
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview, type Draft } from "../../slip/draft";
import { FoldChoice } from "../../slip/FoldChoice";
import { More } from "../../slip/More";
import { WallFields } from "../../slip/WallFields";
import { ResultPick } from "../../slip/ResultPick";
import { stepsBefore, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { EndFields } from "./EndFields";
import { RailRows } from "./RailRows";
import { SectionRows } from "./SectionRows";

const RULED = { value: "ruled", label: "Ruled" };
const CHANGES = [{ value: "smooth", label: "Smooth" }, { value: "even", label: "Straight along it" }, RULED];
const OF_TWO = [{ value: "smooth", label: "Along its line" }, RULED];

export function LoftCards({ step }: { step: LoftStep }) {
  const draft = useDraft<LoftStep>(step.id);
  useFirstPreview(step.id, draft);
  const shared = { step, draft };
  return (
    <>
      <Card title="Sections" tone="section">
        <SectionRows {...shared} />
        {step.sections.length > 1 && (
          <SegmentedControl
            mt={6}
            aria-label="How it goes from section to section"
            data={step.sections.length > 2 ? CHANGES : OF_TWO}
            value={step.sections.length > 2 || step.section_change === "ruled" ? step.section_change : "smooth"}
            onChange={(v) =>
              draft.commit("Change how it goes over", { section_change: v as LoftStep["section_change"] })
            }
          />
        )}
        <Wall {...shared} />
      </Card>
      <Card title="Along" tone="path">
        <Centreline {...shared} />
      </Card>
      <Card title="Rails" tone="rail">
        <RailRows {...shared} />
      </Card>
      {!step.closed && (
        <Card title="Ends">
          <EndFields {...shared} />
        </Card>
      )}
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
        <Threads {...shared} />
        <FoldChoice {...shared} />
      </Card>
    </>
  );
}

interface Shared {
  step: LoftStep;
  draft: Draft<LoftStep>;
}

function Wall({ step, draft }: Shared) {
  return (
    <More label="Wall, or a surface" open={step.wall !== null || step.surface}>
      <WallFields step={step} draft={draft} />
      <Switch
        mt={6}
        size="xs"
        label="As a surface"
        checked={step.surface}
        onChange={(e) => draft.commit("Change to a surface", { surface: e.currentTarget.checked })}
      />
    </More>
  );
}

function Centreline({ step, draft }: Shared) {
  const part = usePart((s) => s.document)!;
  const taken = new Set(step.sections.flatMap((s) => (s.by === "drawn" ? [s.profile.step] : [])));
  const kinds = pathSources();
  const paths = stepsBefore(part, step.id)
    .filter((s) => kinds.includes(s.kind) && !taken.has(s.id))
    .map((s) => ({ value: s.id, label: s.name }));
  return (
    <>
      <Select
        aria-label="Centreline"
        data={[{ value: "", label: "A line of its own" }, ...paths]}
        value={step.centreline?.step ?? ""}
        onChange={(id) =>
          draft.commit("Pick the centreline", {
            centreline: id ? { step: id, curves: null } : null,
            ...(id ? {} : { closed: false }),
          })
        }
      />
      {step.centreline !== null && (
        <Switch
          mt={6}
          size="xs"
          label="Closed: on from the last section to the first"
          checked={step.closed}
          onChange={(e) => draft.commit("Change whether it is closed", { closed: e.currentTarget.checked })}
        />
      )}
    </>
  );
}

function Threads({ step, draft }: Shared) {
  if (step.threads.length === 0)
    return <p className="soft">Threads in the stage show which places correspond; drag their ends.</p>;
  return (
    <Button
      variant="default"
      size="compact-xs"
      mt={6}
      onClick={() => draft.commit("Match the sections anew", { threads: [] })}
    >
      Match the sections anew
    </Button>
  );
}
