/** What is drawn in the stage beside bodies: sketches, paths and planes, with the handles of what is selected. */
import { Line } from "@react-three/drei";
import type { ThreeEvent } from "@react-three/fiber";
import { Suspense, useState } from "react";
import type { PlaneData, Vec3 } from "../api/types";
import { toSpace } from "../geometry/space";
import { roomOf } from "../kinds/rooms";
import { isDrawn, isSolved, sketchOf } from "../state/drawings";
import { givesOf } from "../state/fields";
import { stepOf, usePart } from "../state/part";
import { roleOf } from "../state/roles";
import { useView } from "../state/view";
import { openMenu } from "./menu";
import { Origin } from "./Origin";
import type { Palette } from "./palette";
import { PathHandles } from "./PathHandles";

export function Sketches({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const sketching = useView((s) => s.sketching);
  const hidden = useView((s) => s.hidden.sketches);
  const unseen = useView((s) => s.unseen);
  const selected = useView((s) => s.selected);
  if (part === null || hidden) return null;
  return (
    <>
      {part.steps.map((step) => {
        const data = result?.steps[step.id]?.data;
        if (!isDrawn(step) || unseen.includes(step.id) || step.id === sketching || !isSolved(data)) return null;
        const role = roleOf(part, step);
        const colour =
          role === "path"
            ? colours.path
            : role === "section"
              ? colours.section
              : role === "rail"
                ? colours.rail
                : colours.free;
        const handles =
          selected === step.id && sketching === null && !step.same_as && (role === "path" || role === "rail")
            ? [<PathHandles key={`${step.id}/handles`} step={step} data={data} colour={colour} free={colours.pick} />]
            : [];
        const construction = new Set(sketchOf(step).entities.flatMap((e) => (e.construction ? [e.id] : [])));
        return handles.concat(
          Object.entries(data.curves).map(([entity, curve]) => (
            <SketchLine
              key={`${step.id}/${entity}`}
              points={curve.map((p) => toSpace(data.plane, p))}
              colour={construction.has(entity) ? colours.free : colour}
              construction={construction.has(entity)}
              title={`${step.name} · ${entity}`}
              step={step.id}
              selected={selected === step.id}
              faded={sketching !== null}
            />
          )),
        );
      })}
    </>
  );
}

/** Paths that are not drawn in a sketch. */
export function Paths({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const preview = useView((s) => s.preview);
  const result = usePart((s) => s.result);
  const sketching = useView((s) => s.sketching !== null);
  const hidden = useView((s) => s.hidden.sketches);
  const unseen = useView((s) => s.unseen);
  const selected = useView((s) => s.selected);
  if (part === null || hidden) return null;
  return (
    <>
      {part.steps.map((step) => {
        const shown = preview?.step === step.id ? preview.report : result?.steps[step.id];
        const points = unseen.includes(step.id) ? undefined : shown?.data.path?.points;
        if (points === undefined || shown === undefined) return null;
        const Handles = selected === step.id && !sketching ? roomOf(step.kind)?.Handles : undefined;
        if (Handles !== undefined)
          return (
            <Suspense key={step.id} fallback={null}>
              <Handles step={step} report={shown} colours={colours} />
            </Suspense>
          );
        return (
          <SketchLine
            key={step.id}
            points={points}
            colour={colours.path}
            title={step.name}
            step={step.id}
            selected={selected === step.id}
            faded={sketching}
          />
        );
      })}
    </>
  );
}

/** What is drawn only, and has no faces of its own: dashed. */
export function Dashed({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const unseen = useView((s) => s.unseen);
  const hidden = useView((s) => s.hidden.sketches);
  if (part === null || hidden) return null;
  return part.steps.flatMap((step) => {
    const report = unseen.includes(step.id) ? undefined : result?.steps[step.id];
    const lines = report === undefined ? [] : (roomOf(step.kind)?.dashed?.(report.data) ?? []);
    return lines.map((points, i) => (
      <Line
        key={`${step.id}/${i}`}
        points={points}
        color={colours.free}
        lineWidth={1.5}
        dashed
        dashSize={1.2}
        gapSize={0.8}
      />
    ));
  });
}

/** What the selected step that makes or changes a body is taken hold of by. */
export function BodyHandles({ colours }: { colours: Palette }) {
  const selected = useView((s) => s.selected);
  const step = usePart((s) => stepOf(s.document, selected));
  const preview = useView((s) => s.preview);
  const built = usePart((s) => (selected === null ? undefined : s.result?.steps[selected]));
  const sketching = useView((s) => s.sketching !== null);
  const hidden = useView((s) => s.hidden.sketches);
  if (step === undefined || !["body", "change"].includes(givesOf(step)) || sketching || hidden) return null;
  const Handles = roomOf(step.kind)?.Handles;
  const report = preview?.step === step.id ? preview.report : built;
  if (Handles === undefined || report === undefined) return null;
  return (
    <Suspense fallback={null}>
      <Handles step={step} report={report} colours={colours} />
    </Suspense>
  );
}

/** The right button on what belongs to a step: it is selected, and its menu opens. */
function menuOf(step: string, e: ThreeEvent<MouseEvent>): void {
  if (e.delta > 3) return;
  e.stopPropagation();
  useView.getState().select(step);
  openMenu(e.nativeEvent);
}

interface LineProps {
  points: Vec3[];
  colour: string;
  title: string;
  step: string;
  selected: boolean;
  faded: boolean;
  /** Only helps to draw: a thin dashed line. */
  construction?: boolean;
}

function SketchLine({ points, colour, title, step, selected, faded, construction = false }: LineProps) {
  const { select, setHover, sketch } = useView.getState();
  const [over, setOver] = useState(false);
  if (points.length < 2) return null;
  return (
    <Line
      points={points}
      color={colour}
      lineWidth={(selected || over ? 3.5 : 2) / (construction ? 2 : 1)}
      dashed={construction}
      dashSize={1.6}
      gapSize={1.2}
      transparent
      opacity={faded ? 0.35 : 1}
      renderOrder={2}
      onPointerOver={(e) => {
        e.stopPropagation();
        setOver(true);
        setHover(title);
      }}
      onPointerOut={() => {
        setOver(false);
        setHover(null);
      }}
      onClick={(e) => {
        if (e.delta <= 3) {
          e.stopPropagation();
          select(step);
        }
      }}
      onContextMenu={(e) => menuOf(step, e)}
      onDoubleClick={(e) => {
        e.stopPropagation();
        if (usePart.getState().document?.steps.some((s) => s.id === step && isDrawn(s))) sketch(step);
      }}
    />
  );
}

export function Planes({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const hidden = useView((s) => s.hidden.planes);
  const unseen = useView((s) => s.unseen);
  const selected = useView((s) => s.selected);
  const sketching = useView((s) => s.sketching !== null);
  if (part === null || hidden || sketching) return null;
  return (
    <>
      {part.steps.length === 0 && <Origin colours={colours} />}
      {part.steps.map((step) => {
        const report = result?.steps[step.id];
        const data = report?.data;
        if (givesOf(step) !== "plane" || unseen.includes(step.id) || !data?.plane || report === undefined) return null;
        const along = data.length; // of the path that it is square to
        const size = along === undefined ? 40 : Math.min(40, Math.max(6, along * 0.06));
        const Handles = selected === step.id ? roomOf(step.kind)?.Handles : undefined;
        const colour = selected === step.id ? colours.pick : colours.plane;
        return (
          <group key={step.id}>
            <PlaneSquare id={step.id} name={step.name} plane={data.plane} size={size} colour={colour} />
            {Handles !== undefined && (
              <Suspense fallback={null}>
                <Handles step={step} report={report} colours={colours} />
              </Suspense>
            )}
          </group>
        );
      })}
    </>
  );
}

function PlaneSquare({
  id,
  name,
  plane,
  size,
  colour,
}: {
  id: string;
  name: string;
  plane: PlaneData;
  size: number;
  colour: string;
}) {
  const { select, setHover } = useView.getState();
  const corners = (
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
      [-1, -1],
    ] as const
  ).map(([u, v]) => toSpace(plane, [u * size, v * size]));
  return (
    <Line
      points={corners}
      color={colour}
      lineWidth={1.4}
      dashed
      dashSize={size / 8}
      gapSize={size / 12}
      onPointerOver={(e) => {
        e.stopPropagation();
        setHover(name);
      }}
      onPointerOut={() => setHover(null)}
      onContextMenu={(e) => menuOf(id, e)}
      onClick={(e) => {
        if (e.delta <= 3) {
          e.stopPropagation();
          select(id);
        }
      }}
    />
  );
}
