/**
 * The ports of a hose as small flags, each with its straight, and what the hose passes; what stands at a place of its
 * own can be dragged.
 */
import { Html, Line } from "@react-three/drei";
import type { ThreeEvent } from "@react-three/fiber";
import * as THREE from "three";
import type { Vec3 } from "../../api/types";
import type { HoseStep } from "./step";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { inUnits, length } from "../../ui/format";
import type { HandlesProps } from "../room";
import { Grip } from "../../stage/Grip";
import { useStagePull } from "../../stage/stagePull";
import { DragNote } from "../../ui/DragNote";
import { useCamera } from "../../stage/cameraState";

const FLAG_PX = 13;
const GRIP_PX = 6;

export default function HoseHandles({ step, colours: { path, edge: colour, pick: free } }: HandlesProps<HoseStep>) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const built = usePart((s) => s.result?.steps[step.id]);
  const preview = useView((s) => s.preview);
  const zoom = useCamera((s) => s.zoom);
  const { moved, begin, onMove, onUp } = useStagePull<HoseStep>(step);
  const report = moved?.report ?? (preview?.step === step.id ? preview.report : built);
  const { hose, path: line } = report?.data ?? {};
  if (!hose || !line) return null;
  const now = { ...step, ...moved?.patch };
  const grip = (key: string, at: Vec3, says: string, onDown: (e: ThreeEvent<PointerEvent>) => void) => (
    <Grip
      key={key}
      id={key}
      at={at}
      says={`${step.name}: ${says}`}
      colour={free}
      pixels={GRIP_PX}
      onDown={onDown}
      onMove={onMove}
      onUp={onUp}
    />
  );
  return (
    <group>
      <Line points={line.points} color={path} lineWidth={3.5} depthTest={false} renderOrder={5} />
      {hose.ports.map(({ point, outward, straight }, i) => {
        const name = i === 0 ? "start" : "end";
        const { at } = now[name];
        const tip = point.map((v, k) => v + straight * outward[k]!) as Vec3;
        return (
          <group key={name}>
            <Flag point={point} outward={outward} straight={straight} size={FLAG_PX / zoom} colour={colour} />
            {at.by === "place" &&
              grip(`${name}/port`, point, `drag the ${name}; Shift: along the sight`, (e) =>
                begin(e, "Drag a port", point, ([x, y, z]) => ({ [name]: { ...step[name], at: { ...at, x, y, z } } })),
              )}
            {grip(`${name}/straight`, tip, `drag the straight at the ${name}`, (e) =>
              begin(e, "Drag an end straight", tip, (to) => ({
                [name]: { ...step[name], straight: along(to, point, outward, (v) => inUnits(v, units)) },
              })),
            )}
            {moved?.patch[name] !== undefined && (
              <Html position={tip} zIndexRange={[4, 0]} style={{ pointerEvents: "none" }}>
                <DragNote>{length(straight, units, 3)}</DragNote>
              </Html>
            )}
          </group>
        );
      })}
      {hose.points.map((at, i) => {
        const drawn = now.points[i]?.at.by !== "place";
        return drawn ? (
          <mesh key={`pass${i}`} position={at} renderOrder={6}>
            <octahedronGeometry args={[GRIP_PX / zoom]} />
            <meshBasicMaterial color={colour} depthTest={false} />
          </mesh>
        ) : (
          grip(`pass${i}`, at, `drag point ${i + 1}; Shift: along the sight`, (e) =>
            begin(e, "Drag a point", at, ([x, y, z]) => ({
              points: step.points.map((p, k) => (k === i ? { ...p, at: { by: "place", x, y, z } } : p)),
            })),
          )
        );
      })}
    </group>
  );
}

/** How far a place is out from a port, in whole units, not under nought. */
function along(to: Vec3, point: Vec3, outward: Vec3, unit: (v: number) => number): number {
  return Math.max(0, Math.round(to.reduce((sum, v, k) => sum + (v - unit(point[k]!)) * outward[k]!, 0)));
}

function Flag({
  point,
  outward,
  straight,
  size,
  colour,
}: {
  point: Vec3;
  outward: Vec3;
  straight: number;
  size: number;
  colour: string;
}) {
  const ahead = new THREE.Vector3(...outward);
  const up = Math.abs(outward[2]) < 0.9 ? new THREE.Vector3(0, 0, 1) : new THREE.Vector3(1, 0, 0);
  up.addScaledVector(ahead, -up.dot(ahead)).normalize();
  const at = (a: number, b: number): Vec3 =>
    new THREE.Vector3(...point)
      .addScaledVector(ahead, a * size)
      .addScaledVector(up, b * size)
      .toArray();
  const tip = new THREE.Vector3(...point).addScaledVector(ahead, straight).toArray();
  return (
    <>
      <Line
        points={[at(0, 0), at(0, 2), at(1, 1.6), at(0, 1.2)]}
        color={colour}
        lineWidth={2}
        depthTest={false}
        renderOrder={6}
      />
      {straight > 0 && (
        <Line
          points={[at(0, 0), tip]}
          color={colour}
          lineWidth={2}
          dashed
          dashSize={size / 3}
          gapSize={size / 5}
          depthTest={false}
          renderOrder={6}
        />
      )}
    </>
  );
}
