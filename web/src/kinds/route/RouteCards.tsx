/** The points of a route with the bend at each, and what its bends must keep. */
import { ActionIcon, Button, FileButton, SegmentedControl, Select, Switch } from "@mantine/core";
import { useState } from "react";
import { api } from "../../api/client";
import type { Expression, Units, Vec3 } from "../../api/types";
import type { RoutePoint, RouteStep } from "./step";
import { curveTitle } from "../../state/curveTitle";
import { isDrawn, sketchOf } from "../../state/drawings";
import { reportOf, usePart } from "../../state/part";
import { drawnPoints, freshPoint, withDrawn } from "../../state/paths";
import { placed, PLAIN_POINT } from "./new";
import { inUnits, trim } from "../../ui/format";
import { Card } from "../../slip/Card";
import { DirectionFields } from "../../slip/DirectionFields";
import { useDraft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import { OnPath, PathPlaceFields } from "../../slip/PathPlaceFields";
import { SourcePick } from "../../slip/SourcePick";
import clsx from "clsx";
import fields from "../../ui/fields.module.css";

const Field = fieldFor<RouteStep>();

const SHAPES = [
  { value: "bends", label: "Runs and bends" },
  { value: "smooth", label: "Smooth curve" },
];

export function RouteCards({ step }: { step: RouteStep }) {
  const draft = useDraft<RouteStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const places = usePart((s) => reportOf(s.result, step.id)?.data.route?.points);
  const smooth = step.shape === "smooth";
  const put = (i: number, patch: Partial<RoutePoint>) => step.points.map((p, k) => (k === i ? { ...p, ...patch } : p));
  return (
    <>
      <Card title="Points" tone="path">
        <div className={clsx(fields.routeRow, fields.routeHead)} aria-hidden="true">
          <span />
          <span>x</span>
          <span>y</span>
          <span>z</span>
          <span>{smooth ? "curve" : "bend"}</span>
          <span />
        </div>
        {step.points.map((point, i) => (
          <PointRow
            key={point.id}
            point={point}
            i={i}
            bend={String(step.radius)}
            smooth={smooth}
            last={smooth || (!step.closed && (i === 0 || i === step.points.length - 1))}
            onPreview={(patch) => draft.preview({ points: put(i, patch) })}
            onCommit={(label, patch) => draft.commit(label, { points: put(i, patch) })}
            onDelete={
              step.points.length > 2
                ? () => draft.commit("Take a point away", { points: step.points.filter((_, k) => k !== i) })
                : null
            }
          />
        ))}
        <AddPoints step={step} places={places} onAdd={(label, points) => draft.commit(label, { points })} />
      </Card>
      <Card title="Between the points">
        <SegmentedControl
          aria-label="Between the points"
          data={SHAPES}
          value={step.shape}
          onChange={(shape) =>
            draft.commit(shape === "smooth" ? "One smooth curve" : "Straight runs with bends", {
              shape: shape as RouteStep["shape"],
            })
          }
        />
        {!smooth && <Field of="radius" />}
        {!smooth && <Field of="least_straight" still />}
        <Switch
          mt={6}
          size="xs"
          label="Closed: back to the first point"
          checked={step.closed}
          onChange={(e) =>
            draft.commit(e.currentTarget.checked ? "Close the route" : "Open the route", {
              closed: e.currentTarget.checked,
            })
          }
        />
      </Card>
      <LengthCard
        step={step}
        units={units}
        onPreview={(held) => draft.preview({ held })}
        onCommit={(label, held) => draft.commit(label, { held })}
      />
    </>
  );
}

type Held = RouteStep["held"];

const WAYS = [
  { value: "own", label: "Its own way" },
  { value: "X", label: "Along X" },
  { value: "Y", label: "Along Y" },
  { value: "Z", label: "Along Z" },
];

/** A length that is held, and the point that gives way for it. */
function LengthCard({
  step,
  units,
  onPreview,
  onCommit,
}: {
  step: RouteStep;
  units: Units;
  onPreview: (held: Held) => void;
  onCommit: (label: string, held: Held) => void;
}) {
  const built = usePart((s) => reportOf(s.result, step.id)?.data);
  const now = built?.path?.length;
  const free = step.points.flatMap((p, i) => (p.at.by === "place" ? [{ value: p.id, label: `Point ${i + 1}` }] : []));
  const { held } = step;
  const giving = step.points.findIndex((p) => p.id === held?.point);
  const place = built?.route?.points[giving];
  const hold = (on: boolean) =>
    onCommit(
      on ? "Hold the length" : "Let the length go",
      on ? { length: Number(inUnits(now ?? 100, units).toFixed(3)), point: free.at(-1)!.value, along: null } : null,
    );
  return (
    <Card title="Length">
      <Switch
        size="xs"
        label="Hold the length"
        checked={held !== null}
        disabled={held === null && free.length === 0}
        onChange={(e) => hold(e.currentTarget.checked)}
      />
      {held !== null && (
        <>
          <ExpressionField
            label="Length"
            unit={units}
            value={held.length}
            onPreview={(v) => onPreview({ ...held, length: v ?? 0 })}
            onCommit={(v) => onCommit("Change the length", { ...held, length: v ?? 0 })}
          />
          <div className={fields.fieldRow}>
            <span>Gives way</span>
            <Select
              aria-label="Point that gives way"
              data={
                free.some((f) => f.value === held.point)
                  ? free
                  : [{ value: held.point, label: `${held.point} (gone)` }, ...free]
              }
              value={held.point}
              onChange={(point) => point !== null && onCommit("Let another point give way", { ...held, point })}
            />
          </div>
          <Select
            aria-label="Which way it gives"
            data={WAYS}
            value={held.along ?? "own"}
            onChange={(v) =>
              v !== null && onCommit("Change which way it gives", { ...held, along: v === "own" ? null : (v as "X") })
            }
          />
          {place && (
            <p className="soft figures">
              {`Point ${giving + 1} comes to ${place.map((v) => trim(inUnits(v, units), 5)).join(", ")}`}
            </p>
          )}
        </>
      )}
    </Card>
  );
}

interface RowProps {
  point: RoutePoint;
  i: number;
  last: boolean;
  smooth: boolean;
  /** The route's own bend radius. */
  bend: string;
  onPreview: (patch: Partial<RoutePoint>) => void;
  onCommit: (label: string, patch: Partial<RoutePoint>) => void;
  onDelete: (() => void) | null;
}

function PointRow({ point, i, last, smooth, bend, onPreview, onCommit, onDelete }: RowProps) {
  const { at, curving } = point;
  return (
    <>
      <div className={fields.routeRow}>
        {smooth ? (
          <button
            type="button"
            className={clsx(fields.wayToggle, "figures")}
            aria-pressed={point.way !== null}
            aria-label={`Direction at point ${i + 1}`}
            title={point.way === null ? "Give it a direction" : "Let it find its direction"}
            onClick={() =>
              onCommit(point.way === null ? `Direction at point ${i + 1}` : "Take the direction away", {
                way: point.way === null ? { x: 1, y: 0, z: 0 } : null,
              })
            }
          >
            {i + 1}
          </button>
        ) : (
          <span className="soft figures">{i + 1}</span>
        )}
        {at.by === "place" ? (
          (["x", "y", "z"] as const).map((axis) => (
            <ExpressionField
              key={axis}
              bare
              unit=""
              label={`${axis} of point ${i + 1}`}
              value={at[axis]}
              onPreview={(v) => onPreview({ at: { ...at, [axis]: v ?? 0 } })}
              onCommit={(v) => onCommit(`Move point ${i + 1}`, { at: { ...at, [axis]: v ?? 0 } })}
            />
          ))
        ) : at.by === "path" ? (
          <div className={fields.routeDrawn}>
            <PathPlaceFields
              label={`point ${i + 1}`}
              at={at}
              onPick={(next) => onCommit("Move along the path", { at: next })}
            />
          </div>
        ) : (
          <DrawnPlace at={at} i={i} onPick={(next) => onCommit("Pick another point", { at: next })} />
        )}
        {smooth ? (
          <CurvingRadius point={point} i={i} onPreview={onPreview} onCommit={onCommit} />
        ) : last ? (
          <span />
        ) : (
          <ExpressionField
            bare
            unit=""
            empty={bend}
            label={`Bend radius of point ${i + 1}`}
            value={point.radius}
            onPreview={(radius) => onPreview({ radius })}
            onCommit={(radius) => onCommit(`Change the bend at point ${i + 1}`, { radius })}
          />
        )}
        <ActionIcon
          variant="subtle"
          color="gray"
          size="sm"
          aria-label={`Take point ${i + 1} away`}
          disabled={onDelete === null}
          onClick={() => onDelete?.()}
        >
          ×
        </ActionIcon>
      </div>
      {smooth && point.way !== null && (
        <div className={fields.routeRow}>
          <span className="soft" title="Direction">
            →
          </span>
          <DirectionFields
            of={`point ${i + 1}`}
            name="Direction"
            value={point.way}
            onPreview={(way) => onPreview({ way })}
            onCommit={(way) => onCommit(`Turn the direction at point ${i + 1}`, { way })}
          />
        </div>
      )}
      {smooth && curving !== null && (
        <div className={fields.routeRow}>
          <span className="soft" title="Side to which it curves">
            ⌒
          </span>
          <DirectionFields
            of={`point ${i + 1}`}
            name="Side of the curvature"
            value={curving.towards}
            onPreview={(towards) => onPreview({ curving: { ...curving, towards } })}
            onCommit={(towards) =>
              onCommit(`Turn the curvature at point ${i + 1}`, { curving: { ...curving, towards } })
            }
          />
        </div>
      )}
    </>
  );
}

/** The radius with which a smooth route curves at a point; empty where it finds its own. */
function CurvingRadius({
  point: { curving },
  i,
  onPreview,
  onCommit,
}: Pick<RowProps, "point" | "i" | "onPreview" | "onCommit">) {
  const put = (radius: Expression | null): Pick<RoutePoint, "curving"> => ({
    curving: radius === null ? null : { radius, towards: curving?.towards ?? { x: 0, y: 0, z: 1 } },
  });
  return (
    <ExpressionField
      bare
      unit=""
      empty="own"
      label={`Radius of curvature at point ${i + 1}`}
      value={curving?.radius ?? null}
      onPreview={(radius) => onPreview(put(radius))}
      onCommit={(radius) =>
        onCommit(radius === null ? "Take the curvature away" : `Curvature at point ${i + 1}`, put(radius))
      }
    />
  );
}

type Drawn = Extract<RoutePoint["at"], { by: "sketch" }>;

function DrawnPlace({ at, i, onPick }: { at: Drawn; i: number; onPick: (at: Drawn) => void }) {
  const sketch = usePart((s) => s.document?.steps.find((x) => x.id === at.step));
  const units = usePart((s) => s.document?.units ?? "mm");
  const points = [...new Set([...drawnPoints(sketch), "O", at.point])].map((id) => ({
    value: id,
    label: `${sketch?.name ?? at.step} · ${isDrawn(sketch) ? curveTitle(sketchOf(sketch), id, units) : id}`,
  }));
  return (
    <Select
      className={fields.routeDrawn}
      size="xs"
      aria-label={`Place of point ${i + 1}`}
      data={points}
      value={at.point}
      onChange={(point) => point !== null && onPick({ ...at, point })}
    />
  );
}

function AddPoints({
  step,
  places,
  onAdd,
}: {
  step: RouteStep;
  places: Vec3[] | undefined;
  onAdd: (label: string, points: RoutePoint[]) => void;
}) {
  const [drawing, setDrawing] = useState(false);
  const part = usePart((s) => s.document)!;
  const beyond = (): Vec3 => {
    const [a, b] = [places?.at(-2), places?.at(-1)];
    return a !== undefined && b !== undefined
      ? (b.map((v, k) => Number((v + (v - a[k]!) / 2).toFixed(3))) as Vec3)
      : [0, 0, 0];
  };
  const read = (file: File | null) => {
    if (file === null) return;
    void usePart.getState().meanwhile(
      file.text().then((text) => api.readPoints(text, part.units)),
      ({ points }) =>
        onAdd(
          "Points from a file",
          points.reduce<RoutePoint[]>((all, r) => [...all, { ...placed([r.x, r.y, r.z], all), radius: r.radius }], []),
        ),
    );
  };
  return (
    <div className={fields.routeAdd}>
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => onAdd("Add a point", [...step.points, placed(beyond(), step.points)])}
      >
        Add a point
      </Button>
      <Button size="compact-xs" variant="default" onClick={() => setDrawing(!drawing)}>
        From a sketch
      </Button>
      <OnPath
        before={step.id}
        onPick={(at) =>
          onAdd("Add a point on a path", [...step.points, { id: freshPoint(step.points), at, ...PLAIN_POINT }])
        }
      />
      <FileButton accept=".csv,text/csv,text/plain" onChange={(file) => void read(file)}>
        {(props) => (
          <Button {...props} size="compact-xs" variant="default">
            From a file
          </Button>
        )}
      </FileButton>
      {drawing && (
        <SourcePick
          label="Sketch whose points follow"
          value=""
          onPick={(id) => {
            setDrawing(false);
            const sketch = part.steps.find((s) => s.id === id);
            onAdd(
              "Points of a sketch",
              withDrawn(step.points, sketch, usePart.getState().result, places?.at(-1), PLAIN_POINT),
            );
          }}
        />
      )}
    </div>
  );
}
