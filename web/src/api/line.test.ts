import { vi } from "vitest";
vi.unmock("./line");
import { describe, expect, it } from "vitest";
import { plainCurve, withMoved } from "../sketch/moved";
import { budgetAfter, changedSteps } from "./line";
import type { Entity, Moved, Part, Sketch, Step, Vec2 } from "./types";

const step = (id: string) => ({ id, kind: "plane", name: id }) as unknown as Step;
const part: Part = {
  format: "leadline-part",
  version: 1,
  name: "Bar",
  units: "mm",
  material: null,
  values: [],
  steps: [step("a"), step("b")],
  sinker: null,
  groups: [],
  colours: {},
  files: {},
};

describe("what goes over the line", () => {
  it("are the steps that are not the same any more", () => {
    const b = step("b");
    expect(changedSteps(part, part)).toEqual([]);
    expect(changedSteps(part, { ...part, steps: [part.steps[0]!, b] })).toEqual([b]);
  });
  it("is the whole document when more differs", () => {
    for (const other of [
      { ...part, units: "in" as const },
      { ...part, values: [] },
      { ...part, steps: [part.steps[0]!] },
      { ...part, steps: [part.steps[1]!, part.steps[0]!] },
      { ...part, steps: [part.steps[0]!, step("c")] },
    ])
      expect(changedSteps(part, other)).toBeNull();
  });
});

describe("how fine a preview is while a hand moves", () => {
  it("settles where an answer takes no longer than it may, and rises again on a machine that is quick", () => {
    for (const perPoint of [0.005, 0.012, 0.05]) {
      let points = 10_000;
      for (let i = 0; i < 30; i++) points = budgetAfter(points, 5 + perPoint * points);
      expect(5 + perPoint * points).toBeLessThanOrEqual(points === 1000 ? 60 : 41);
      expect(points).toBeGreaterThanOrEqual(1000);
      for (let i = 0; i < 30; i++) points = budgetAfter(points, 10);
      expect(points).toBe(10_000);
    }
  });
});

describe("a drawing after a drag", () => {
  const arc = { kind: "arc", id: "k", center: "c", start: "s", end: "e", construction: false } as Entity;
  it("has its arcs counter-clockwise from start to end, on their radius", () => {
    for (let i = 0; i < 40; i++) {
      const [from, sweep] = [i * 0.7 - 9, 0.05 + i * 0.155];
      const at = (angle: number): Vec2 => [3 + 2 * Math.cos(angle), -1 + 2 * Math.sin(angle)];
      const places: Record<string, Vec2> = { c: [3, -1], s: at(from), e: at(from + sweep) };
      const curve = plainCurve(arc, (id) => places[id]!)!;
      expect(curve[0]).toEqual(places.s);
      expect(curve.at(-1)).toEqual(places.e);
      const length = curve
        .slice(1)
        .reduce((sum, p, j) => sum + Math.hypot(p[0] - curve[j]![0], p[1] - curve[j]![1]), 0);
      expect(length).toBeCloseTo(2 * sweep, 2);
      for (const p of curve) expect(Math.hypot(p[0] - 3, p[1] + 1)).toBeCloseTo(2, 9);
    }
  });
  it("keeps what did not move", () => {
    const points = [
      { id: "p", x: 0, y: 0 },
      { id: "q", x: 5, y: 5 },
    ];
    const entities = [{ kind: "line", id: "l", start: "p", end: "q", construction: false }] as Entity[];
    const data = {
      sketch: { points, entities } as Sketch,
      curves: {
        l: [
          [0, 0],
          [5, 5],
        ] as Vec2[],
        other: [],
      },
      free: ["p"],
    };
    const moved: Moved = { points: { p: [1, 2] }, sizes: {}, curves: {}, combs: {}, measured: { d: 3 } };
    const after = withMoved(data, moved);
    expect(after.curves.other).toBe(data.curves.other);
    expect(after.free).toBe(data.free);
    expect(after.sketch.points).toEqual([
      { id: "p", x: 1, y: 2 },
      { id: "q", x: 5, y: 5 },
    ]);
  });
});
