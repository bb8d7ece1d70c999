/**
 * A curve in space: an arc through three points, an arc or ellipse about a plane's origin, or x, y and z by formula.
 */
import { Select, SegmentedControl, Switch } from "@mantine/core";
import type { Expression } from "../../api/types";
import type { CurveStep } from "./step";
import type { RoutePoint } from "../route/step";
import { stepsBefore, usePart } from "../../state/part";
import { drawnPoints, pathSources } from "../../state/paths";
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { lastEnd, PathPlaceFields } from "../../slip/PathPlaceFields";
import { PlanePick } from "../../slip/PlanePick";
import { SourcePick } from "../../slip/SourcePick";
import { curveShape } from "./new";
import { isDrawn } from "../../state/drawings";
import fields from "../../ui/fields.module.css";

type Shape = CurveStep["shape"];
type Form<K extends Shape["by"]> = Extract<Shape, { by: K }>;
type At = RoutePoint["at"];

interface Props<K extends Shape["by"]> {
  shape: Form<K>;
  onPreview: (shape: Shape) => void;
  onCommit: (label: string, shape: Shape) => void;
}

const FORMS = [
  { value: "three", label: "Three points" },
  { value: "round", label: "Round" },
  { value: "formula", label: "Formula" },
];

export function CurveCards({ step }: { step: CurveStep }) {
  const draft = useDraft<CurveStep>(step.id);
  useFirstPreview(step.id, draft);
  const { shape } = step;
  const onPreview = (next: Shape) => draft.preview({ shape: next });
  const onCommit = (label: string, next: Shape) => draft.commit(label, { shape: next });
  return (
    <>
      <SegmentedControl
        aria-label="How the curve is given"
        data={FORMS}
        value={shape.by}
        onChange={(by) => onCommit("Give the curve another way", curveShape(by as Shape["by"]))}
      />
      {shape.by === "three" && <ThreeCard step={step.id} shape={shape} onPreview={onPreview} onCommit={onCommit} />}
      {shape.by === "round" && <RoundCards shape={shape} onPreview={onPreview} onCommit={onCommit} />}
      {shape.by === "formula" && <FormulaCards shape={shape} onPreview={onPreview} onCommit={onCommit} />}
    </>
  );
}

const THREE = [
  ["start", "Start"],
  ["via", "Between"],
  ["end", "End"],
] as const;

function ThreeCard({ step, shape, onPreview, onCommit }: Props<"three"> & { step: string }) {
  return (
    <Card title="Points" tone="path">
      {THREE.map(([name, label]) => (
        <PlaceFields
          key={name}
          step={step}
          label={label}
          at={shape[name]}
          onPreview={(at) => onPreview({ ...shape, [name]: at })}
          onCommit={(at) => onCommit(`Move ${label.toLowerCase()}`, { ...shape, [name]: at })}
        />
      ))}
      <Switch
        mt={6}
        size="xs"
        label="The whole circle"
        checked={shape.whole}
        onChange={(e) =>
          onCommit(e.currentTarget.checked ? "The whole circle" : "Only the arc", {
            ...shape,
            whole: e.currentTarget.checked,
          })
        }
      />
    </Card>
  );
}

const STANDS = [
  { value: "place", label: "at a place" },
  { value: "sketch", label: "on a sketch's point" },
  { value: "path", label: "on a path" },
];

interface PlaceProps {
  step: string;
  label: string;
  at: At;
  onPreview: (at: At) => void;
  onCommit: (at: At) => void;
}

function PlaceFields({ step, label, at, onPreview, onCommit }: PlaceProps) {
  const part = usePart((s) => s.document)!;
  const before = stepsBefore(part, step);
  const stand = (by: string | null) => {
    const sketch = before.filter(isDrawn).at(-1);
    const path = before.filter((s) => pathSources().includes(s.kind)).at(-1);
    if (by === "place") onCommit({ by, x: 0, y: 0, z: 0 });
    if (by === "sketch" && sketch !== undefined)
      onCommit({ by, step: sketch.id, point: drawnPoints(sketch)[0] ?? "O" });
    if (by === "path" && path !== undefined) onCommit(lastEnd(path.id));
  };
  return (
    <>
      <div className={fields.fieldRow}>
        <span>{label}</span>
        <Select aria-label={`Where the ${label.toLowerCase()} stands`} data={STANDS} value={at.by} onChange={stand} />
      </div>
      {at.by === "place" && (
        <div className={fields.threeRow}>
          {(["x", "y", "z"] as const).map((axis) => (
            <ExpressionField
              key={axis}
              bare
              unit=""
              label={`${axis} of ${label.toLowerCase()}`}
              value={at[axis]}
              onPreview={(v) => onPreview({ ...at, [axis]: v ?? 0 })}
              onCommit={(v) => onCommit({ ...at, [axis]: v ?? 0 })}
            />
          ))}
        </div>
      )}
      {at.by === "path" && <PathPlaceFields label={label.toLowerCase()} at={at} onPick={onCommit} />}
      {at.by === "sketch" && <DrawnAt label={label.toLowerCase()} at={at} onPick={onCommit} />}
    </>
  );
}

function DrawnAt({
  label,
  at,
  onPick,
}: {
  label: string;
  at: Extract<At, { by: "sketch" }>;
  onPick: (at: At) => void;
}) {
  const sketch = usePart((s) => s.document?.steps.find((x) => x.id === at.step));
  return (
    <div className={fields.railRow}>
      <SourcePick
        label={`Sketch of ${label}`}
        value={at.step}
        onPick={(step) => onPick({ by: "sketch", step, point: "O" })}
      />
      <Select
        aria-label={`Point of ${label}`}
        data={[...new Set([...drawnPoints(sketch), "O", at.point])]}
        value={at.point}
        onChange={(point) => point !== null && onPick({ ...at, point })}
      />
    </div>
  );
}

function RoundCards({ shape, onPreview, onCommit }: Props<"round">) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const field = (name: "radius" | "start_angle" | "sweep", label: string, unit: string) => (
    <ExpressionField
      label={label}
      unit={unit}
      value={shape[name]}
      onPreview={(v) => onPreview({ ...shape, [name]: v ?? 0 })}
      onCommit={(v) => onCommit(`Change ${label.toLowerCase()}`, { ...shape, [name]: v ?? 0 })}
    />
  );
  return (
    <>
      <Card title="Plane: about its origin">
        <PlanePick label="Plane" value={shape.plane} onPick={(plane) => onCommit("Pick plane", { ...shape, plane })} />
      </Card>
      <Card title="Arc or ellipse" tone="path">
        {field("radius", "Radius along x", units)}
        <ExpressionField
          label="Radius along y"
          unit={units}
          value={shape.other}
          empty="the same"
          onPreview={(other) => onPreview({ ...shape, other })}
          onCommit={(other) => onCommit("Change radius along y", { ...shape, other })}
        />
        {field("start_angle", "Start angle", "°")}
        {field("sweep", "Angle round", "°")}
      </Card>
    </>
  );
}

function FormulaCards({ shape, onPreview, onCommit }: Props<"formula">) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const field = (name: "x" | "y" | "z" | "first" | "last", label: string, unit: string) => {
    const put = (v: Expression | null): Shape => ({ ...shape, [name]: v ?? 0 });
    return (
      <ExpressionField
        label={label}
        unit={unit}
        value={shape[name]}
        onPreview={(v) => onPreview(put(v))}
        onCommit={(v) => onCommit(`Change ${label}`, put(v))}
      />
    );
  };
  return (
    <>
      <Card title="Formula of t" tone="path">
        <div className={fields.formula}>
          {field("x", "x", units)}
          {field("y", "y", units)}
          {field("z", "z", units)}
        </div>
        {field("first", "t from", "")}
        {field("last", "t to", "")}
        <p className="soft">Angles without a unit are degrees: 40*cos(t), with t from 0 to 360, goes round once.</p>
      </Card>
      <Card title="Plane: x, y and z from its origin">
        <PlanePick label="Plane" value={shape.plane} onPick={(plane) => onCommit("Pick plane", { ...shape, plane })} />
      </Card>
    </>
  );
}
