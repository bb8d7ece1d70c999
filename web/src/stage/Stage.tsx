/** The 3D view: bodies, sketches, planes, the station's ring. */
import { useComputedColorScheme } from "@mantine/core";
import { OrbitControls } from "@react-three/drei";
import { Canvas } from "@react-three/fiber";
import { Suspense } from "react";
import { roomOf } from "../kinds/rooms";
import { stepOf, usePart } from "../state/part";
import { useView } from "../state/view";
import { Bodies } from "./Bodies";
import { CameraRig } from "./CameraRig";
import { Contours } from "./Contours";
import { BodyHandles, Dashed, Paths, Planes, Sketches } from "./Drawn";
import { FramesAlong } from "./FramesAlong";
import { HandlesFirst } from "./HandlesFirst";
import { Closest, Preview, StationRing } from "./Marks";
import { Overlay } from "./Overlay";
import { COLOURS, type Palette } from "./palette";
import { openMenu } from "./menu";
import { PickMarks } from "./PickMarks";
import styles from "./Stage.module.css";

/** The part as it is drawn. */
function Drawing({ colours }: { colours: Palette }) {
  return (
    <>
      <Contours colour={colours.contour} />
      <group name="content">
        <Bodies colours={colours} />
        <Sketches colours={colours} />
        <Paths colours={colours} />
        <Dashed colours={colours} />
        <Planes colours={colours} />
        <BodyHandles colours={colours} />
      </group>
      <Preview colours={colours} />
      <PickMarks colour={colours.pick} />
      <StationRing colours={colours} />
      <Closest colour={colours.cut} />
      <FramesAlong x={colours.section} y={colours.rail} />
    </>
  );
}

/** What a step shows in place of the part. */
function OwnScene({ colours }: { colours: Palette }) {
  const step = usePart((s) => stepOf(s.document, useView.getState().scene?.step ?? null));
  const Scene = step === undefined ? undefined : roomOf(step.kind)?.Scene;
  if (step === undefined || Scene === undefined) return null;
  return (
    <Suspense fallback={null}>
      <Scene step={step} colours={colours} />
    </Suspense>
  );
}

export default function Stage() {
  const scheme = useComputedColorScheme("light");
  const colours = COLOURS[scheme];
  const sketching = useView((s) => s.sketching !== null);
  const dragging = useView((s) => s.dragging);
  const scene = useView((s) => s.scene !== null);
  const automated = navigator.webdriver;
  return (
    <div className={styles.stage} data-testid="stage">
      <Canvas
        orthographic
        frameloop="demand"
        dpr={automated ? 1 : [1, 2]}
        gl={{ antialias: !automated, localClippingEnabled: true }}
        camera={{ position: [-400, -520, 320], up: [0, 0, 1], near: 0.1, far: 100000, zoom: 2 }}
        // asking for a shader's errors waits until it is compiled, half a second for an editor that opens
        onCreated={({ gl }) => (gl.debug.checkShaderErrors = import.meta.env.DEV)}
        onPointerMissed={(e) => {
          if (useView.getState().sketching) return;
          useView.getState().select(null);
          if (e.type === "contextmenu") openMenu(e);
        }}
      >
        <ambientLight intensity={0.95} />
        <directionalLight position={[-2, -5, 6]} intensity={1.5} />
        <directionalLight position={[5, 3, 1]} intensity={0.5} />
        {scene ? <OwnScene colours={colours} /> : <Drawing colours={colours} />}
        <CameraRig />
        <HandlesFirst />
        <OrbitControls makeDefault enableDamping={false} zoomToCursor enabled={!sketching && !dragging} />
      </Canvas>
      {!sketching && <Overlay />}
    </div>
  );
}
