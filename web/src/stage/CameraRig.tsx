/** Moves the camera: to what is asked for, to what has been built, and in step with the sketch view. */
import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import { useShallow } from "zustand/react/shallow";
import { useSketchView } from "../sketch/sketchView";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import { answer, inView, keptView, lookSquare, takeView, type Controls, type KeptView } from "./cameraMoves";
import { cameraState } from "./cameraState";

interface Rig {
  camera: THREE.OrthographicCamera;
  controls: Controls | null;
  invalidate: () => void;
}

export function CameraRig() {
  const camera = useThree((s) => s.camera) as THREE.OrthographicCamera;
  const controls = useThree((s) => s.controls) as unknown as Controls | null;
  const invalidate = useThree((s) => s.invalidate);
  useTold(camera, controls);
  useRequests(camera, controls, invalidate);
  useFitting();
  useNewInView(camera);
  useSketchCamera({ camera, controls, invalidate });
  return null;
}

/** The camera's turn and zoom are told to what is drawn beside the canvas. */
function useTold(camera: THREE.OrthographicCamera, controls: Controls | null) {
  useEffect(() => {
    const note = () => cameraState.set(camera.quaternion, camera.zoom);
    note();
    controls?.addEventListener("change", note);
    return () => controls?.removeEventListener("change", note);
  }, [camera, controls]);
}

/** Go where the commands and messages ask it to go. */
function useRequests(camera: THREE.OrthographicCamera, controls: Controls | null, invalidate: () => void) {
  const request = useView((s) => s.request);
  const size = useThree((s) => s.size);
  useEffect(() => {
    if (request === null || controls === null || !cameraState.waits()) return;
    cameraState.answer(request.serial);
    if (useView.getState().sketching !== null) return;
    answer(request, camera, controls, Math.min(size.width, size.height));
    cameraState.set(camera.quaternion, camera.zoom);
    invalidate();
    // only a new request moves the camera, once it can be moved
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [request, controls]);
}

/** Fit the part, unless a view was asked for that fits it as well. */
function fit() {
  if (!cameraState.waits()) useView.getState().ask({ kind: "fit" });
}

/**
 * Keep in sight what there is: at first all that is drawn, then the bodies, and copies that stand far from what they
 * are copies of.
 */
function useFitting() {
  const part = usePart((s) => s.id);
  const ready = usePart((s) => s.result !== null);
  const solid = usePart((s) => (s.result?.bodies.length ?? 0) > 0);
  const drawn = usePart((s) => (s.result?.bodies.length === 0 ? s.result : null));
  const copied = usePart((s) =>
    (s.result?.bodies ?? [])
      .filter((b) => b.places !== null)
      .map((b) => b.step)
      .join(),
  );
  const sketching = useView((s) => s.sketching !== null);
  useEffect(() => {
    if (solid) fit();
  }, [solid]);
  useEffect(() => {
    if (copied !== "") fit();
  }, [copied]);
  useEffect(() => {
    if (drawn !== null && !sketching) fit();
  }, [drawn, sketching]);
  useEffect(() => {
    const { looked, ask } = useView.getState();
    if (ready && part !== null && !looked) ask({ kind: "look", view: "corner" });
  }, [ready, part]);
}

/** A step whose body is new and reaches beyond what is seen is brought into view with the rest. */
function useNewInView(camera: THREE.OrthographicCamera) {
  const bodies = usePart((s) => s.result?.bodies);
  const part = usePart((s) => s.id);
  const known = useRef<{ part: string | null; steps: Set<string> }>({ part: null, steps: new Set() });
  useEffect(() => {
    if (bodies === undefined) return;
    const before = known.current;
    known.current = { part, steps: new Set(bodies.map((b) => b.step)) };
    if (before.part !== part || before.steps.size === 0 || useView.getState().sketching !== null) return;
    const fresh = bodies.filter((b) => !before.steps.has(b.step));
    if (fresh.some((b) => !inView(camera, b.box))) fit();
  }, [bodies, part, camera]);
}

/** While a sketch is open the camera looks square at it; then it goes back to where it was. */
function useSketchCamera({ camera, controls, invalidate }: Rig) {
  const sketching = useView((s) => s.sketching);
  const { plane, cx, cy, scale } = useSketchView(useShallow(({ plane, cx, cy, scale }) => ({ plane, cx, cy, scale })));
  const kept = useRef<KeptView | null>(null);
  useEffect(() => {
    if (sketching !== null && kept.current === null) {
      kept.current = keptView(camera, controls);
    } else if (sketching === null && kept.current !== null) {
      takeView(camera, controls, kept.current);
      kept.current = null;
      invalidate();
    }
  }, [sketching, camera, controls, invalidate]);
  useEffect(() => {
    if (sketching === null || plane === null) return;
    lookSquare(camera, plane, cx, cy, scale);
    invalidate();
  }, [sketching, plane, cx, cy, scale, camera, invalidate]);
}
