/**
 * The tree by which the pointer finds a triangle: of a large mesh it is grown beside, so that the screen does not wait.
 */
import type * as THREE from "three";
import { MeshBVH } from "three-mesh-bvh";
import { GenerateMeshBVHWorker } from "three-mesh-bvh/worker";

const AT_ONCE = 20_000; // triangles: about 30 ms
const OPTIONS = { indirect: true };

let worker: GenerateMeshBVHWorker | null = null;
let queue: Promise<void> = Promise.resolve();

/** Until the tree is there all triangles are looked at, which is slower and finds the same. */
export function growTree(geometry: THREE.BufferGeometry): void {
  if ((geometry.index?.count ?? 0) / 3 <= AT_ONCE) {
    geometry.computeBoundsTree(OPTIONS);
    return;
  }
  queue = queue.then(() => growBeside(geometry)).catch((error: unknown) => console.warn("no tree to pick by", error));
}

async function growBeside(geometry: THREE.BufferGeometry): Promise<void> {
  worker ??= new GenerateMeshBVHWorker();
  // the worker takes the arrays away while it works: it gets copies
  const copy = geometry.clone();
  const tree = await worker.generate(copy, OPTIONS);
  geometry.boundsTree = MeshBVH.deserialize(MeshBVH.serialize(tree, { cloneBuffers: false }), geometry, {
    setIndex: false,
  });
}
