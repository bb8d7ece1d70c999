/** What shows the present state in the stage: the preview of a change, the closest places, the ring at the station. */
import { Line } from "@react-three/drei";
import { useEffect, useMemo, useState } from "react";
import * as THREE from "three";
import { frameAt, normalOf, toSpace } from "../geometry/space";
import { isBody } from "../state/bodies";
import { clearancesFor } from "../state/checks";
import { usePart } from "../state/part";
import { sweptFor } from "../state/roles";
import { loopsAt } from "../state/section";
import { isSwept } from "../state/sweeps";
import { useView } from "../state/view";
import { ClearMark } from "./ClearMark";
import { ClosestMark } from "./Copies";
import { parseMesh, type BodyMesh } from "./meshes";
import type { Palette } from "./palette";

export function Preview({ colours }: { colours: Palette }) {
  const preview = useView((s) => s.preview);
  const step = usePart((s) => s.document?.steps.find((x) => x.id === preview?.step));
  const [mesh, setMesh] = useState<BodyMesh | null>(null);
  const data = preview?.mesh ?? null;
  useEffect(() => {
    let current = true;
    if (data !== null) void parseMesh(data, false).then((m) => current && setMesh(m));
    return () => {
      current = false;
    };
  }, [data]);
  useEffect(
    () => () => {
      // what was given to the graphics card for one picture is of no use for the next
      mesh?.triangles.dispose();
      mesh?.lines?.dispose();
    },
    [mesh],
  );
  if (mesh === null || data === null) return null;
  const whole = preview !== null && preview.replaces.length > 0;
  const cutting = !whole && isBody(step) && step.result === "cut";
  return (
    <>
      <mesh geometry={mesh.triangles} raycast={() => null}>
        <meshStandardMaterial
          color={whole ? colours.body : cutting ? colours.cut : colours.section}
          transparent={!whole}
          opacity={whole ? 1 : 0.55}
          side={THREE.DoubleSide}
          metalness={0.05}
          roughness={0.7}
          polygonOffset
          polygonOffsetFactor={1}
          polygonOffsetUnits={1}
        />
      </mesh>
      {whole && mesh.lines && (
        <lineSegments geometry={mesh.lines} raycast={() => null}>
          <lineBasicMaterial color={colours.edge} transparent opacity={0.8} />
        </lineSegments>
      )}
    </>
  );
}

/** The closest places of the selected step: of its copies to each other, of its path to bodies. */
export function Closest({ colour }: { colour: string }) {
  const part = usePart((s) => s.document);
  const units = usePart((s) => s.document?.units ?? "mm");
  const selected = useView((s) => s.selected);
  const moving = useView((s) => s.preview !== null || s.sketching !== null);
  const result = usePart((s) => s.result);
  if (moving || part === null) return null;
  const copies = result?.steps[selected ?? ""]?.data.copies;
  return (
    <>
      {copies !== undefined && <ClosestMark copies={copies} units={units} />}
      {clearancesFor(part, result, selected).map(({ step, data }) => (
        <ClearMark key={step.id} clear={data} colour={colour} units={units} />
      ))}
    </>
  );
}

export function StationRing({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const selected = useView((s) => s.selected);
  const preview = useView((s) => s.preview);
  const station = useView((s) => s.station);
  const sketching = useView((s) => s.sketching !== null);
  const swept = part === null ? null : sweptFor(part, selected);
  const report = preview?.step === swept ? preview?.report : result?.steps[swept ?? ""];
  const data = isSwept(report?.data) ? report.data : undefined;
  const loops = useMemo(() => {
    if (data === undefined || station === null) return [];
    const frame = frameAt(data.lanes, station);
    const plane = { origin: frame.point, x: frame.x, y: frame.y };
    const reach = Math.max(data.section.width, data.section.height) * 0.62;
    const ring = Array.from({ length: 49 }, (_, i) => {
      const a = (i / 48) * 2 * Math.PI;
      return toSpace(plane, [reach * Math.cos(a) * 1.15, reach * Math.sin(a) * 1.15]);
    });
    const outline = loopsAt(data, station).map((loop) =>
      (data.section.open ? loop : [...loop, loop[0]!]).map((p) => toSpace(plane, p)),
    );
    return [
      { points: ring, ring: true, normal: normalOf(plane) },
      ...outline.map((points) => ({ points, ring: false, normal: null })),
    ];
  }, [data, station]);
  if (sketching) return null;
  return (
    <>
      {loops.map((l, i) => (
        <Line
          key={i}
          points={l.points}
          color={l.ring ? colours.pick : colours.section}
          lineWidth={l.ring ? 1.6 : 3}
          depthTest={false}
          renderOrder={5}
        />
      ))}
    </>
  );
}
