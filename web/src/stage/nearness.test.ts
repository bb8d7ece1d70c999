import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { BodyData } from "../api/types";
import { nearness, touchesView } from "./nearness";

const body = (key: string, more: Partial<BodyData> = {}): BodyData => ({
  key,
  name: key,
  step: key,
  mesh: key,
  most: null,
  triangles: 4000,
  chord: 0.02,
  places: null,
  box: [
    [0, 0, 0],
    [10, 10, 10],
  ],
  colour: null,
  ...more,
});
const all = () => true;

describe("how fine bodies are drawn", () => {
  it("asks for nothing as long as triangles cannot be told from the surface", () => {
    expect(nearness([body("a")], 50, all).size).toBe(0);
    expect(nearness([body("a", { chord: 0 })], 1e6, all).size).toBe(0);
  });

  it("asks for half a pixel, by halvings of a mm, and for no more than six times as many of its own", () => {
    for (const zoom of [70, 100, 333, 1000]) {
      const { halvings } = nearness([body("a")], zoom, all).get("a")!;
      expect(2 ** -halvings * zoom).toBeLessThanOrEqual(0.5);
      expect(2 ** -halvings * zoom).toBeGreaterThan(0.25);
    }
    expect(2 ** -nearness([body("a")], 1e7, all).get("a")!.halvings).toBeGreaterThanOrEqual(0.02 / 64 / 2);
  });

  it("shares the triangles between the bodies in view and their copies", () => {
    const copies = btoa("x".repeat(28 * 99));
    const near = nearness([body("a"), body("b", { places: copies }), body("c")], 100, (b) => b.key !== "c");
    expect([...near.keys()]).toEqual(["a", "b"]);
    expect(near.get("a")!.most).toBe(1024); // of 200,000 / 100, a power of two
  });

  it("knows that one drawn with fewer triangles is farther off", () => {
    expect(nearness([body("a", { most: 1000 })], 20, all).size).toBe(1);
  });
});

it("a box is in view when any of it may be", () => {
  const camera = new THREE.OrthographicCamera(-5, 5, 5, -5, 0.1, 100);
  camera.position.set(0, 0, 50);
  camera.updateMatrixWorld();
  expect(
    touchesView(camera, [
      [-1, -1, -1],
      [1, 1, 1],
    ]),
  ).toBe(true);
  expect(
    touchesView(camera, [
      [-100, -100, -1],
      [100, 100, 1],
    ]),
  ).toBe(true);
  expect(
    touchesView(camera, [
      [6, -1, -1],
      [8, 1, 1],
    ]),
  ).toBe(false);
});
