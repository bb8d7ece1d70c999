/** The rails of a loft: curves that meet the outlines of all sections. */
import { Button } from "@mantine/core";
import { ListRow } from "../../slip/ListRow";
import { SourcePick } from "../../slip/SourcePick";
import type { Draft } from "../../slip/draft";
import { isDrawn } from "../../state/drawings";
import { stepsBefore, usePart } from "../../state/part";
import { isOwnPath, ownPaths } from "../../state/paths";
import type { LoftStep } from "./step";

const MOST = 20;

export function RailRows({ step, draft }: { step: LoftStep; draft: Draft<LoftStep> }) {
  const part = usePart((s) => s.document)!;
  const taken = new Set([
    ...step.rails.map((r) => r.path.step),
    ...step.sections.flatMap((s) => (s.by === "drawn" ? [s.profile.step] : [])),
    step.centreline?.step,
  ]);
  const free = stepsBefore(part, step.id).filter((s) => (isDrawn(s) || isOwnPath(s)) && !taken.has(s.id));
  const set = (label: string, rails: LoftStep["rails"]) => draft.commit(label, { rails });
  return (
    <>
      {step.rails.map((rail, i) => (
        <ListRow
          key={i}
          away={`Take rail ${i + 1} away`}
          onAway={() =>
            set(
              "Take a rail away",
              step.rails.filter((_, k) => k !== i),
            )
          }
        >
          <SourcePick
            label={`Rail ${i + 1}`}
            kinds={["sketch", ...ownPaths()]}
            value={rail.path.step}
            onPick={(id) =>
              set(
                "Pick rail",
                step.rails.map((r, k) => (k === i ? { path: { step: id, curves: null } } : r)),
              )
            }
          />
        </ListRow>
      ))}
      {step.rails.length === 0 && free.length === 0 && (
        <p className="soft">A curve from section to section, drawn before this step, can steer it.</p>
      )}
      {free.length > 0 && step.rails.length < MOST && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => set("Add a rail", [...step.rails, { path: { step: free.at(-1)!.id, curves: null } }])}
        >
          {step.rails.length === 0 ? "Steer it by a rail" : "Another rail"}
        </Button>
      )}
    </>
  );
}
