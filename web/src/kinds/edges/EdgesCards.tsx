/** The edges that a path is made of. */
import { Button, Switch } from "@mantine/core";
import type { EdgesStep } from "./step";
import { edgeTitle } from "../../state/faceTitle";
import { useView } from "../../state/view";
import { Card } from "../../slip/Card";
import { ListRow } from "../../slip/ListRow";
import { useDraft } from "../../slip/draft";

const LABEL = "Pick an edge";

export function EdgesCards({ step }: { step: EdgesStep }) {
  const draft = useDraft<EdgesStep>(step.id);
  const waiting = useView((s) => s.pick?.label === LABEL);
  const ask = () =>
    useView.getState().set({
      pick: waiting
        ? null
        : {
            want: "edge",
            before: step.id,
            label: LABEL,
            take: (from, edge, seen) => {
              useView.getState().set({ pick: null });
              if (!step.edges.some((e) => e.edge === edge))
                draft.commit("Add an edge", { edges: [...step.edges, { step: from, edge, seen: seen ?? null }] });
            },
          },
    });
  return (
    <Card title="Edges" tone="path">
      {step.edges.map((e, i) => (
        <ListRow
          key={e.edge}
          away={`Take edge ${i + 1} away`}
          disabled={step.edges.length < 2}
          onAway={() => draft.commit("Take an edge away", { edges: step.edges.filter((_, k) => k !== i) })}
        >
          <span>{edgeTitle(e.edge)}</span>
        </ListRow>
      ))}
      <Button size="compact-xs" variant={waiting ? "filled" : "default"} aria-pressed={waiting} onClick={ask}>
        {waiting ? "Click it in the stage…" : "Pick another edge"}
      </Button>
      <Switch
        mt={8}
        size="xs"
        label="Go on where they go on smoothly"
        checked={step.tangent}
        onChange={(e) => draft.commit("Change how far it goes on", { tangent: e.currentTarget.checked })}
      />
    </Card>
  );
}
