/** What places a datum plane. */
import { ActionIcon, Button, SegmentedControl, Select, Switch } from "@mantine/core";
import type { DrawnStep } from "../../api/types";
import type { DatumPlane } from "./step";
import { edgeTitle, faceTitle } from "../../state/faceTitle";
import { curveTitle } from "../../state/curveTitle";
import { stepsBefore, usePart, withStep } from "../../state/part";
import { useView } from "../../state/view";
import { AlongFields } from "../../slip/AlongFields";
import { Card } from "../../slip/Card";
import { ExpressionField } from "../../ui/ExpressionField";
import { PlanePick } from "../../slip/PlanePick";
import { isDrawn, sketchOf } from "../../state/drawings";

type How = DatumPlane["how"];

const AXES = ["x", "y", "z"] as const;

export function DatumCards({ step }: { step: DatumPlane }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const { how } = step;
  const change = (label: string, next: How) =>
    void usePart.getState().change(label, (p) => withStep<DatumPlane>(p, step.id, (s) => ({ ...s, how: next })));
  return (
    <>
      {how.by === "offset" && (
        <Card title="Beside">
          <PlanePick
            label="Beside which plane"
            value={how.plane}
            onPick={(plane) => change("Pick plane", { ...how, plane })}
          />
          <ExpressionField
            label="Distance"
            unit={units}
            value={how.distance}
            onCommit={(v) => change("Move the plane", { ...how, distance: v ?? 0 })}
          />
        </Card>
      )}
      {how.by === "midway" && (
        <Card title="Midway between">
          <PlanePick
            label="First plane"
            value={how.first}
            onPick={(first) => change("Pick plane", { ...how, first })}
          />
          <PlanePick
            label="Second plane"
            value={how.second}
            onPick={(second) => change("Pick plane", { ...how, second })}
          />
        </Card>
      )}
      {how.by === "points" && (
        <Card title="Through three points">
          {how.points.map((p, i) => (
            <ItemPick
              key={i}
              label={`Point ${i + 1}`}
              want="point"
              value={`${p.step}/${p.point}`}
              items={(s) => ["O", ...sketchOf(s).points.map((q) => q.id)]}
              onPick={(at, point) =>
                change("Pick point", { ...how, points: how.points.map((q, k) => (k === i ? { step: at, point } : q)) })
              }
            />
          ))}
        </Card>
      )}
      {how.by === "line" && (
        <Card title="About a line">
          <ItemPick
            label="Line"
            want="line"
            value={`${how.step}/${how.line}`}
            items={(s) =>
              sketchOf(s)
                .entities.filter((e) => e.kind === "line")
                .map((e) => e.id)
            }
            onPick={(at, line) => change("Pick line", { ...how, step: at, line })}
          />
          <ExpressionField
            label="Angle out of its sketch"
            unit="°"
            value={how.angle}
            onCommit={(v) => change("Turn the plane", { ...how, angle: v ?? 0 })}
          />
        </Card>
      )}
      {how.by === "along" && (
        <>
          <Card title="Plane">
            <PlanePick
              label="Plane that is carried"
              value={how.plane}
              onPick={(plane) => change("Pick plane", { ...how, plane })}
            />
          </Card>
          <AlongFields how={how} onCommit={change} />
        </>
      )}
      {how.by === "angle" && (
        <Card title="Turned">
          <PlanePick
            label="Out of which plane"
            value={how.plane}
            onPick={(plane) => change("Pick plane", { ...how, plane })}
          />
          <SegmentedControl
            fullWidth
            size="xs"
            aria-label="About which axis"
            data={[
              { value: "x", label: "About its x axis" },
              { value: "y", label: "About its y axis" },
            ]}
            value={how.axis}
            onChange={(axis) => change("Turn about another axis", { ...how, axis: axis })}
          />
          <ExpressionField
            label="Angle"
            unit="°"
            value={how.angle}
            onCommit={(v) => change("Turn the plane", { ...how, angle: v ?? 0 })}
          />
        </Card>
      )}
      {how.by === "normal" && (
        <Card title="Point and normal">
          {AXES.map((axis) => (
            <ExpressionField
              key={axis}
              label={`Point, ${axis.toUpperCase()}`}
              unit={units}
              value={how[axis]}
              onCommit={(v) => change("Move the plane", { ...how, [axis]: v ?? 0 })}
            />
          ))}
          {AXES.map((axis, i) => (
            <ExpressionField
              key={axis}
              label={`Normal, ${axis.toUpperCase()}`}
              unit=""
              value={how.normal[i]!}
              onCommit={(v) =>
                change("Turn the plane", {
                  ...how,
                  normal: how.normal.map((n, k) => (k === i ? (v ?? 0) : n)) as typeof how.normal,
                })
              }
            />
          ))}
        </Card>
      )}
      {how.by === "face" && (
        <Card title="On a face">
          <p className="soft">{faceTitle(how.face)}</p>
          <Switch
            size="xs"
            label="Origin in the middle of the face"
            checked={how.middle}
            onChange={(e) => change("Move the plane's origin", { ...how, middle: e.currentTarget.checked })}
          />
        </Card>
      )}
      {how.by === "round" && (
        <Card title="In a round edge">
          <p className="soft">{edgeTitle(how.edge.edge)}</p>
          <Switch
            size="xs"
            label="Facing the other way"
            checked={how.over}
            onChange={(e) => change("Turn the plane over", { ...how, over: e.currentTarget.checked })}
          />
        </Card>
      )}
      <Button
        mt={4}
        variant="light"
        fullWidth
        onClick={() => useView.getState().ask({ kind: "square", step: step.id })}
      >
        Look square at it
      </Button>
    </>
  );
}

interface PickProps {
  label: string;
  want: "point" | "line";
  value: string;
  items: (step: DrawnStep) => string[];
  onPick: (step: string, item: string) => void;
}

function PointAt() {
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" fill="none" stroke="currentColor" strokeWidth="1.4">
      <circle cx="7" cy="7" r="3.2" />
      <path d="M7 0v4M7 10v4M0 7h4M10 7h4" />
    </svg>
  );
}

/** A point or line of a sketch before this step. */
function ItemPick({ label, want, value, items, onPick }: PickProps) {
  const part = usePart((s) => s.document)!;
  const self = useView((s) => s.selected);
  const before = stepsBefore(part, self);
  const options = before
    .filter(isDrawn)
    .flatMap((s) =>
      items(s).map((i) => ({ value: `${s.id}/${i}`, label: `${s.name}: ${curveTitle(sketchOf(s), i, part.units)}` })),
    );
  const known = options.some((o) => o.value === value);
  const picking = useView((s) => s.pick?.label === label);
  const inStage = () =>
    useView.getState().set({
      pick: picking
        ? null
        : {
            want,
            before: self!,
            label,
            take: (step, item) => {
              useView.getState().set({ pick: null });
              onPick(step, item);
            },
          },
    });
  const pointing = (
    <ActionIcon
      variant={picking ? "filled" : "subtle"}
      size="sm"
      aria-pressed={picking}
      aria-label={`Pick ${label.toLowerCase()} in the stage`}
      onClick={inStage}
    >
      <PointAt />
    </ActionIcon>
  );
  return (
    <Select
      aria-label={label}
      rightSection={pointing}
      rightSectionPointerEvents="all"
      data={known ? options : [{ value, label: `${value} (gone)` }, ...options]}
      value={value}
      searchable
      error={known ? undefined : "Pick another"}
      onChange={(v) => {
        const [step, item] = v?.split("/") ?? [];
        if (step !== undefined && item !== undefined) onPick(step, item);
      }}
    />
  );
}
