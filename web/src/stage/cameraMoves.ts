/** Moving the camera, in plain functions. */
import * as THREE from "three";
import type { PlaneData, Vec3 } from "../api/types";
import { normalOf, toSpace } from "../geometry/space";
import { usePart } from "../state/part";
import { useView, type ViewName, type ViewRequest } from "../state/view";
import { extentOf, extentOfBox } from "./extent";

const LOOKS: Record<ViewName, Vec3> = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  top: [0, -0.0001, 1],
  bottom: [0, -0.0001, -1],
  corner: [-0.55, -0.72, 0.42],
};
const UP: Vec3 = [0, 0, 1];
const FILLED = 0.86; // of the smaller side of the stage
const FAR = 6; // times the part's radius that the camera stands off

export interface Controls {
  target: THREE.Vector3;
  update: () => void;
  addEventListener: (kind: "change", listener: () => void) => void;
  removeEventListener: (kind: "change", listener: () => void) => void;
}

export function place(
  camera: THREE.Camera,
  controls: Controls | null,
  target: Vec3,
  from: Vec3,
  far: number,
  up?: Vec3,
  zoom?: number,
) {
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

/** Do what is asked of the camera; `side` is the smaller side of the stage, px. */
export function answer(
  request: ViewRequest,
  camera: THREE.OrthographicCamera,
  controls: Controls | null,
  side: number,
): void {
  const { document, result } = usePart.getState();
  const { scene } = useView.getState();
  const { centre, radius } = scene === null ? extentOf(document, result) : extentOfBox(scene.box);
  const from = camera.position
    .clone()
    .sub(controls?.target ?? new THREE.Vector3())
    .normalize()
    .toArray();
  const fitting = (FILLED * side) / (2 * radius);
  const far = radius * FAR;
  if (request.kind === "fit") return place(camera, controls, centre, from, far, undefined, fitting);
  if (request.kind === "look")
    return place(camera, controls, centre, request.from ?? LOOKS[request.view ?? "corner"], far, UP, fitting);
  if (request.kind === "point" && request.point) return place(camera, controls, request.point, from, far);
  const plane = result?.steps[request.step ?? ""]?.data.plane;
  if (request.kind === "square" && plane) place(camera, controls, plane.origin, normalOf(plane), far);
}

/** Whether a box, by its lowest and highest corner, lies wholly in what the camera sees. */
export function inView(camera: THREE.OrthographicCamera, [low, high]: [Vec3, Vec3]): boolean {
  const seen = (corner: number) => {
    const [x, y, z] = [0, 1, 2].map((axis) => ((corner >> axis) & 1 ? high : low)[axis]!) as Vec3;
    const at = new THREE.Vector3(x, y, z).project(camera);
    return Math.abs(at.x) <= 1 && Math.abs(at.y) <= 1;
  };
  return Array.from({ length: 8 }, (_, corner) => corner).every(seen);
}

/** Where a camera stands, to go back there. */
export interface KeptView {
  position: THREE.Vector3;
  up: THREE.Vector3;
  target: THREE.Vector3;
  zoom: number;
}

export function keptView(camera: THREE.OrthographicCamera, controls: Controls | null): KeptView {
  return {
    position: camera.position.clone(),
    up: camera.up.clone(),
    target: controls?.target.clone() ?? new THREE.Vector3(),
    zoom: camera.zoom,
  };
}

export function takeView(
  camera: THREE.OrthographicCamera,
  controls: Controls | null,
  { position, up, target, zoom }: KeptView,
): void {
  const from = position.clone().sub(target);
  place(camera, controls, target.toArray(), from.toArray(), from.length(), up.toArray(), zoom);
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
