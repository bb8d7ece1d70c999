/** The face that was picked, and the one under the pointer, tinted: what a click would take and what it took. */
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { useView } from "../state/view";
import { faceTriangles, type BodyMesh } from "./meshes";

interface Props {
  mesh: BodyMesh;
  colour: string;
  planes: THREE.Plane[];
}

export function FaceMark({ mesh, colour, planes }: Props) {
  const picked = useView((s) => (s.face !== null && mesh.faces.includes(s.face) ? s.face : null));
  const over = useView((s) => (s.over !== null && s.over !== s.face && mesh.faces.includes(s.over) ? s.over : null));
  return (
    <>
      {picked !== null && <Tint mesh={mesh} face={picked} colour={colour} planes={planes} opacity={0.55} />}
      {over !== null && <Tint mesh={mesh} face={over} colour={colour} planes={planes} opacity={0.22} />}
    </>
  );
}

function Tint({ mesh, face, colour, planes, opacity }: Props & { face: string; opacity: number }) {
  const geometry = useMemo(() => {
    const made = new THREE.BufferGeometry();
    made.setAttribute("position", mesh.triangles.getAttribute("position"));
    made.setIndex(faceTriangles(mesh, face));
    return made;
  }, [mesh, face]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <mesh geometry={geometry} raycast={() => null} renderOrder={1}>
      <meshBasicMaterial
        color={colour}
        transparent
        opacity={opacity}
        depthWrite={false}
        side={THREE.DoubleSide}
        clippingPlanes={planes}
      />
    </mesh>
  );
}
