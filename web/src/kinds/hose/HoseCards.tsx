/** The two ports of a hose, what it passes, and how it lies. */
import { ActionIcon, Button, SegmentedControl, Select, Switch } from "@mantine/core";
import { useState } from "react";
import type { HoseStep, Port } from "./step";
import { reportOf, stepOf, stepsBefore, usePart } from "../../state/part";
import { drawnPoints, freshPoint, pathSources, withDrawn } from "../../state/paths";
import { inUnits, length, trim } from "../../ui/format";
import { Card } from "../../slip/Card";
import { useAsk } from "../../slip/useAsk";
import { DirectionFields } from "../../slip/DirectionFields";
import { useDraft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import { lastEnd, OnPath, PathPlaceFields } from "../../slip/PathPlaceFields";
import { PlanePick } from "../../slip/PlanePick";
import { SourcePick } from "../../slip/SourcePick";
import { isDrawn } from "../../state/drawings";
import { givesOf } from "../../state/fields";
import clsx from "clsx";
import fields from "../../ui/fields.module.css";
import styles from "./Hose.module.css";

const Field = fieldFor<HoseStep>();

export function HoseCards({ step }: { step: HoseStep }) {
  const draft = useDraft<HoseStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const told = usePart((s) => reportOf(s.result, step.id)?.data);
  const long = step.length !== null;
  return (
    <>
      {(["start", "end"] as const).map((end) => (
        <PortCard
          key={end}
          hose={step.id}
          name={end}
          port={step[end]}
          shaped={!long}
          known={told?.hose?.ports[end === "start" ? 0 : 1]}
          onPreview={(port) => draft.preview({ [end]: port })}
          onCommit={(label, port) => draft.commit(label, { [end]: port })}
        />
      ))}
      <Card title="How it lies" tone="path">
        <SegmentedControl
          aria-label="How it lies"
          data={[
            { value: "shaped", label: "Shaped" },
            { value: "rod", label: "Given length" },
          ]}
          value={long ? "rod" : "shaped"}
          onChange={(how) =>
            draft.commit(
              how === "rod" ? "Give its length" : "Shape it",
              how === "rod"
                ? { length: Number(((told?.path?.length ?? 200) * 1.02).toPrecision(4)), points: [] }
                : { length: null },
            )
          }
        />
        {long && (
          <>
            <ExpressionField
              label="Length"
              unit={units}
              value={step.length}
              onPreview={(length) => draft.preview({ length: length ?? 0 })}
              onCommit={(length) => draft.commit("Change length", { length: length ?? 0 })}
            />
            <Field of="weight" unit="N/m" />
            <Field of="stiffness" unit="N·m²" />
          </>
        )}
        <Field of="least_bend" />
        {long && <Shortest step={step} onFound={(found) => draft.commit("Shortest hose", { length: found })} />}
      </Card>
      {!long && (
        <Passing
          step={step}
          onCommit={(label, points) => draft.commit(label, { points })}
          onPreview={(points) => draft.preview({ points })}
          places={told?.hose?.ports.map((p) => p.point)}
        />
      )}
    </>
  );
}

/** Looks for the shortest hose that keeps the least bend radius; that takes seconds. */
function Shortest({ step, onFound }: { step: HoseStep; onFound: (length: number) => void }) {
  const id = usePart((s) => s.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const search = useAsk<number>(step.id, "shortest", (found) =>
    onFound(Math.ceil(inUnits(found, units) * FINE) / FINE),
  );
  if (step.least_bend === 0 || id === null) return null;
  return (
    <Button size="compact-xs" variant="default" loading={search.isPending} disabled={search.waits} onClick={search.ask}>
      Shortest that keeps the least bend
    </Button>
  );
}

const FINE = 100; // parts of a unit that a found length is rounded up to

const STANDS = [
  { value: "place", label: "At a place" },
  { value: "plane", label: "On a plane" },
  { value: "sketch", label: "On a sketch's point" },
  { value: "path", label: "On a path" },
];

interface PortProps {
  hose: string;
  name: "start" | "end";
  port: Port;
  shaped: boolean;
  /** What is known of the port: how far its fitting reaches into the hose, and the straight there. */
  known: { collar: number | null; straight: number } | undefined;
  onPreview: (port: Port) => void;
  onCommit: (label: string, port: Port) => void;
}

function PortCard({ hose, name, port, shaped, known, onPreview, onCommit }: PortProps) {
  const part = usePart((s) => s.document)!;
  const { at } = port;
  const { collar, straight } = known ?? { collar: null, straight: 0 };
  const stand = (by: string | null) => {
    const planes = part.steps.filter((s) => givesOf(s) === "plane");
    const sketch = part.steps.filter(isDrawn).at(-1);
    if (by === "place") onCommit("Port at a place", { ...port, at: { by, x: 0, y: 0, z: 0, dx: 1, dy: 0, dz: 0 } });
    if (by === "plane")
      onCommit("Port on a plane", {
        ...port,
        at: {
          by,
          plane: planes.length > 0 ? { kind: "step", step: planes.at(-1)!.id } : { kind: "principal", plane: "XY" },
        },
      });
    const path = stepsBefore(part, hose)
      .filter((s) => pathSources().includes(s.kind))
      .at(-1);
    if (by === "path" && path !== undefined) onCommit("Port on a path", { ...port, at: lastEnd(path.id) });
    if (by === "sketch")
      onCommit("Port on a sketch", {
        ...port,
        at: { by, step: sketch?.id ?? "", point: drawnPoints(sketch)[0] ?? "O" },
      });
  };
  return (
    <Card title={name === "start" ? "From the port" : "To the port"}>
      <Select aria-label={`Where the ${name} stands`} data={STANDS} value={at.by} onChange={stand} />
      {at.by === "place" && (
        <>
          {(
            [
              ["x", "y", "z"],
              ["dx", "dy", "dz"],
            ] as const
          ).map((row, k) => (
            <div key={k} className={styles.portRow}>
              <span className="soft">{k === 0 ? "at" : "facing"}</span>
              {row.map((axis) => (
                <ExpressionField
                  key={axis}
                  bare
                  unit=""
                  label={`${axis} of the ${name}`}
                  value={at[axis]}
                  onPreview={(v) => onPreview({ ...port, at: { ...at, [axis]: v ?? 0 } })}
                  onCommit={(v) =>
                    onCommit(k === 0 ? "Move the port" : "Turn the port", { ...port, at: { ...at, [axis]: v ?? 0 } })
                  }
                />
              ))}
            </div>
          ))}
        </>
      )}
      {at.by === "plane" && (
        <PlanePick
          label={`Plane of the ${name}`}
          value={at.plane}
          onPick={(plane) => onCommit("Pick plane", { ...port, at: { by: "plane", plane } })}
        />
      )}
      {at.by === "path" && (
        <PathPlaceFields
          label={`the ${name}`}
          at={at}
          onPick={(next) => onCommit("Move along the path", { ...port, at: next })}
        />
      )}
      {at.by === "sketch" && (
        <DrawnPort name={name} at={at} onPick={(next) => onCommit("Pick point", { ...port, at: next })} />
      )}
      {collar !== null && Math.abs(collar - straight) > 1e-6 && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() =>
            onCommit("Straight as long as the collar", {
              ...port,
              straight: Number(inUnits(collar, part.units).toFixed(4)),
            })
          }
        >{`As long as the collar: ${length(collar, part.units)}`}</Button>
      )}
      <ExpressionField
        label="Straight"
        unit={part.units}
        value={port.straight}
        onPreview={(v) => onPreview({ ...port, straight: v ?? 0 })}
        onCommit={(v) => onCommit("Change end straight", { ...port, straight: v ?? 0 })}
      />
      {shaped && (
        <ExpressionField
          label="Pull"
          unit="×"
          value={port.pull}
          onPreview={(v) => onPreview({ ...port, pull: v ?? 1 })}
          onCommit={(v) => onCommit("Change pull", { ...port, pull: v ?? 1 })}
        />
      )}
      <Switch
        mt={6}
        size="xs"
        label="The other way round"
        aria-label={`Turn the ${name} round`}
        checked={port.reverse}
        onChange={(e) => onCommit("Turn the port round", { ...port, reverse: e.currentTarget.checked })}
      />
    </Card>
  );
}

type Drawn = Extract<Port["at"], { by: "sketch" }>;

function DrawnPort({ name, at, onPick }: { name: string; at: Drawn; onPick: (at: Drawn) => void }) {
  const sketch = usePart((s) => stepOf(s.document, at.step));
  return (
    <div className={fields.railRow}>
      <SourcePick
        label={`Sketch of the ${name}`}
        value={at.step}
        onPick={(step) => onPick({ by: "sketch", step, point: "O" })}
      />
      <Select
        aria-label={`Point of the ${name}`}
        data={[...new Set([...drawnPoints(sketch), "O", at.point])]}
        value={at.point}
        onChange={(point) => point !== null && onPick({ ...at, point })}
      />
    </div>
  );
}

interface PassingProps {
  step: HoseStep;
  places: [number, number, number][] | undefined;
  onPreview: (points: HoseStep["points"]) => void;
  onCommit: (label: string, points: HoseStep["points"]) => void;
}

function Passing({ step, places, onPreview, onCommit }: PassingProps) {
  const [drawing, setDrawing] = useState(false);
  const part = usePart((s) => s.document)!;
  const set = (i: number, patch: Partial<HoseStep["points"][number]>) =>
    step.points.map((p, k) => (k === i ? { ...p, ...patch } : p));
  const put = (i: number, at: HoseStep["points"][number]["at"]) => set(i, { at });
  const middle = () =>
    places?.length === 2 ? [0, 1, 2].map((k) => Number(trim((places[0]![k]! + places[1]![k]!) / 2, 4))) : [0, 0, 0];
  return (
    <Card title="Points to pass">
      {step.points.flatMap((point, i) => [
        <div key={point.id} className={clsx(styles.portRow, styles.withDelete)}>
          <button
            type="button"
            className={clsx(fields.wayToggle, "figures")}
            aria-pressed={point.way !== null}
            aria-label={`Direction at point ${i + 1}`}
            title={point.way === null ? "Give it a direction" : "Let it find its direction"}
            onClick={() =>
              onCommit(
                point.way === null ? `Direction at point ${i + 1}` : "Take the direction away",
                set(i, { way: point.way === null ? { x: 1, y: 0, z: 0 } : null }),
              )
            }
          >
            {i + 1}
          </button>
          {point.at.by === "place" ? (
            (["x", "y", "z"] as const).map((axis) => (
              <ExpressionField
                key={axis}
                bare
                unit=""
                label={`${axis} of point ${i + 1}`}
                value={point.at.by === "place" ? point.at[axis] : 0}
                onPreview={(v) => point.at.by === "place" && onPreview(put(i, { ...point.at, [axis]: v ?? 0 }))}
                onCommit={(v) =>
                  point.at.by === "place" && onCommit(`Move point ${i + 1}`, put(i, { ...point.at, [axis]: v ?? 0 }))
                }
              />
            ))
          ) : point.at.by === "path" ? (
            <div className={fields.routeDrawn}>
              <PathPlaceFields
                label={`point ${i + 1}`}
                at={point.at}
                onPick={(at) => onCommit("Move along the path", put(i, at))}
              />
            </div>
          ) : (
            <span className={clsx("soft", fields.routeDrawn)}>follows its sketch</span>
          )}
          <ActionIcon
            variant="subtle"
            color="gray"
            size="sm"
            aria-label={`Take point ${i + 1} away`}
            onClick={() =>
              onCommit(
                "Take a point away",
                step.points.filter((_, k) => k !== i),
              )
            }
          >
            ×
          </ActionIcon>
        </div>,
        ...(point.way === null
          ? []
          : [
              <div key={`${point.id}/way`} className={clsx(styles.portRow, styles.withDelete)}>
                <span className="soft">→</span>
                <DirectionFields
                  of={`point ${i + 1}`}
                  name="Direction"
                  value={point.way}
                  onPreview={(way) => onPreview(set(i, { way }))}
                  onCommit={(way) => onCommit(`Turn the direction at point ${i + 1}`, set(i, { way }))}
                />
                <span />
              </div>,
            ]),
      ])}
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => {
          const [x, y, z] = middle() as [number, number, number];
          onCommit("Add a point to pass", [
            ...step.points,
            { id: freshPoint(step.points), at: { by: "place", x, y, z }, way: null },
          ]);
        }}
      >
        Add a point
      </Button>{" "}
      <Button size="compact-xs" variant="default" onClick={() => setDrawing(!drawing)}>
        From a sketch
      </Button>{" "}
      <OnPath
        before={step.id}
        onPick={(at) =>
          onCommit("Add a point on a path", [...step.points, { id: freshPoint(step.points), at, way: null }])
        }
      />
      {drawing && (
        <SourcePick
          label="Sketch whose points it passes"
          value=""
          onPick={(id) => {
            setDrawing(false);
            onCommit(
              "Points of a sketch",
              withDrawn<HoseStep["points"][number]>(
                step.points,
                stepOf(part, id),
                usePart.getState().result,
                undefined,
                { way: null },
              ),
            );
          }}
        />
      )}
    </Card>
  );
}
