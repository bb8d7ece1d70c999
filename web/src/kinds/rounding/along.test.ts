import { describe, expect, it } from "vitest";
import type { Vec3 } from "../../api/types";
import { placeAt, shareNear, shareOf } from "./along";

const CHAIN: Vec3[] = [
  [0, 0, 0],
  [30, 0, 0],
  [30, 10, 0],
];

describe("places along a chain of edges", () => {
  it("are found again by whoever looks at them, from any side", () => {
    for (let i = 0; i <= 40; i++) {
      const share = i / 40;
      const at = placeAt(CHAIN, share);
      for (const d of [
        [0, 0, -1],
        [0.36, 0.48, -0.8],
        [-0.48, 0.36, -0.8],
      ] as Vec3[]) {
        const eye = at.map((v, k) => v - 100 * d[k]!) as Vec3;
        expect(shareNear(CHAIN, eye, d)).toBeCloseTo(share, 9);
      }
    }
  });
  it("lie by the length that is gone, not by the number of edges", () => {
    expect(placeAt(CHAIN, 0.5)).toEqual([20, 0, 0]);
    expect(placeAt(CHAIN, 0.875)).toEqual([30, 5, 0]);
    expect(placeAt(CHAIN, 2)).toEqual([30, 10, 0]);
  });
  it("are shares, or lengths in the part's unit; an expression is not dragged", () => {
    expect(shareOf("25%", 40, "mm")).toBe(0.25);
    expect(shareOf(10, 40, "mm")).toBe(0.25);
    expect(shareOf(1, 101.6, "in")).toBeCloseTo(0.25, 12);
    expect(shareOf("wall*2", 40, "mm")).toBeNull();
  });
});
