/** The points of the selected sketch in space: drag one and its curve follows by the constraints, and what is swept along it too. */
import { Line } from "@react-three/drei";
import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useRef, useState } from "react";
import * as THREE from "three";
import { api, Refusal } from "../api/client";
import type { DrawnData, DrawnStep, Vec2, Vec3 } from "../api/types";
import { entityPoints } from "../sketch/edit/entities";
import { withSketch } from "../state/drawings";
import { usePart } from "../state/part";
import { sweptFor } from "../state/roles";
import { useView } from "../state/view";
import { normalOf, toSpace } from "../geometry/space";

const SIZE_PX = 6;

interface Props {
  step: DrawnStep;
  data: DrawnData;
  colour: string;
  free: string;
}

export function PathHandles({ step, data, colour, free }: Props) {
  const { plane } = data;
  const zoom = useThree((s) => (s.camera as THREE.OrthographicCamera).zoom);
  const [moved, setMoved] = useState<DrawnData | null>(null);
  const drag = useRef<{ point: string; to: Vec2 | null; busy: boolean; ended: boolean } | null>(null);
  const shown = moved ?? data;
  const drawn = new Set(shown.sketch.entities.filter((e) => !e.construction).flatMap(entityPoints));
  const loose = new Set(data.free);

  const place = (e: ThreeEvent<PointerEvent>): Vec2 | null => {
    const at = e.ray.intersectPlane(
      new THREE.Plane().setFromNormalAndCoplanarPoint(
        new THREE.Vector3(...normalOf(plane)),
        new THREE.Vector3(...plane.origin),
      ),
      new THREE.Vector3(),
    );
    if (at === null) return null;
    const d = at.sub(new THREE.Vector3(...plane.origin));
    return [d.dot(new THREE.Vector3(...plane.x)), d.dot(new THREE.Vector3(...plane.y))];
  };

  /** One drag at a time is solved and previewed; the latest place wins. */
  const pull = async () => {
    const held = drag.current;
    if (held === null || held.busy || held.to === null) return;
    held.busy = true;
    let latest: DrawnData | null = null;
    try {
      while (held.to !== null) {
        const to = held.to;
        held.to = null;
        const { document } = usePart.getState();
        if (document === null) break;
        latest = { ...data, ...(await api.drag(withSketch(document, step.id, data.sketch), step.id, held.point, to)) };
        setMoved(latest);
        const swept = sweptFor(document, step.id);
        if (swept !== null)
          useView
            .getState()
            .setPreview({ step: swept, ...(await api.preview(withSketch(document, step.id, latest.sketch), swept)) });
      }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      usePart.getState().say(error.detail);
    }
    held.busy = false;
    if (held.ended) void finish(latest);
  };

  const finish = async (latest: DrawnData | null) => {
    drag.current = null;
    if (latest !== null) await usePart.getState().change("Drag a point", (p) => withSketch(p, step.id, latest.sketch));
    setMoved(null);
    useView.getState().setPreview(null);
  };

  const onDown = (point: string) => (e: ThreeEvent<PointerEvent>) => {
    e.stopPropagation();
    (e.target as Element).setPointerCapture(e.pointerId);
    useView.getState().set({ dragging: true });
    drag.current = { point, to: null, busy: false, ended: false };
  };
  const onMove = (e: ThreeEvent<PointerEvent>) => {
    if (drag.current === null || drag.current.ended) return;
    drag.current.to = place(e);
    void pull();
  };
  const onUp = () => {
    useView.getState().set({ dragging: false });
    const held = drag.current;
    if (held === null) return;
    held.ended = true;
    if (!held.busy) void finish(moved);
  };

  return (
    <group>
      {moved !== null &&
        Object.entries(moved.curves).map(([id, curve]) => (
          <Line
            key={id}
            points={curve.map((p): Vec3 => toSpace(plane, p))}
            color={colour}
            lineWidth={3.5}
            depthTest={false}
            renderOrder={5}
          />
        ))}
      {shown.sketch.points
        .filter((p) => drawn.has(p.id))
        .map((p) => (
          <mesh
            key={p.id}
            position={toSpace(plane, [p.x, p.y])}
            renderOrder={7}
            userData={{ handle: p.id }}
            onPointerOver={(e) => {
              e.stopPropagation();
              useView.getState().setHover(`${step.name}: drag ${p.id}`);
            }}
            onPointerOut={() => useView.getState().setHover(null)}
            onPointerDown={onDown(p.id)}
            onPointerMove={onMove}
            onPointerUp={onUp}
          >
            <sphereGeometry args={[SIZE_PX / zoom, 14, 10]} />
            <meshBasicMaterial color={loose.has(p.id) ? free : colour} depthTest={false} />
          </mesh>
        ))}
    </group>
  );
}
