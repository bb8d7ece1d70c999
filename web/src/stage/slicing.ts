/** The plane that everything on one side of is cut away, from the view's choice and the station. */
import * as THREE from "three";
import type { Shown, Vec3 } from "../api/types";
import { reportOf, usePart } from "../state/part";
import { sweptFor } from "../state/roles";
import { useView, type Slice } from "../state/view";
import { extentOf } from "./extent";
import { frameAt, normalOf } from "../geometry/space";

const AXES: Record<"X" | "Y" | "Z", Vec3> = { X: [1, 0, 0], Y: [0, 1, 0], Z: [0, 0, 1] };

function planeOf(slice: Slice, data: Shown | undefined, station: number | null): THREE.Plane | null {
  let normal: THREE.Vector3;
  let point: THREE.Vector3;
  if (slice.by === "station") {
    if (!data?.lanes || !data.length) return null;
    const frame = frameAt(data.lanes, station ?? data.length / 2);
    normal = new THREE.Vector3(...normalOf({ origin: frame.point, x: frame.x, y: frame.y })).normalize();
    point = new THREE.Vector3(...frame.point);
  } else {
    normal = new THREE.Vector3(...AXES[slice.by]);
    point = normal.clone().multiplyScalar(slice.at);
  }
  if (!slice.flipped) normal.negate();
  return new THREE.Plane().setFromNormalAndCoplanarPoint(normal, point);
}

export function useSlicePlanes(): THREE.Plane[] {
  const slice = useView((s) => s.slice);
  const station = useView((s) => s.station);
  const selected = useView((s) => s.selected);
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const sketching = useView((s) => s.sketching !== null);
  if (slice === null || part === null || sketching) return [];
  const swept = sweptFor(part, selected);
  const plane = planeOf(slice, swept === null ? undefined : reportOf(result, swept)?.data, station);
  return plane === null ? [] : [plane];
}

/** How far a plane square to an axis can go. */
export function sliceRange(by: "X" | "Y" | "Z"): [number, number] {
  const { document, result } = usePart.getState();
  const { centre, radius } = extentOf(document, result);
  const middle = centre[{ X: 0, Y: 1, Z: 2 }[by]]!;
  return [middle - radius, middle + radius];
}
