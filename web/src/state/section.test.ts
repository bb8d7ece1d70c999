import { describe, expect, it } from "vitest";
import type { SweepData } from "../api/types";
import { areaOf, lengthOf, loopsAt } from "./section";

const square: [number, number][] = [
  [0, 0],
  [2, 0],
  [2, 2],
  [0, 2],
];
const data = (more: object, lift?: number[][][]) =>
  ({ lanes: { station: [0, 10], ...more }, section: { loops: [square], lift } }) as unknown as SweepData;

describe("the section at a station", () => {
  it("is as drawn, unless rails bend it", () => {
    expect(loopsAt(data({}), 5)).toEqual([square]);
    const bent = data({ bending: [[[0, 0]], [[2, -1]]] }, [[[0], [0], [1], [0.5]]]);
    expect(loopsAt(bent, 5)).toEqual([
      [
        [0, 0],
        [2, 0],
        [3, 1.5],
        [0.5, 1.75],
      ],
    ]);
  });

  it("has the area inside its outlines, islands left out", () => {
    expect(areaOf([square])).toBe(4);
    expect([lengthOf([square], true), lengthOf([square], false)]).toEqual([6, 8]);
    expect(
      areaOf([
        square,
        [
          [0.5, 0.5],
          [0.5, 1.5],
          [1.5, 1.5],
          [1.5, 0.5],
        ],
      ]),
    ).toBe(3);
  });
});
