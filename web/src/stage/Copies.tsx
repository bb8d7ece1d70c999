/** Many copies of one mesh: one geometry, drawn once for all. */
import { Html } from "@react-three/drei";
import { useLayoutEffect, useMemo, useRef, type ReactNode } from "react";
import * as THREE from "three";
import type { CopiesData, Units } from "../api/types";
import { length } from "../ui/format";

import { DragNote } from "../ui/DragNote";

const MOST_LINE_POINTS = 300_000;
const NUMBERS = 7; // a quaternion and a shift

/** The placements that the server packs. */
export function unpackPlaces(packed: string): THREE.Matrix4[] {
  const numbers = new Float32Array(Uint8Array.from(atob(packed), (c) => c.charCodeAt(0)).buffer);
  const one = new THREE.Vector3(1, 1, 1);
  return Array.from({ length: numbers.length / NUMBERS }, (_, i) => {
    const [x, y, z, w, a, b, c] = numbers.subarray(i * NUMBERS, (i + 1) * NUMBERS) as unknown as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    return new THREE.Matrix4().compose(new THREE.Vector3(a, b, c), new THREE.Quaternion(x, y, z, w), one);
  });
}

/** How many placements these are. */
export const placesIn = (packed: string): number => Math.floor((packed.length * 3) / 4 / (4 * NUMBERS));

type MeshEvents = Pick<
  React.ComponentProps<"instancedMesh">,
  "onPointerMove" | "onPointerOut" | "onClick" | "onContextMenu" | "raycast"
>;

export function CopiesMesh({
  geometry,
  places,
  children,
  ...events
}: MeshEvents & { geometry: THREE.BufferGeometry; places: THREE.Matrix4[]; children: ReactNode }) {
  const mesh = useRef<THREE.InstancedMesh>(null);
  useLayoutEffect(() => {
    const target = mesh.current;
    if (target === null) return;
    places.forEach((m, i) => target.setMatrixAt(i, m));
    target.instanceMatrix.needsUpdate = true;
    target.computeBoundingSphere();
    target.computeBoundingBox();
  }, [places, geometry]);
  return (
    <instancedMesh
      key={`${geometry.uuid}/${places.length}`}
      ref={mesh}
      args={[geometry, undefined, places.length]}
      {...events}
    >
      {children}
    </instancedMesh>
  );
}

/** The drawn edges of all copies as one geometry; none where they would be too many to be told apart. */
export function useCopiedLines(
  lines: THREE.BufferGeometry | null,
  places: THREE.Matrix4[] | null,
): THREE.BufferGeometry | null {
  const copied = useMemo(() => {
    if (lines === null || places === null) return null;
    const flat = lines.index === null ? lines : lines.toNonIndexed();
    const from = flat.getAttribute("position");
    if (from.count * places.length > MOST_LINE_POINTS) return null;
    const to = new Float32Array(from.count * places.length * 3);
    const p = new THREE.Vector3();
    places.forEach((m, k) => {
      for (let i = 0; i < from.count; i++)
        p.fromBufferAttribute(from, i)
          .applyMatrix4(m)
          .toArray(to, (k * from.count + i) * 3);
    });
    return new THREE.BufferGeometry().setAttribute("position", new THREE.BufferAttribute(to, 3));
  }, [lines, places]);
  return places === null ? lines : copied;
}

/** Where two copies come closest. */
export function ClosestMark({ copies, units }: { copies: CopiesData; units: Units }) {
  if (!copies.closest || copies.least === null || copies.least === undefined) return null;
  return (
    <Html position={copies.closest} zIndexRange={[4, 0]} style={{ pointerEvents: "none" }}>
      <DragNote>{copies.least === 0 ? "touch here" : `${length(copies.least, units, 3)} clear`}</DragNote>
    </Html>
  );
}
