/** Which edges are rounded, and how. */
import { Button, SegmentedControl } from "@mantine/core";
import { useEffect } from "react";
import { Card } from "../../slip/Card";
import { ListRow } from "../../slip/ListRow";
import { useDraft, type Draft } from "../../slip/draft";
import { TableFields } from "../../slip/TableFields";
import { edgeTitle } from "../../state/faceTitle";
import { stepOf, usePart } from "../../state/part";
import { useView } from "../../state/view";
import { ExpressionField } from "../../ui/ExpressionField";
import { PICKING, pickEdges } from "./new";
import type { RoundingStep } from "./step";

const WAYS = [
  { value: "even", label: "One radius" },
  { value: "table", label: "Radii along" },
  { value: "chamfer", label: "Chamfer" },
];

interface Shared {
  step: RoundingStep;
  draft: Draft<RoundingStep>;
}

export function RoundingCards({ step }: { step: RoundingStep }) {
  const draft = useDraft<RoundingStep>(step.id);
  return (
    <>
      <Card title="Edges" tone="path">
        <Edges step={step} draft={draft} />
      </Card>
      <Card title="Shape">
        <How step={step} draft={draft} />
      </Card>
    </>
  );
}

function Edges({ step, draft }: Shared) {
  const picking = useView((s) => s.pick?.label === PICKING);
  const saved = usePart((s) => s.result?.steps[step.id] !== undefined);
  const start = () =>
    pickEdges(step.id, (source, edge, seen) => {
      const now = stepOf(usePart.getState().document, step.id) as RoundingStep;
      const known = now.edges.some((e) => e.edge === edge);
      draft.commit(known ? "Take an edge away" : "Add an edge", {
        edges: known
          ? now.edges.filter((e) => e.edge !== edge)
          : [...now.edges, { step: source, edge, seen: seen ?? null }],
      });
    });
  useEffect(() => {
    // a new one asks for its edges by itself, once the server knows it
    if (step.edges.length === 0 && saved) start();
    return () => {
      if (useView.getState().pick?.label === PICKING) useView.getState().set({ pick: null });
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- begun once for a step, however often it is drawn
  }, [step.id, saved]);
  return (
    <>
      {step.edges.map((e, i) => (
        <ListRow
          key={e.edge}
          away={`Take edge ${i + 1} away`}
          onAway={() => draft.commit("Take an edge away", { edges: step.edges.filter((_, k) => k !== i) })}
        >
          <span>{edgeTitle(e.edge)}</span>
        </ListRow>
      ))}
      <Button
        size="compact-xs"
        variant={picking ? "filled" : "default"}
        aria-pressed={picking}
        onClick={() => (picking ? useView.getState().set({ pick: null }) : start())}
      >
        {picking ? "Click edges in the stage; here to end" : "Pick edges"}
      </Button>
    </>
  );
}

function How({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const length = usePart((s) => s.result?.steps[step.id]?.data.length ?? 100);
  const { how } = step;
  const set = (label: string, next: RoundingStep["how"]) => draft.commit(label, { how: next });
  const size = how.by === "even" ? how.radius : how.by === "chamfer" ? how.first : (how.points[0]?.value ?? 2);
  const choose = (by: string) => {
    if (by === "even") set("One radius", { by, radius: size });
    else if (by === "chamfer") set("Chamfer", { by, first: size, second: null, angle: null });
    else
      set("Radii along the edges", {
        by: "table",
        points: [
          { at: "0%", value: size },
          { at: "100%", value: size },
        ],
      });
  };
  return (
    <>
      <SegmentedControl aria-label="How edges are shaped" data={WAYS} value={how.by} onChange={choose} />
      {how.by === "even" && (
        <ExpressionField
          label="Radius"
          unit={units}
          value={how.radius}
          onPreview={(v) => v === null || draft.preview({ how: { ...how, radius: v } })}
          onCommit={(v) => set("Change radius", { ...how, radius: v ?? 0 })}
        />
      )}
      {how.by === "table" && (
        <TableFields
          unit={units}
          units={units}
          length={length}
          table={{ points: how.points, smooth: true }}
          onPreview={({ points }) => draft.preview({ how: { ...how, points } })}
          onCommit={({ points }) => set("Change radii", { ...how, points })}
        />
      )}
      {how.by === "chamfer" && (
        <>
          <ExpressionField
            label="Size"
            unit={units}
            value={how.first}
            onPreview={(v) => v === null || draft.preview({ how: { ...how, first: v } })}
            onCommit={(v) => set("Change size", { ...how, first: v ?? 0 })}
          />
          <ExpressionField
            label="Angle"
            unit="°"
            value={how.angle}
            empty="none"
            onPreview={(angle) => draft.preview({ how: { ...how, angle } })}
            onCommit={(angle) => set("Change angle", { ...how, angle })}
          />
          {how.angle === null && (
            <ExpressionField
              label="On the other face"
              unit={units}
              value={how.second}
              empty="the same"
              onPreview={(second) => draft.preview({ how: { ...how, second } })}
              onCommit={(second) => set("Change size on the other face", { ...how, second })}
            />
          )}
        </>
      )}
    </>
  );
}
