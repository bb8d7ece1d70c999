/** The points of the selected route in space: drag one, or pull a new corner out of the middle of a run. */
import { Html, Line } from "@react-three/drei";
import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useRef, useState } from "react";
import * as THREE from "three";
import { api, Refusal } from "../api/client";
import type { Part, RouteData, RoutePoint, RouteStep, StepReport, Vec3 } from "../api/types";
import { usePart, withStep } from "../state/part";
import { placed } from "../state/paths";
import { sweptFor } from "../state/roles";
import { useView } from "../state/view";
import { inUnits, length, trim } from "../ui/format";

const SIZE_PX = 6;
const MOST_FIGURES = 16;

interface Drag {
  list: RoutePoint[];
  points: RoutePoint[];
  index: number;
  from: Vec3;
  grip: Vec3;
  busy: boolean;
  next: RoutePoint[] | null;
  ended: boolean;
}

const runsOf = (route: RouteData) => route.runs.map((_, i) => [route.points[i]!, route.points[(i + 1) % route.points.length]!] as const);

const withPoints = (part: Part, id: string, points: RoutePoint[]) => withStep<RouteStep>(part, id, (s) => ({ ...s, points }));

export function RouteHandles({ step, colour, free }: { step: RouteStep; colour: string; free: string }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const built = usePart((s) => s.result?.steps[step.id]);
  const preview = useView((s) => s.preview);
  const camera = useThree((s) => s.camera as THREE.OrthographicCamera);
  const [moved, setMoved] = useState<{ report: StepReport; points: RoutePoint[] } | null>(null);
  const drag = useRef<Drag | null>(null);
  const report = moved?.report ?? (preview?.step === step.id ? preview.report : built);
  const { route, path } = report?.data ?? {};
  const points = moved?.points ?? step.points;
  if (!route || !path || route.points.length !== points.length) return null;

  /** The pointer in the plane of two axes that faces the camera most, through the grip; with Shift along the third axis alone. */
  const under = (e: ThreeEvent<PointerEvent>, grip: Vec3): Vec3 | null => {
    const sight = camera.getWorldDirection(new THREE.Vector3());
    const size = [sight.x, sight.y, sight.z].map(Math.abs);
    const axis = size.indexOf(Math.max(...size));
    const normal = new THREE.Vector3().setComponent(axis, 1);
    const through = new THREE.Vector3(...grip);
    if (e.shiftKey) {
      const d = e.ray.direction;
      const w = through.clone().sub(e.ray.origin);
      const b = normal.dot(d);
      const t = 1 - b * b < 1e-4 ? 0 : (d.dot(w) * b - normal.dot(w)) / (1 - b * b);
      return grip.map((v, k) => (k === axis ? v + t : v)) as Vec3;
    }
    const at = e.ray.intersectPlane(new THREE.Plane().setFromNormalAndCoplanarPoint(normal, through), new THREE.Vector3());
    return at === null ? null : [at.x, at.y, at.z];
  };

  const pull = async () => {
    const held = drag.current;
    if (held === null || held.busy) return;
    held.busy = true;
    try {
      while (held.next !== null) {
        const next = held.next;
        held.next = null;
        const { document } = usePart.getState();
        if (document === null) break;
        const trial = withPoints(document, step.id, next);
        const own = await api.preview(trial, step.id);
        held.points = next;
        if (own.report.data.route) setMoved({ report: own.report, points: next });
        else usePart.getState().say(own.report.messages[0] ?? null);
        const swept = sweptFor(document, step.id);
        if (swept !== null && own.report.data.route) useView.getState().setPreview({ step: swept, ...(await api.preview(trial, swept)) });
      }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      usePart.getState().say(error.detail);
    }
    held.busy = false;
    if (held.ended) void finish(held);
  };

  const finish = async (held: Drag) => {
    drag.current = null;
    if (held.points !== step.points) await usePart.getState().change(held.points.length > step.points.length ? "Pull out a corner" : "Drag a point", (p) => withPoints(p, step.id, held.points));
    setMoved(null);
    useView.getState().setPreview(null);
  };

  const begin = (e: ThreeEvent<PointerEvent>, list: RoutePoint[], index: number, from: Vec3) => {
    const grip = under(e, from);
    if (grip === null) return;
    e.stopPropagation();
    (e.target as Element).setPointerCapture(e.pointerId);
    useView.getState().set({ dragging: true });
    usePart.getState().say(null);
    drag.current = { list, points: step.points, index, from, grip, busy: false, next: null, ended: false };
  };
  const onMove = (e: ThreeEvent<PointerEvent>) => {
    const held = drag.current;
    if (held === null || held.ended) return;
    const to = under(e, held.from);
    if (to === null) return;
    const whole = (v: number) => (e.altKey ? Number(trim(v, 6)) : Math.round(v));
    const [x, y, z] = held.from.map((v, k) => {
      const by = to[k]! - held.grip[k]!;
      return Math.abs(by) < 1e-9 ? Number(trim(inUnits(v, units), 8)) : whole(inUnits(v + by, units));
    }) as Vec3;
    held.next = held.list.map((p, k) => (k === held.index ? { ...p, at: { by: "place", x, y, z } } : p));
    void pull();
  };
  const onUp = () => {
    useView.getState().set({ dragging: false });
    const held = drag.current;
    if (held === null) return;
    held.ended = true;
    if (!held.busy) void finish(held);
  };
  const ends = runsOf(route);
  const size = SIZE_PX / camera.zoom;

  return (
    <group>
      <Line points={path.points} color={colour} lineWidth={3.5} depthTest={false} renderOrder={5} />
      <Line points={step.closed ? [...route.points, route.points[0]!] : route.points} color={colour} lineWidth={1} dashed dashSize={size} gapSize={size} depthTest={false} transparent opacity={0.5} renderOrder={4} />
      {points.map((p, i) => {
        const at = route.points[i]!;
        const drawn = p.at.by === "sketch";
        return (
          <mesh key={p.id} position={at} renderOrder={7} userData={{ handle: p.id }}
            onPointerOver={(e) => { e.stopPropagation(); useView.getState().setHover(drawn ? `${step.name}: point ${i + 1} follows its sketch` : `${step.name}: drag point ${i + 1}; Shift: along the sight`); }}
            onPointerOut={() => useView.getState().setHover(null)}
            onPointerDown={(e) => !drawn && begin(e, step.points, i, at)} onPointerMove={onMove} onPointerUp={onUp}>
            {drawn ? <boxGeometry args={[size * 1.5, size * 1.5, size * 1.5]} /> : <sphereGeometry args={[size, 14, 10]} />}
            <meshBasicMaterial color={drawn ? colour : free} depthTest={false} />
          </mesh>
        );
      })}
      {runsOf(built?.data.route ?? route).map(([a, b], i) => {
        const middle = a.map((v, k) => (v + b[k]!) / 2) as Vec3;
        const corner = placed(middle, step.points);
        const list = [...step.points.slice(0, i + 1), corner, ...step.points.slice(i + 1)];
        return (
          <mesh key={`run${i}`} position={middle} rotation={[0.6, 0.6, 0.78]} renderOrder={6} userData={{ handle: `run${i}` }}
            onPointerOver={(e) => { e.stopPropagation(); useView.getState().setHover(`${step.name}: pull a ${step.shape === "smooth" ? "point" : "corner"} out of run ${i + 1}–${((i + 1) % points.length) + 1}`); }}
            onPointerOut={() => useView.getState().setHover(null)}
            onPointerDown={(e) => begin(e, list, i + 1, middle)} onPointerMove={onMove} onPointerUp={onUp}>
            <octahedronGeometry args={[size * 1.1]} />
            <meshBasicMaterial color={colour} depthTest={false} transparent opacity={moved === null ? 0.7 : 0} />
          </mesh>
        );
      })}
      {route.runs.length <= MOST_FIGURES && ends.map(([a, b], i) => (
        <Html key={`length${i}`} position={a.map((v, k) => v * 0.62 + b[k]! * 0.38) as Vec3} zIndexRange={[4, 0]} style={{ pointerEvents: "none" }}>
          <span className="drag-note figures">{length(route.runs[i]!.length, units)}</span>
        </Html>
      ))}
    </group>
  );
}
