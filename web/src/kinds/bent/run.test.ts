import { describe, expect, it } from "vitest";
import { beginnings, metBy, momentAt, poseAt, type Run } from "./run";

/** A feed of 2 s and a bend of 1 s, then the feed of a second bend; something is met in the middle of the bend. */
const RUN: Run = {
  machine: "M",
  outside: 10,
  floor: -100,
  drop: 50,
  opening: 20,
  die_height: 30,
  boxes: [],
  phases: ["feed", "turn", "bend", "release", "back"],
  fronts: [
    [
      [0, 0, 0],
      [50, 0, 0],
    ],
    [
      [0, 0, 0],
      [80, 0, 0],
    ],
  ],
  rows: [0, 0, 0, 0, 0, 1, 1],
  phase: [0, 0, 2, 2, 2, 0, 0],
  shift: [-50, 0, 0, 0, 0, -80, 0],
  turn: [0, 0, 0, 0, 0, 0, 0],
  bend: [0, 0, 0, 0.5, 1, 0, 0],
  radius: [40, 40, 40, 40, 40, 40, 40],
  tool: [40, 40, 40, 40, 40, 40, 40],
  carriage: [-200, -150, -150, -130, -110, -110, -30],
  arm: [0, 0, 0, 0.5, 1, 0, 0],
  seconds: [0, 2, 2, 2.5, 3, 3, 4],
  hits: [{ text: "", part: "bed", moment: 3, station: 0, row: 0, point: [0, 0, 0] }],
};

describe("a program that was played", () => {
  it("stands between two moments of a phase part of the way, and at a moment just there", () => {
    expect(poseAt(RUN, 1)).toMatchObject({ row: 0, phase: "feed", shift: -25, carriage: -175 });
    expect(poseAt(RUN, 2.25)).toMatchObject({ phase: "bend", bend: 0.25, arm: 0.25, carriage: -140 });
    expect(poseAt(RUN, 2.5).bend).toBe(0.5);
  });

  it("does not go over from one phase or bend into the next", () => {
    expect(poseAt(RUN, 3)).toMatchObject({ row: 1, phase: "feed", shift: -80 });
    expect(poseAt(RUN, 2.9999)).toMatchObject({ row: 0, phase: "bend" });
    expect(poseAt(RUN, 99)).toMatchObject({ row: 1, shift: 0, carriage: -30 });
    expect(poseAt(RUN, -1)).toMatchObject({ row: 0, shift: -50 });
  });

  it("knows its moments, its phases' beginnings, and what is met from when on in its bend", () => {
    expect([0, 1.99, 2, 2.7, 3].map((t) => momentAt(RUN, t))).toEqual([0, 0, 2, 3, 5]);
    expect(beginnings(RUN)).toEqual([0, 2, 3, 4]);
    expect([2.4, 2.5, 2.9, 3.5].map((t) => metBy(RUN, t).length)).toEqual([0, 1, 1, 0]);
  });
});
