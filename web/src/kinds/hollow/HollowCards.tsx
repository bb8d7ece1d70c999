/** The body that is made hollow, its wall, the faces that are left open and those with a wall of their own. */
import { Button, SegmentedControl } from "@mantine/core";
import type { Expression } from "../../api/types";
import { askFace } from "../../slip/askFace";
import { BodyCard } from "../../slip/BodyCard";
import { Card } from "../../slip/Card";
import { useDraft, type Draft } from "../../slip/draft";
import { ListRow } from "../../slip/ListRow";
import { faceTitle } from "../../state/faceTitle";
import { faceRef } from "../../state/pickedFace";
import { stepOf, usePart } from "../../state/part";
import { useView } from "../../state/view";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import type { HollowStep } from "./step";

const Field = fieldFor<HollowStep>();

const SIDES = [
  { value: "inward", label: "Inward" },
  { value: "outward", label: "Outward" },
];
const OPEN = "Pick a face to leave open";
const OWN = "Pick a face for a wall of its own";

interface Shared {
  step: HollowStep;
  draft: Draft<HollowStep>;
}

export function HollowCards({ step }: { step: HollowStep }) {
  const draft = useDraft<HollowStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <BodyCard value={step.body} onPick={(body) => draft.commit("Pick a body", { body, opened: [], walls: [] })} />
      <Card title="Wall">
        <Field of="wall" />
        <SegmentedControl
          aria-label="Side of the wall"
          data={SIDES}
          value={step.side}
          onChange={(side) => draft.commit("Change the wall's side", { side: side as HollowStep["side"] })}
        />
        <OwnWalls step={step} draft={draft} units={units} />
      </Card>
      <Card title="Left open">
        <Opened step={step} draft={draft} />
      </Card>
    </>
  );
}

const latest = (id: string) => stepOf(usePart.getState().document, id) as HollowStep;

function Opened({ step, draft }: Shared) {
  const waiting = useView((s) => s.pick?.label === OPEN);
  const set = (label: string, opened: HollowStep["opened"]) => draft.commit(label, { opened });
  return (
    <>
      {step.opened.map((f, i) => (
        <ListRow
          key={f.face}
          away={`Close face ${i + 1}`}
          onAway={() =>
            set(
              "Close a face",
              step.opened.filter((_, k) => k !== i),
            )
          }
        >
          <span>{faceTitle(f.face)}</span>
        </ListRow>
      ))}
      <Button
        size="compact-xs"
        variant={waiting ? "filled" : "default"}
        aria-pressed={waiting}
        onClick={() =>
          askFace(step.id, OPEN, (_, face) => {
            const now = latest(step.id);
            if (!now.opened.some((f) => f.face === face)) set("Open a face", [...now.opened, faceRef(face)]);
          })
        }
      >
        {waiting ? "Click it in the stage…" : "Open a face"}
      </Button>
    </>
  );
}

function OwnWalls({ step, draft, units }: Shared & { units: string }) {
  const waiting = useView((s) => s.pick?.label === OWN);
  const set = (label: string, walls: HollowStep["walls"]) => draft.commit(label, { walls });
  const withWall = (i: number, wall: Expression) => step.walls.map((w, k) => (k === i ? { ...w, wall } : w));
  return (
    <>
      {step.walls.map((w, i) => (
        <ListRow
          key={w.face.face}
          away={`Take own wall ${i + 1} away`}
          onAway={() =>
            set(
              "Take a wall away",
              step.walls.filter((_, k) => k !== i),
            )
          }
        >
          <ExpressionField
            label={faceTitle(w.face.face)}
            unit={units}
            value={w.wall}
            onPreview={(v) => v === null || draft.preview({ walls: withWall(i, v) })}
            onCommit={(v) => set("Change a wall", withWall(i, v ?? 0))}
          />
        </ListRow>
      ))}
      <Button
        size="compact-xs"
        variant={waiting ? "filled" : "default"}
        aria-pressed={waiting}
        mt={6}
        onClick={() =>
          askFace(step.id, OWN, (_, face) => {
            const now = latest(step.id);
            if (!now.walls.some((w) => w.face.face === face))
              set("A wall of its own", [...now.walls, { face: faceRef(face), wall: now.wall }]);
          })
        }
      >
        {waiting ? "Click it in the stage…" : "Another wall for a face"}
      </Button>
    </>
  );
}
