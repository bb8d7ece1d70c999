import { describe, expect, it } from "vitest";
import type { Vec3 } from "../../api/types";
import { dragged, endGrip, isOpen, nearestShare } from "./threads";

const SQUARE: Vec3[] = Array.from({ length: 97 }, (_, k) => {
  const side = Math.floor(k / 24) % 4;
  const t = (k % 24) / 24;
  return [
    [t, 0, 0],
    [1, t, 0],
    [1 - t, 1, 0],
    [0, 1 - t, 0],
  ][side] as Vec3;
});

describe("threads of a loft", () => {
  it("go to the nearest place of the outline", () => {
    expect(nearestShare(SQUARE, [0.5, -3, 0.2])).toBeCloseTo(0.125);
    expect(nearestShare(SQUARE, [1.2, 0.5, 0])).toBeCloseTo(0.375);
    expect(nearestShare(SQUARE, [-1, -1, 0])).toBeCloseTo(0);
  });

  it("keep their order round the outline", () => {
    const threads = [0, 0.25, 0.5, 0.75].map((v) => ({ shares: [v, v] }));
    expect(dragged(threads, 1, 1, SQUARE, [1, 0.5, 0])[1]!.shares).toEqual([0.25, 0.375]);
    expect(dragged(threads, 1, 1, SQUARE, [0, 0.5, 0])).toBe(threads);
  });

  it("stay between the ends of an open outline", () => {
    const line = Array.from({ length: 97 }, (_, k): Vec3 => [k / 96, 0, 0]);
    const threads = [0, 0.5, 1].map((v) => ({ shares: [v, v] }));
    expect([isOpen(line), isOpen(SQUARE)]).toEqual([true, false]);
    expect(nearestShare(line, [2, 1, 0])).toBe(1);
    expect(dragged(threads, 1, 0, line, [0.75, 3, 0])[1]!.shares).toEqual([0.75, 0.5]);
    expect(dragged(threads, 1, 0, line, [7, 0, 0])).toBe(threads);
  });

  it("an end's grip tells its strength", () => {
    const lanes = {
      point: [
        [0, 0, 0],
        [0, 0, 1],
        [0, 0, 30],
      ] as Vec3[],
    };
    const shown = { lanes, stations: [0, 30] } as unknown as Parameters<typeof endGrip>[1];
    const grip = endGrip({ how: "square", strength: 1.5 }, shown, true)!;
    expect(grip.at[2]).toBeCloseTo(15);
    expect(grip.strength([4, 2, 20])).toBeCloseTo(2);
    expect(grip.strength([0, 0, 90])).toBe(2.5);
    expect(endGrip({ how: "free", strength: 1 }, shown, true)).toBeNull();
  });
});
