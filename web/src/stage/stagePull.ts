/** Pulling what a step is made of about in space: the step's preview and its sweep's follow, the last place is kept. */
import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useRef, useState } from "react";
import * as THREE from "three";
import { hand } from "../api/line";
import { Refusal } from "../api/refusal";
import type { Step, StepReport, Vec3 } from "../api/types";
import { Follower } from "../state/follower";
import { usePart, withStep } from "../state/part";
import { sweptFor } from "../state/roles";
import { useView } from "../state/view";
import { inUnits, trim } from "../ui/format";

interface Pull<S> {
  label: string;
  from: Vec3;
  grip: Vec3;
  put: (to: Vec3) => Partial<S>;
  shown: Partial<S> | null;
  ended: boolean;
  follower: Follower<Partial<S>>;
}

/**
 * The pointer in the plane of two axes that faces the camera most, through the grip; with Shift along the third axis
 * alone.
 */
function under(camera: THREE.Camera, e: ThreeEvent<PointerEvent>, grip: Vec3): Vec3 | null {
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
  const at = e.ray.intersectPlane(
    new THREE.Plane().setFromNormalAndCoplanarPoint(normal, through),
    new THREE.Vector3(),
  );
  return at === null ? null : [at.x, at.y, at.z];
}

export interface StagePull<S> {
  /** What the step is like while it is pulled, with its report. */
  moved: { report: StepReport; patch: Partial<S> } | null;
  /** ``put`` makes the step's fields from a place in the part's unit: whole numbers, unless Alt is held. */
  begin: (e: ThreeEvent<PointerEvent>, label: string, from: Vec3, put: (to: Vec3) => Partial<S>) => void;
  onMove: (e: ThreeEvent<PointerEvent>) => void;
  onUp: () => void;
}

export function useStagePull<S extends Step>(step: S): StagePull<S> {
  const camera = useThree((s) => s.camera);
  const [moved, setMoved] = useState<StagePull<S>["moved"]>(null);
  const pull = useRef<Pull<S> | null>(null);

  const follow = async (patch: Partial<S>, moving: boolean) => {
    const held = pull.current;
    const { document } = usePart.getState();
    if (held === null || document === null) return;
    try {
      const trial = withStep<S>(document, step.id, (s) => ({ ...s, ...patch }));
      const own = await hand.preview(trial, step.id, moving);
      if (own === null) return;
      held.shown = patch;
      if (own.report.data.path === undefined && own.report.data.lanes === undefined)
        return usePart.getState().say(own.report.messages[0] ?? null);
      setMoved({ report: own.report, patch });
      const swept = sweptFor(document, step.id);
      const along = swept === null ? null : await hand.preview(trial, swept, moving);
      if (swept !== null && along !== null) useView.getState().setPreview({ step: swept, ...along });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      usePart.getState().say(error.detail);
    }
  };

  const finish = async (held: Pull<S>) => {
    pull.current = null;
    const patch = held.shown;
    if (patch !== null)
      await usePart.getState().change(held.label, (p) => withStep<S>(p, step.id, (s) => ({ ...s, ...patch })));
    setMoved(null);
    useView.getState().setPreview(null);
  };

  return {
    moved,
    begin: (e, label, from, put) => {
      const grip = under(camera, e, from);
      if (grip === null) return;
      e.stopPropagation();
      (e.target as Element).setPointerCapture(e.pointerId);
      useView.getState().set({ dragging: true });
      usePart.getState().say(null);
      pull.current = { label, from, grip, put, shown: null, ended: false, follower: new Follower(follow) };
    },
    onMove: (e) => {
      const held = pull.current;
      if (held === null || held.ended) return;
      const to = under(camera, e, held.from);
      if (to === null) return;
      const units = usePart.getState().document?.units ?? "mm";
      const whole = (v: number) => (e.altKey ? Number(trim(v, 6)) : Math.round(v));
      const place = held.from.map((v, k) => {
        const by = to[k]! - held.grip[k]!;
        return Math.abs(by) < 1e-9 ? Number(trim(inUnits(v, units), 8)) : whole(inUnits(v + by, units));
      }) as Vec3;
      held.follower.to(held.put(place));
    },
    onUp: () => {
      useView.getState().set({ dragging: false });
      const held = pull.current;
      if (held === null) return;
      held.ended = true;
      void held.follower.end().then(() => finish(held));
    },
  };
}
