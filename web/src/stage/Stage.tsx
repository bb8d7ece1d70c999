/** The 3D view: bodies, sketches, planes, the station's ring. */
import { useComputedColorScheme } from "@mantine/core";
import { Line, OrbitControls } from "@react-three/drei";
import { Canvas, type ThreeEvent } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { Suspense, useEffect, useMemo, useState, type ComponentProps } from "react";
import * as THREE from "three";
import { meshUrl } from "../api/client";
import type { BodyData, PlaneData, Vec3 } from "../api/types";
import { roomOf } from "../kinds/rooms";
import { givesOf } from "../state/fields";
import { roleOf, sweptFor } from "../state/roles";
import { loopsAt } from "../state/section";
import { usePart } from "../state/part";
import { clearancesFor } from "../state/checks";
import { isBody } from "../state/bodies";
import { isDrawn, isSolved } from "../state/drawings";
import { isSwept } from "../state/sweeps";
import { useView } from "../state/view";
import { BODY_COLOURS, colourOf } from "./bodyColours";
import { CameraRig } from "./CameraRig";
import { ClearMark } from "./ClearMark";
import { ClosestMark, CopiesMesh, unpackPlaces, useCopiedLines } from "./Copies";
import { faceTitle } from "../state/faceTitle";
import { faceAt, fromBase64, loadMesh, parseMesh, type BodyMesh } from "./meshes";
import { Overlay } from "./Overlay";
import { PickMarks } from "./PickMarks";
import { PathHandles } from "./PathHandles";
import { Contours } from "./Contours";
import { FramesAlong } from "./FramesAlong";
import { useSlicePlanes } from "./slicing";
import { frameAt, normalOf, toSpace } from "../geometry/space";
import "./Stage.css";

const COLOURS = {
  light: { body: "#c3cdc9", edge: "#1e2b38", path: "#b23a48", section: "#0e6a6b", rail: "#a97b2c", plane: "#8a8f8d", free: "#5d6670", cut: "#b23a48", pick: "#a97b2c", contour: "#cdbf9f" },
  dark: { body: "#6f8086", edge: "#0c1319", path: "#e0727e", section: "#5fb3ae", rail: "#d3a657", plane: "#77828a", free: "#9da8b0", cut: "#e0727e", pick: "#d3a657", contour: "#2c3d4a" },
};
export type Palette = (typeof COLOURS)["light"];

export default function Stage() {
  const scheme = useComputedColorScheme("light");
  const colours = COLOURS[scheme];
  const sketching = useView((s) => s.sketching !== null);
  const dragging = useView((s) => s.dragging);
  const automated = navigator.webdriver;
  return (
    <div className={`stage ${sketching ? "behind" : ""}`} data-testid="stage">
      <Canvas orthographic frameloop="demand" dpr={automated ? 1 : [1, 2]} gl={{ antialias: !automated, localClippingEnabled: true }}
        camera={{ position: [-400, -520, 320], up: [0, 0, 1], near: 0.1, far: 100000, zoom: 2 }}
        onPointerMissed={() => !useView.getState().sketching && useView.getState().select(null)}>
        <ambientLight intensity={0.95} />
        <directionalLight position={[-2, -5, 6]} intensity={1.5} />
        <directionalLight position={[5, 3, 1]} intensity={0.5} />
        <Contours colour={colours.contour} />
        <group name="content">
          <Bodies colours={colours} />
          <Sketches colours={colours} />
          <Paths colours={colours} />
          <Planes colours={colours} />
        </group>
        <Preview colours={colours} />
        <PickMarks colour={colours.pick} />
        <StationRing colours={colours} />
        <Closest colour={colours.cut} />
        <FramesAlong x={colours.section} y={colours.rail} />
        <CameraRig />
        <OrbitControls makeDefault enableDamping={false} zoomToCursor enabled={!sketching && !dragging} />
      </Canvas>
      {!sketching && <Overlay />}
    </div>
  );
}

function Bodies({ colours }: { colours: Palette }) {
  const bodies = usePart((s) => s.result?.bodies);
  const preview = useView((s) => s.preview);
  const faded = useView((s) => s.sketching !== null);
  const unseen = useView((s) => s.unseen);
  return (
    <>
      {(bodies ?? []).filter((b) => !unseen.includes(b.step)).map((b) => (
        <Body key={b.key} body={b} colours={colours} ghost={faded || (preview?.step === b.step && preview.report.data.copies === undefined)} />
      ))}
    </>
  );
}

function Body({ body, colours, ghost }: { body: BodyData; colours: Palette; ghost: boolean }) {
  const part = usePart((s) => s.id);
  const fineness = useView((s) => s.fineness);
  const url = meshUrl(part, body.mesh, fineness);
  const mesh = useQuery({ queryKey: ["mesh", url], queryFn: () => loadMesh(url), staleTime: Infinity, placeholderData: (before) => before });
  const shown = useView((s) => (s.preview?.step === body.step ? s.preview.report.data.copies?.places : undefined));
  const packed = body.places === null ? null : (shown ?? body.places);
  const places = useMemo(() => (packed === null ? null : unpackPlaces(packed)), [packed]);
  if (!mesh.data) return null;
  return <BodyView mesh={mesh.data} places={places} step={body.step} colours={colours} ghost={ghost} />;
}

interface BodyProps {
  mesh: BodyMesh;
  places: THREE.Matrix4[] | null;
  step: string;
  colours: Palette;
  ghost: boolean;
}

function BodyView({ mesh, places, step, colours, ghost }: BodyProps) {
  const { select, setHover } = useView.getState();
  const shading = useView((s) => s.shading);
  const selected = useView((s) => s.selected === step);
  const chosen = usePart((s) => colourOf(s.document, step));
  const tone = chosen === undefined ? colours.body : BODY_COLOURS[chosen];
  const cut = useSlicePlanes();
  const lines = useCopiedLines(mesh.lines, places);
  const see = ghost ? 0.18 : shading === "ghost" ? 0.4 : 1;
  return (
    <group>
      {shading !== "wire" && (
        <Solid geometry={mesh.triangles} places={places}
          onPointerMove={(e) => {
            if (ghost || overHandle(e)) return;
            e.stopPropagation();
            setHover(faceTitle(faceAt(mesh, e.faceIndex ?? 0)));
          }}
          onPointerOut={() => setHover(null)}
          onClick={(e) => {
            if (ghost || e.delta > 3 || overHandle(e)) return;
            e.stopPropagation();
            const face = faceAt(mesh, e.faceIndex ?? 0);
            const { pick } = useView.getState();
            if (pick !== null && (pick.want === "face" || (pick.want === "side" && face.split("/")[1] === "side"))) {
              pick.take(face.split("/")[0]!, face);
              return;
            }
            select(places === null ? face.split("/")[0] || step : step);
            useView.getState().set({ face: places === null ? face : null });
          }}>
          <meshStandardMaterial color={tone} metalness={0.12} roughness={0.55} side={cut.length > 0 ? THREE.FrontSide : THREE.DoubleSide} clippingPlanes={cut}
            transparent={see < 1} opacity={see} depthWrite={see === 1} polygonOffset polygonOffsetFactor={1} polygonOffsetUnits={1}
            emissive={selected ? colours.pick : "#000000"} emissiveIntensity={selected ? 0.12 : 0} />
        </Solid>
      )}
      {cut.length > 0 && shading !== "wire" && (
        <Solid geometry={mesh.triangles} places={places} raycast={() => null}>
          <meshBasicMaterial color={colours.section} side={THREE.BackSide} clippingPlanes={cut} />
        </Solid>
      )}
      {lines && shading !== "shaded" && (
        <lineSegments geometry={lines}>
          <lineBasicMaterial color={colours.edge} clippingPlanes={cut} transparent opacity={ghost ? 0.15 : 0.8} />
        </lineSegments>
      )}
    </group>
  );
}

/** One mesh, or copies of it. */
function Solid({ geometry, places, children, ...events }: Omit<ComponentProps<typeof CopiesMesh>, "places"> & { places: THREE.Matrix4[] | null }) {
  if (places !== null) return <CopiesMesh geometry={geometry} places={places} {...events}>{children}</CopiesMesh>;
  return <mesh geometry={geometry} {...events}>{children}</mesh>;
}

/** Handles are drawn over bodies, so they are picked before them. */
function overHandle(e: ThreeEvent<MouseEvent>): boolean {
  return e.intersections.some((i) => i.object.userData.handle !== undefined);
}

function Sketches({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const sketching = useView((s) => s.sketching);
  const hidden = useView((s) => s.hidden.sketches);
  const unseen = useView((s) => s.unseen);
  const selected = useView((s) => s.selected);
  if (part === null || hidden) return null;
  return (
    <>
      {part.steps.map((step) => {
        const data = result?.steps[step.id]?.data;
        if (!isDrawn(step) || unseen.includes(step.id) || step.id === sketching || !isSolved(data)) return null;
        const role = roleOf(part, step);
        const colour = role === "path" ? colours.path : role === "section" ? colours.section : role === "rail" ? colours.rail : colours.free;
        const handles = selected === step.id && sketching === null && (role === "path" || role === "rail")
          ? [<PathHandles key={`${step.id}/handles`} step={step} data={data} colour={colour} free={colours.pick} />] : [];
        return handles.concat(Object.entries(data.curves).map(([entity, curve]) => (
          <SketchLine key={`${step.id}/${entity}`} points={curve.map((p) => toSpace(data.plane, p))} colour={colour}
            title={`${step.name} · ${entity}`} step={step.id} selected={selected === step.id} faded={sketching !== null} />
        )));
      })}
    </>
  );
}

/** Paths that are not drawn in a sketch. */
function Paths({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const preview = useView((s) => s.preview);
  const result = usePart((s) => s.result);
  const sketching = useView((s) => s.sketching !== null);
  const hidden = useView((s) => s.hidden.sketches);
  const unseen = useView((s) => s.unseen);
  const selected = useView((s) => s.selected);
  if (part === null || hidden) return null;
  return (
    <>
      {part.steps.map((step) => {
        const shown = preview?.step === step.id ? preview.report : result?.steps[step.id];
        const points = unseen.includes(step.id) ? undefined : shown?.data.path?.points;
        if (points === undefined || shown === undefined) return null;
        const Handles = selected === step.id && !sketching ? roomOf(step.kind)?.Handles : undefined;
        if (Handles !== undefined) return <Suspense key={step.id} fallback={null}><Handles step={step} report={shown} colours={colours} /></Suspense>;
        return <SketchLine key={step.id} points={points} colour={colours.path} title={step.name} step={step.id} selected={selected === step.id} faded={sketching} />;
      })}
    </>
  );
}

interface LineProps {
  points: Vec3[];
  colour: string;
  title: string;
  step: string;
  selected: boolean;
  faded: boolean;
}

function SketchLine({ points, colour, title, step, selected, faded }: LineProps) {
  const { select, setHover, sketch } = useView.getState();
  const [over, setOver] = useState(false);
  if (points.length < 2) return null;
  return (
    <Line points={points} color={colour} lineWidth={selected || over ? 3.5 : 2} transparent opacity={faded ? 0.35 : 1}
      renderOrder={2}
      onPointerOver={(e) => { e.stopPropagation(); setOver(true); setHover(title); }}
      onPointerOut={() => { setOver(false); setHover(null); }}
      onClick={(e) => { if (e.delta <= 3) { e.stopPropagation(); select(step); } }}
      onDoubleClick={(e) => { e.stopPropagation(); if (usePart.getState().document?.steps.some((s) => s.id === step && isDrawn(s))) sketch(step); }} />
  );
}

function Planes({ colours }: { colours: Palette }) {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const hidden = useView((s) => s.hidden.planes);
  const unseen = useView((s) => s.unseen);
  const selected = useView((s) => s.selected);
  const sketching = useView((s) => s.sketching !== null);
  if (part === null || hidden || sketching) return null;
  return (
    <>
      {part.steps.map((step) => {
        const report = result?.steps[step.id];
        const data = report?.data;
        if (givesOf(step) !== "plane" || unseen.includes(step.id) || !data?.plane || report === undefined) return null;
        const along = data.length; // of the path that it is square to
        const size = along === undefined ? 40 : Math.min(40, Math.max(6, along * 0.06));
        const Handles = selected === step.id ? roomOf(step.kind)?.Handles : undefined;
        const colour = selected === step.id ? colours.pick : colours.plane;
        return (
          <group key={step.id}>
            <PlaneSquare id={step.id} name={step.name} plane={data.plane} size={size} colour={colour} />
            {Handles !== undefined && <Suspense fallback={null}><Handles step={step} report={report} colours={colours} /></Suspense>}
          </group>
        );
      })}
    </>
  );
}

function PlaneSquare({ id, name, plane, size, colour }: { id: string; name: string; plane: PlaneData; size: number; colour: string }) {
  const { select, setHover } = useView.getState();
  const corners = ([[-1, -1], [1, -1], [1, 1], [-1, 1], [-1, -1]] as const).map(([u, v]) => toSpace(plane, [u * size, v * size]));
  return (
    <Line points={corners} color={colour} lineWidth={1.4} dashed dashSize={size / 8} gapSize={size / 12}
      onPointerOver={(e) => { e.stopPropagation(); setHover(name); }}
      onPointerOut={() => setHover(null)}
      onClick={(e) => { if (e.delta <= 3) { e.stopPropagation(); select(id); } }} />
  );
}

function Preview({ colours }: { colours: Palette }) {
  const preview = useView((s) => s.preview);
  const step = usePart((s) => s.document?.steps.find((x) => x.id === preview?.step));
  const [mesh, setMesh] = useState<BodyMesh | null>(null);
  const data = preview?.mesh ?? null;
  useEffect(() => {
    let current = true;
    if (data !== null) void parseMesh(fromBase64(data), false).then((m) => current && setMesh(m));
    return () => { current = false; };
  }, [data]);
  if (mesh === null || data === null) return null;
  const cutting = isBody(step) && step.result === "cut";
  return (
    <mesh geometry={mesh.triangles} raycast={() => null}>
      <meshStandardMaterial color={cutting ? colours.cut : colours.section} transparent opacity={0.55} side={THREE.DoubleSide}
        metalness={0.05} roughness={0.7} />
    </mesh>
  );
}

/** The closest places of the selected step: of its copies to each other, of its path to bodies. */
function Closest({ colour }: { colour: string }) {
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
      {clearancesFor(part, result, selected).map(({ step, data }) => <ClearMark key={step.id} clear={data} colour={colour} units={units} />)}
    </>
  );
}

function StationRing({ colours }: { colours: Palette }) {
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
    const outline = loopsAt(data, station).map((loop) => (data.section.open ? loop : [...loop, loop[0]!]).map((p) => toSpace(plane, p)));
    return [{ points: ring, ring: true, normal: normalOf(plane) }, ...outline.map((points) => ({ points, ring: false, normal: null }))];
  }, [data, station]);
  if (sketching) return null;
  return (
    <>
      {loops.map((l, i) => (
        <Line key={i} points={l.points} color={l.ring ? colours.pick : colours.section} lineWidth={l.ring ? 1.6 : 3} depthTest={false} renderOrder={5} />
      ))}
    </>
  );
}
