/**
 * The bender with the tube in it, as it stands at the player's time. The tube's front is one rigid piece that is moved
 * as a whole.
 */
import { Edges } from "@react-three/drei";
import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { Vec3 } from "../../api/types";
import type { SceneColours } from "../room";
import { goOn, usePlayer } from "./player";
import { metBy, poseAt, type MachineBox, type Pose, type Run } from "./run";

const ROUND = 20; // flats about the tube
const LONGEST = 0.1; // s that one picture may take over

export default function BenderScene({ colours }: { colours: SceneColours }) {
  const run = usePlayer((s) => s.run);
  const at = usePlayer((s) => s.at);
  const going = usePlayer((s) => s.going);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => invalidate(), [at, going, invalidate]);
  useFrame((_, seconds) => {
    if (goOn(Math.min(seconds, LONGEST))) invalidate();
  });
  if (run === null) return null;
  const pose = poseAt(run, at);
  const met = metBy(run, at);
  return (
    <>
      <Tube run={run} pose={pose} colours={colours} />
      <Machine run={run} pose={pose} met={met.map((h) => h.part)} colours={colours} />
      <Floor run={run} colours={colours} met={met.some((h) => h.part === "floor")} />
      {met.map((h) => (
        <mesh key={h.part} position={h.point} renderOrder={9}>
          <sphereGeometry args={[run.outside * 0.35, 16, 12]} />
          <meshBasicMaterial color={colours.cut} depthTest={false} />
        </mesh>
      ))}
    </>
  );
}

/** A line through points that lie close together. */
class Polyline extends THREE.Curve<THREE.Vector3> {
  constructor(readonly points: Vec3[]) {
    super();
  }

  override getPoint(t: number, target = new THREE.Vector3()): THREE.Vector3 {
    const at = t * (this.points.length - 1);
    const i = Math.min(Math.floor(at), this.points.length - 2);
    return target.set(...this.points[i]!).lerp(new THREE.Vector3(...this.points[i + 1]!), at - i);
  }
}

function Tube({ run, pose, colours }: { run: Run; pose: Pose; colours: SceneColours }) {
  const front = run.fronts[pose.row]!;
  const rigid = useMemo(
    () =>
      front.length < 2
        ? null
        : new THREE.TubeGeometry(new Polyline(front), 2 * front.length, run.outside / 2, ROUND, false),
    [front, run.outside],
  );
  const { bend, radius } = pose;
  const arc = useMemo(() => {
    if (bend < 1e-3) return null;
    const count = Math.max(2, Math.ceil(bend / 0.06));
    const points = Array.from({ length: count + 1 }, (_, i): Vec3 => {
      const a = (bend * i) / count;
      return [radius * Math.sin(a), radius * (1 - Math.cos(a)), 0];
    });
    return new THREE.TubeGeometry(new Polyline(points), 2 * count, run.outside / 2, ROUND, false);
  }, [bend, radius, run.outside]);
  useEffect(() => () => rigid?.dispose(), [rigid]);
  useEffect(() => () => arc?.dispose(), [arc]);
  const behind = Math.max(-pose.carriage, 1);
  const material = (
    <meshStandardMaterial color={colours.rail} metalness={0.2} roughness={0.5} side={THREE.DoubleSide} />
  );
  return (
    <>
      {rigid && (
        <group position={[radius * Math.sin(bend), radius * (1 - Math.cos(bend)), 0]} rotation={[0, 0, bend]}>
          <mesh geometry={rigid} position={[pose.shift, 0, 0]} rotation={[pose.turn, 0, 0]}>
            {material}
          </mesh>
        </group>
      )}
      {arc && <mesh geometry={arc}>{material}</mesh>}
      <mesh position={[-behind / 2, 0, 0]} rotation={[0, 0, Math.PI / 2]}>
        <cylinderGeometry args={[run.outside / 2, run.outside / 2, behind, ROUND]} />
        {material}
      </mesh>
    </>
  );
}

const TILE = 200; // mm between the lines on the floor
const TILES = 4; // to each side

/** The floor under the die as a net of lines. */
function Floor({ run, met, colours }: { run: Run; met: boolean; colours: SceneColours }) {
  const colour = met ? colours.cut : colours.plane;
  return (
    <gridHelper
      key={colour}
      args={[2 * TILE * TILES, 2 * TILES, colour, colour]}
      position={[0, 0, run.floor]}
      rotation={[Math.PI / 2, 0, 0]}
    />
  );
}

interface MachineProps {
  run: Run;
  pose: Pose;
  /** The parts that the tube has run into. */
  met: string[];
  colours: SceneColours;
}

/** The machine as boxes: clamp and die are lowered, and the pressure die is aside, but while a bend is made. */
function Machine({ run, pose, met, colours }: MachineProps) {
  const open = pose.phase !== "bend";
  const lowered = open ? -run.drop : 0;
  const box = (b: MachineBox) => <Block key={b.name} box={b} met={met.includes(b.name)} colours={colours} />;
  const of = (moves: string) => run.boxes.filter((b) => b.moves === moves).map(box);
  return (
    <>
      {of("")}
      <group position={[pose.carriage, 0, 0]}>{of("carriage")}</group>
      <group position={[0, open ? -run.opening : 0, 0]}>{of("pressure")}</group>
      <group position={[0, pose.tool, 0]} rotation={[0, 0, pose.arm]}>
        <group position={[0, -pose.tool, 0]}>
          {of("arm")}
          <group position={[0, 0, lowered]}>{of("clamp")}</group>
        </group>
      </group>
      <mesh position={[0, pose.tool, lowered]} rotation={[Math.PI / 2, 0, 0]}>
        <cylinderGeometry args={[pose.tool - run.outside / 2, pose.tool - run.outside / 2, run.die_height, 48]} />
        <meshStandardMaterial color={met.includes("die") ? colours.cut : colours.section} roughness={0.6} />
        <Edges color={colours.edge} />
      </mesh>
    </>
  );
}

function Block({ box: { name, low, high }, met, colours }: { box: MachineBox; met: boolean; colours: SceneColours }) {
  const size = low.map((v, k) => high[k]! - v) as Vec3;
  const middle = low.map((v, k) => (v + high[k]!) / 2) as Vec3;
  const tool = name === "clamp" || name === "pressure";
  return (
    <mesh position={middle}>
      <boxGeometry args={size} />
      <meshStandardMaterial color={met ? colours.cut : tool ? colours.section : colours.body} roughness={0.7} />
      <Edges color={colours.edge} />
    </mesh>
  );
}
