/** Bodies in the stage, with what happens when they are pointed at. */
import type { ThreeEvent } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { useMemo, type ComponentProps } from "react";
import * as THREE from "three";
import { meshUrls } from "../api/client";
import type { BodyData } from "../api/types";
import { faceTitle } from "../state/faceTitle";
import { isSurface } from "../state/bodies";
import { stepOf, usePart } from "../state/part";
import { useView } from "../state/view";
import { BODY_COLOURS, colourOf } from "./bodyColours";
import { CopiesMesh, unpackPlaces, useCopiedLines } from "./Copies";
import { FaceMark } from "./FaceMark";
import { openMenu } from "./menu";
import { faceAt, loadMesh, type BodyMesh } from "./meshes";
import { useNearness, type Nearness } from "./nearness";
import type { Palette } from "./palette";
import { useSlicePlanes } from "./slicing";

/**
 * Triangles of a body that is being changed, above which it is not drawn behind its preview: to draw it would hold up
 * the hand.
 */
const HEAVY = 50_000;
const NONE: BodyData[] = [];

export function Bodies({ colours }: { colours: Palette }) {
  const bodies = usePart((s) => s.result?.bodies) ?? NONE;
  const near = useNearness(bodies);
  const preview = useView((s) => s.preview);
  const faded = useView((s) => s.sketching !== null);
  const unseen = useView((s) => s.unseen);
  const dim = useView((s) => s.faded);
  return (
    <>
      {bodies
        .filter((b) => !unseen.includes(b.step) && !preview?.replaces.includes(b.step))
        .map((b) => (
          <Body
            key={b.key}
            body={b}
            near={near.get(b.key)}
            colours={colours}
            ghost={faded || dim.includes(b.step)}
            changing={preview?.step === b.step && preview.report.data.copies === undefined}
          />
        ))}
    </>
  );
}

interface OwnProps {
  body: BodyData;
  near: Nearness | undefined;
  colours: Palette;
  ghost: boolean;
  changing: boolean;
}

function Body({ body, near, colours, ghost, changing }: OwnProps) {
  const part = usePart((s) => s.id);
  const fineness = useView((s) => s.fineness);
  const urls = meshUrls(part, body.mesh, fineness, body.most, near);
  const mesh = useQuery({
    queryKey: ["mesh", ...urls],
    queryFn: () => loadMesh(urls),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const shown = useView((s) => (s.preview?.step === body.step ? s.preview.report.data.copies?.places : undefined));
  const packed = body.places === null ? null : (shown ?? body.places);
  const places = useMemo(() => (packed === null ? null : unpackPlaces(packed)), [packed]);
  if (!mesh.data || (changing && trianglesOf(mesh.data) > HEAVY)) return null;
  return (
    <BodyView
      mesh={mesh.data}
      places={places}
      step={body.step}
      own={body.colour}
      colours={colours}
      ghost={ghost || changing}
    />
  );
}

const trianglesOf = (mesh: BodyMesh) => (mesh.triangles.index?.count ?? 0) / 3;

interface BodyProps {
  mesh: BodyMesh;
  places: THREE.Matrix4[] | null;
  step: string;
  /** The colour that it has in the file that it comes from. */
  own: string | null;
  colours: Palette;
  ghost: boolean;
}

function BodyView({ mesh, places, step, own, colours, ghost }: BodyProps) {
  const { select, setHover } = useView.getState();
  const shading = useView((s) => s.shading);
  const selected = useView((s) => s.selected === step);
  const chosen = usePart((s) => colourOf(s.document, step));
  const tone = chosen === undefined ? (own ?? colours.body) : BODY_COLOURS[chosen];
  const sheet = usePart((s) => isSurface(stepOf(s.document, step)));
  const cut = useSlicePlanes();
  const lines = useCopiedLines(mesh.lines, places);
  const choose = (face: string) => {
    select(places === null ? face.split("/")[0] || step : step);
    useView.getState().set({ face: places === null ? face : null });
  };
  const see = ghost ? 0.18 : shading === "ghost" ? 0.4 : 1;
  return (
    <group>
      {shading !== "wire" && (
        <Solid
          geometry={mesh.triangles}
          places={places}
          onPointerMove={(e) => {
            if (ghost || overHandle(e)) return;
            e.stopPropagation();
            const face = faceAt(mesh, e.faceIndex ?? 0);
            setHover(faceTitle(face));
            useView.getState().set({ over: face });
          }}
          onPointerOut={() => setHover(null)}
          onClick={(e) => {
            if (ghost || e.delta > 3 || overHandle(e)) return;
            e.stopPropagation();
            const face = faceAt(mesh, e.faceIndex ?? 0);
            const { pick } = useView.getState();
            if (e.face) useView.getState().set({ seen: { point: e.point.toArray(), normal: e.face.normal.toArray() } });
            if (pick !== null && (pick.want === "face" || (pick.want === "side" && face.split("/")[1] === "side"))) {
              pick.take(face.split("/")[0]!, face);
              return;
            }
            choose(face);
          }}
          onContextMenu={(e) => {
            if (ghost || e.delta > 3) return;
            e.stopPropagation();
            choose(faceAt(mesh, e.faceIndex ?? 0));
            openMenu(e.nativeEvent);
          }}
        >
          <meshStandardMaterial
            color={tone}
            metalness={0.12}
            roughness={0.55}
            side={cut.length > 0 && !sheet ? THREE.FrontSide : THREE.DoubleSide}
            clippingPlanes={cut}
            transparent={see < 1}
            opacity={see}
            depthWrite={see === 1}
            polygonOffset
            polygonOffsetFactor={sheet ? 2 : 1}
            polygonOffsetUnits={sheet ? 4 : 1} // a solid that begins on a surface is seen before it
            emissive={selected ? colours.pick : "#000000"}
            emissiveIntensity={selected ? 0.12 : 0}
          />
        </Solid>
      )}
      {!ghost && places === null && <FaceMark mesh={mesh} colour={colours.pick} planes={cut} />}
      {cut.length > 0 && !sheet && shading !== "wire" && (
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
function Solid({
  geometry,
  places,
  children,
  ...events
}: Omit<ComponentProps<typeof CopiesMesh>, "places"> & { places: THREE.Matrix4[] | null }) {
  if (places !== null)
    return (
      <CopiesMesh geometry={geometry} places={places} {...events}>
        {children}
      </CopiesMesh>
    );
  return (
    <mesh geometry={geometry} {...events}>
      {children}
    </mesh>
  );
}

/** Handles are drawn over bodies, so they are picked before them. */
function overHandle(e: ThreeEvent<MouseEvent>): boolean {
  return e.intersections.some((i) => i.object.userData.handle !== undefined);
}
