/** Moving the camera, in plain functions. */
import * as THREE from "three";
import type { PlaneData, Vec3 } from "../api/types";
import { normalOf, toSpace } from "../geometry/space";

export interface Controls {
  target: THREE.Vector3;
  update: () => void;
  addEventListener: (kind: "change", listener: () => void) => void;
  removeEventListener: (kind: "change", listener: () => void) => void;
}

export function place(camera: THREE.Camera, controls: Controls | null, target: Vec3, from: Vec3, far: number, up?: Vec3, zoom?: number) {
  if (up) camera.up.set(...up);
  if (zoom !== undefined) (camera as THREE.OrthographicCamera).zoom = zoom;
  const at = new THREE.Vector3(...target);
  camera.position.copy(at).addScaledVector(new THREE.Vector3(...from).normalize(), far);
  camera.lookAt(at);
  if (controls) {
    controls.target.copy(at);
    controls.update();
  }
  (camera as THREE.OrthographicCamera).updateProjectionMatrix();
  camera.updateMatrixWorld();
}

export function lookSquare(camera: THREE.OrthographicCamera, plane: PlaneData, cx: number, cy: number, scale: number) {
  const target = new THREE.Vector3(...toSpace(plane, [cx, cy]));
  camera.up.set(...plane.y);
  camera.position.copy(target).addScaledVector(new THREE.Vector3(...normalOf(plane)), 5000);
  camera.lookAt(target);
  camera.zoom = scale;
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld();
}
