/** The ports of a hose as small flags: the straight, with a flag at its foot, and what the hose passes. */
import { Line } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import * as THREE from "three";
import type { HoseData, Vec3 } from "../api/types";

const FLAG_PX = 13;

export function PortFlags({ data, colour }: { data: HoseData; colour: string }) {
  const zoom = useThree((s) => (s.camera as THREE.OrthographicCamera).zoom);
  const size = FLAG_PX / zoom;
  return (
    <group>
      {data.ports.map(({ point, outward, straight }, i) => {
        const along = new THREE.Vector3(...outward);
        const up = Math.abs(outward[2]) < 0.9 ? new THREE.Vector3(0, 0, 1) : new THREE.Vector3(1, 0, 0);
        up.addScaledVector(along, -up.dot(along)).normalize();
        const at = (a: number, b: number): Vec3 => new THREE.Vector3(...point).addScaledVector(along, a * size).addScaledVector(up, b * size).toArray();
        const tip = new THREE.Vector3(...point).addScaledVector(along, straight).toArray();
        return (
          <group key={i}>
            <Line points={[at(0, 0), at(0, 2), at(1, 1.6), at(0, 1.2)]} color={colour} lineWidth={2} depthTest={false} renderOrder={6} />
            {straight > 0 && <Line points={[at(0, 0), tip]} color={colour} lineWidth={2} dashed dashSize={size / 3} gapSize={size / 5} depthTest={false} renderOrder={6} />}
          </group>
        );
      })}
      {data.points.map((p, i) => (
        <mesh key={`pass${i}`} position={p} renderOrder={6}>
          <octahedronGeometry args={[size / 3]} />
          <meshBasicMaterial color={colour} depthTest={false} />
        </mesh>
      ))}
    </group>
  );
}
