/** Binary glTF from the server as geometry with named faces. */
import * as THREE from "three";
import { GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { acceleratedRaycast, computeBoundsTree, disposeBoundsTree } from "three-mesh-bvh";
import { growTree } from "./pickTree";

THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree;
THREE.BufferGeometry.prototype.disposeBoundsTree = disposeBoundsTree;
THREE.Mesh.prototype.raycast = acceleratedRaycast;

export interface BodyMesh {
  triangles: THREE.BufferGeometry;
  lines: THREE.BufferGeometry | null;
  faces: string[];
  runs: [face: number, firstTriangle: number][];
}

/** A mesh that only is looked at needs no tree to be picked by. */
export async function parseMesh(data: ArrayBuffer, picked = true): Promise<BodyMesh> {
  const file = await new GLTFLoader().parseAsync(data, "");
  let triangles: THREE.BufferGeometry | null = null;
  let lines: THREE.BufferGeometry | null = null;
  file.scene.traverse((object) => {
    if (object instanceof THREE.LineSegments) lines = object.geometry as THREE.BufferGeometry;
    else if (object instanceof THREE.Mesh) triangles = unpacked(object as THREE.Mesh);
  });
  if (triangles === null) throw new Error("the mesh file holds no triangles");
  const geometry = triangles as THREE.BufferGeometry;
  const { faces, runs } = geometry.userData as { faces: string[]; runs: [number, number][] };
  if (picked) growTree(geometry);
  return { triangles: geometry, lines, faces, runs };
}

/** Points travel as whole numbers of 16 bits, scaled and shifted by the mesh's node: here they become mm. */
function unpacked({ geometry, position: at, scale }: THREE.Mesh): THREE.BufferGeometry {
  const packed = geometry.getAttribute("position");
  const points = new Float32Array(3 * packed.count);
  for (let i = 0; i < packed.count; i++) {
    points[3 * i] = at.x + scale.x * packed.getX(i);
    points[3 * i + 1] = at.y + scale.y * packed.getY(i);
    points[3 * i + 2] = at.z + scale.z * packed.getZ(i);
  }
  geometry.setAttribute("position", new THREE.BufferAttribute(points, 3));
  geometry.boundingBox = geometry.boundingSphere = null; // of the packed points
  return geometry;
}

/** The mesh at the first of these addresses that has it. */
export async function loadMesh(urls: string[]): Promise<BodyMesh> {
  for (const url of urls) {
    const response = await fetch(url);
    if (response.ok) return parseMesh(await response.arrayBuffer());
  }
  throw new Error(`no mesh at ${urls.join(", ")}`);
}

/** The corners of a face's triangles, as an index. */
export function faceTriangles(mesh: BodyMesh, face: string): number[] {
  const own = mesh.faces.indexOf(face);
  const index = mesh.triangles.getIndex();
  const count = (index?.count ?? mesh.triangles.getAttribute("position").count) / 3;
  return mesh.runs.flatMap(([which, first], i) => {
    if (which !== own) return [];
    const last = mesh.runs[i + 1]?.[1] ?? count;
    return Array.from({ length: 3 * (last - first) }, (_, k) => index?.getX(3 * first + k) ?? 3 * first + k);
  });
}

/** The name of the face that a triangle belongs to. */
export function faceAt(mesh: Pick<BodyMesh, "faces" | "runs">, triangle: number): string {
  let low = 0;
  let high = mesh.runs.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (mesh.runs[middle]![1] <= triangle) low = middle;
    else high = middle - 1;
  }
  return mesh.faces[mesh.runs[low]?.[0] ?? 0] ?? "";
}
