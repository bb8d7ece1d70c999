/** Moves a plane along its normal: drag the arrow in the middle; the distance stands beside it. */
import { Html, Line } from "@react-three/drei";
import type { ThreeEvent } from "@react-three/fiber";
import { useRef, useState } from "react";
import * as THREE from "three";
import type { PlaneData } from "../../api/types";
import type { DatumPlane } from "./step";
import { usePart, withStep } from "../../state/part";
import { useView } from "../../state/view";
import type { HandlesProps } from "../room";
import { inUnits, length, trim } from "../../ui/format";
import { normalOf, toSpace } from "../../geometry/space";
import { DragNote } from "../../ui/DragNote";
import { useCamera } from "../../stage/cameraState";

const REACH_PX = 46;

export default function DatumHandles({ step, report, colours }: HandlesProps<DatumPlane>) {
  const { plane } = report.data;
  if (step.how.by !== "offset" || plane === undefined) return null;
  return <OffsetHandle step={step} plane={plane} colour={colours.pick} />;
}

function OffsetHandle({ step, plane, colour }: { step: DatumPlane; plane: PlaneData; colour: string }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const zoom = useCamera((s) => s.zoom);
  const start = useRef<number | null>(null);
  const [moved, setMoved] = useState(0);
  const normal = normalOf(plane);
  const shifted: PlaneData = {
    ...plane,
    origin: plane.origin.map((v, i) => v + moved * normal[i]!) as PlaneData["origin"],
  };
  const reach = REACH_PX / zoom;
  const tip = shifted.origin.map((v, i) => v + reach * normal[i]!) as [number, number, number];

  /** How far along the normal the ray under the pointer passes nearest. */
  const along = (e: ThreeEvent<PointerEvent>): number => {
    const n = new THREE.Vector3(...normal);
    const d = e.ray.direction;
    const w = new THREE.Vector3(...plane.origin).sub(e.ray.origin);
    const b = n.dot(d);
    const across = 1 - b * b;
    return across < 1e-4 ? 0 : (d.dot(w) * b - n.dot(w)) / across;
  };

  const onDown = (e: ThreeEvent<PointerEvent>) => {
    e.stopPropagation();
    (e.target as Element).setPointerCapture(e.pointerId);
    useView.getState().set({ dragging: true });
    start.current = along(e);
  };
  const onMove = (e: ThreeEvent<PointerEvent>) => {
    if (start.current !== null) setMoved(along(e) - start.current);
  };
  const onUp = (e: ThreeEvent<PointerEvent>) => {
    if (start.current === null) return;
    const by = along(e) - start.current;
    start.current = null;
    setMoved(0);
    useView.getState().set({ dragging: false });
    if (step.how.by !== "offset" || Math.abs(by) < 1e-9) return;
    const { how } = step;
    const shown = Number(trim(inUnits(by, units), 4));
    const distance =
      typeof how.distance === "number" ? Number(trim(how.distance + shown, 6)) : `(${how.distance}) + ${shown}`;
    void usePart
      .getState()
      .change("Move the plane", (p) => withStep<DatumPlane>(p, step.id, (s) => ({ ...s, how: { ...how, distance } })));
  };

  const outline = (
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
      [-1, -1],
    ] as const
  ).map(([u, v]) => toSpace(shifted, [u * 40, v * 40]));
  const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), new THREE.Vector3(...normal));
  return (
    <group>
      {moved !== 0 && <Line points={outline} color={colour} lineWidth={2} />}
      <Line points={[shifted.origin, tip]} color={colour} lineWidth={3} depthTest={false} renderOrder={6} />
      <mesh
        position={tip}
        quaternion={turn}
        renderOrder={6}
        userData={{ handle: step.id }}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
      >
        <coneGeometry args={[reach * 0.16, reach * 0.36, 16]} />
        <meshBasicMaterial color={colour} depthTest={false} />
      </mesh>
      {moved !== 0 && (
        <Html position={tip} zIndexRange={[4, 0]}>
          <DragNote>
            {moved > 0 ? "+" : ""}
            {length(moved, units)}
          </DragNote>
        </Html>
      )}
    </group>
  );
}
