import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { handlesFirst } from "./HandlesFirst";

const met = (distance: number, handle?: string): THREE.Intersection => {
  const object = new THREE.Object3D();
  if (handle !== undefined) object.userData.handle = handle;
  return { distance, point: new THREE.Vector3(), object };
};

describe("what the pointer meets", () => {
  it("is a handle before any body, however deep it lies, and else the nearest", () => {
    const [near, far, deep, deeper] = [met(1), met(5), met(3, "p2"), met(7, "p1")];
    expect(handlesFirst([near, deep, far, deeper])).toEqual([deep, deeper, near, far]);
    expect(handlesFirst([near, far])).toEqual([near, far]);
  });
});
