/** Moves the camera: fit, standard views, square to a plane, and in step with the sketch view. */
import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import { usePart } from "../state/part";
import { useView, type ViewName } from "../state/view";
import { useSketchView } from "../sketch/sketchView";
import type { Vec3 } from "../api/types";
import { lookSquare, place, type Controls } from "./cameraMoves";
import { cameraState } from "./cameraState";
import { extentOf } from "./extent";
import { normalOf } from "../geometry/space";

const LOOKS: Record<ViewName, { from: Vec3; up: Vec3 }> = {
  front: { from: [0, -1, 0], up: [0, 0, 1] },
  back: { from: [0, 1, 0], up: [0, 0, 1] },
  left: { from: [-1, 0, 0], up: [0, 0, 1] },
  right: { from: [1, 0, 0], up: [0, 0, 1] },
  top: { from: [0, -0.0001, 1], up: [0, 1, 0] },
  bottom: { from: [0, -0.0001, -1], up: [0, -1, 0] },
  corner: { from: [-0.55, -0.72, 0.42], up: [0, 0, 1] },
};

export function CameraRig() {
  const camera = useThree((s) => s.camera) as THREE.OrthographicCamera;
  const controls = useThree((s) => s.controls) as unknown as Controls | null;
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  const request = useView((s) => s.request);
  const sketchView = useSketchView();
  const sketching = useView((s) => s.sketching);
  const part = usePart((s) => s.id);
  const result = usePart((s) => s.result);
  const ready = result !== null;
  const solid = (result?.bodies.length ?? 0) > 0;
  const kept = useRef<{ position: THREE.Vector3; up: THREE.Vector3; target: THREE.Vector3; zoom: number } | null>(null);

  useEffect(() => {
    const note = () => cameraState.set(camera.quaternion, camera.zoom);
    note();
    controls?.addEventListener("change", note);
    return () => controls?.removeEventListener("change", note);
  }, [camera, controls]);

  useEffect(() => {
    if (request === null || sketching !== null) return;
    const { document, result: built } = usePart.getState();
    const extent = extentOf(document, built);
    const from = camera.position.clone().sub(controls?.target ?? new THREE.Vector3()).normalize().toArray() as Vec3;
    const fitZoom = (0.86 * Math.min(size.width, size.height)) / (2 * extent.radius);
    if (request.kind === "fit") {
      place(camera, controls, extent.centre, from, extent.radius * 6, undefined, fitZoom);
    } else if (request.kind === "look") {
      const look = LOOKS[request.view ?? "corner"];
      place(camera, controls, extent.centre, look.from, extent.radius * 6, [0, 0, 1], fitZoom);
    } else if (request.kind === "square") {
      const plane = document && built?.steps[request.step ?? ""]?.data.plane;
      if (plane) place(camera, controls, plane.origin, normalOf(plane), extent.radius * 6);
    } else if (request.point) {
      place(camera, controls, request.point, from, extent.radius * 6);
    }
    cameraState.set(camera.quaternion, camera.zoom);
    invalidate();
    // only a new request moves the camera
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [request]);

  useEffect(() => {
    if (solid) useView.getState().ask({ kind: "fit" });
  }, [solid]);

  // copies may stand far from what they are copies of
  const copied = (result?.bodies ?? []).filter((b) => b.places !== null).map((b) => b.step).join();
  useEffect(() => {
    if (copied !== "") useView.getState().ask({ kind: "fit" });
  }, [copied]);

  // until there is a body to look at, the view keeps all that is drawn in sight
  useEffect(() => {
    if (result !== null && result.bodies.length === 0 && sketching === null) useView.getState().ask({ kind: "fit" });
  }, [result, sketching]);

  useEffect(() => {
    if (ready && part !== null) useView.getState().ask({ kind: "look", view: "corner" });
  }, [ready, part]);

  useEffect(() => {
    const target = controls?.target ?? new THREE.Vector3();
    if (sketching !== null && kept.current === null) {
      kept.current = { position: camera.position.clone(), up: camera.up.clone(), target: target.clone(), zoom: camera.zoom };
    } else if (sketching === null && kept.current !== null) {
      const { position, up, target: old, zoom } = kept.current;
      kept.current = null;
      const from = position.clone().sub(old);
      place(camera, controls, old.toArray() as Vec3, from.toArray() as Vec3, from.length(), up.toArray() as Vec3, zoom);
      invalidate();
    }
  }, [sketching, camera, controls, invalidate]);

  useEffect(() => {
    if (sketching === null || sketchView.plane === null) return;
    lookSquare(camera, sketchView.plane, sketchView.cx, sketchView.cy, sketchView.scale);
    invalidate();
  }, [sketching, sketchView.plane, sketchView.cx, sketchView.cy, sketchView.scale, camera, invalidate]);

  return null;
}

