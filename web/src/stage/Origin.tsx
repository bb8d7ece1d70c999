/** Where an empty part begins: its origin, its axes and the three planes through it. */
import { Html, Line } from "@react-three/drei";
import type { Vec3 } from "../api/types";
import type { Palette } from "./palette";
import styles from "./Origin.module.css";

const HALF = 50; // mm, of the planes' squares
const AXIS = 64;

const PLANES: { name: string; u: Vec3; v: Vec3 }[] = [
  { name: "XY", u: [1, 0, 0], v: [0, 1, 0] },
  { name: "XZ", u: [1, 0, 0], v: [0, 0, 1] },
  { name: "YZ", u: [0, 1, 0], v: [0, 0, 1] },
];
const AXES: { name: string; to: Vec3 }[] = [
  { name: "x", to: [AXIS, 0, 0] },
  { name: "y", to: [0, AXIS, 0] },
  { name: "z", to: [0, 0, AXIS] },
];

export function Origin({ colours }: { colours: Palette }) {
  return (
    <>
      {PLANES.map(({ name, u, v }) => {
        const corner = (a: number, b: number): Vec3 => [0, 1, 2].map((i) => HALF * (a * u[i]! + b * v[i]!)) as Vec3;
        const square = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1), corner(-1, -1)];
        return (
          <group key={name}>
            <Line
              points={square}
              color={colours.plane}
              lineWidth={1}
              dashed
              dashSize={5}
              gapSize={4}
              raycast={() => null}
            />
            <Name at={corner(-1, 1)} text={name} />
          </group>
        );
      })}
      {AXES.map(({ name, to }) => (
        <group key={name}>
          <Line points={[[0, 0, 0], to]} color={colours.edge} lineWidth={1.6} raycast={() => null} />
          <Name at={to} text={name} />
        </group>
      ))}
    </>
  );
}

function Name({ at, text }: { at: Vec3; text: string }) {
  return (
    <Html position={at} center zIndexRange={[4, 0]} style={{ pointerEvents: "none" }}>
      <span className={styles.name}>{text}</span>
    </Html>
  );
}
