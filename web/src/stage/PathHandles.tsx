/**
 * The points of the selected sketch in space: drag one and its curve follows by the constraints, and what is swept
 * along it too.
 */
import { Line } from "@react-three/drei";
import type { ThreeEvent } from "@react-three/fiber";
import { useRef, useState } from "react";
import * as THREE from "three";
import { hand } from "../api/line";
import { Refusal } from "../api/refusal";
import type { DrawnData, DrawnStep, Part, Vec2, Vec3 } from "../api/types";
import { entityPoints } from "../sketch/edit/entities";
import { withMoved } from "../sketch/moved";
import { withSketch } from "../state/drawings";
import { Follower } from "../state/follower";
import { usePart } from "../state/part";
import { sweptFor } from "../state/roles";
import { useView } from "../state/view";
import { normalOf, toSpace } from "../geometry/space";
import { useCamera } from "./cameraState";

const SIZE_PX = 6;

interface Props {
  step: DrawnStep;
  data: DrawnData;
  colour: string;
  free: string;
}

/** A point that is dragged, in the document as it was when that began, and where it went. */
interface Held {
  point: string;
  document: Part;
  ended: boolean;
  latest: DrawnData | null;
  follower: Follower<Vec2>;
}

export function PathHandles({ step, data, colour, free }: Props) {
  const { plane } = data;
  const zoom = useCamera((s) => s.zoom);
  const [moved, setMoved] = useState<DrawnData | null>(null);
  const drag = useRef<Held | null>(null);
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

  const pull = async (to: Vec2, moving: boolean) => {
    const held = drag.current;
    if (held === null) return;
    try {
      const answer = await hand.drag(held.document, step.id, held.point, to);
      if (answer === null) return;
      const latest = withMoved(data, answer);
      held.latest = latest;
      setMoved(latest);
      const swept = sweptFor(held.document, step.id);
      if (swept === null) return;
      const along = await hand.preview(withSketch(held.document, step.id, latest.sketch), swept, moving);
      if (along !== null) useView.getState().setPreview({ step: swept, ...along });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      usePart.getState().say(error.detail);
    }
  };

  const finish = async ({ latest }: Held) => {
    drag.current = null;
    if (latest !== null) await usePart.getState().change("Drag a point", (p) => withSketch(p, step.id, latest.sketch));
    setMoved(null);
    useView.getState().setPreview(null);
  };

  const onDown = (point: string) => (e: ThreeEvent<PointerEvent>) => {
    e.stopPropagation();
    (e.target as Element).setPointerCapture(e.pointerId);
    useView.getState().set({ dragging: true });
    const { document } = usePart.getState();
    if (document === null) return;
    const began = withSketch(document, step.id, data.sketch);
    drag.current = { point, document: began, ended: false, latest: null, follower: new Follower(pull) };
  };
  const onMove = (e: ThreeEvent<PointerEvent>) => {
    if (drag.current === null || drag.current.ended) return;
    const to = place(e);
    if (to !== null) drag.current.follower.to(to);
  };
  const onUp = () => {
    useView.getState().set({ dragging: false });
    const held = drag.current;
    if (held === null) return;
    held.ended = true;
    void held.follower.end().then(() => finish(held));
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
