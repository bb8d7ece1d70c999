import { describe, expect, it } from "vitest";
import type { Sketch, Vec2 } from "../api/types";
import { applies, removeItems, toggleConstruction } from "./edit/constraints";
import { dimensionFor, measured } from "./edit/dimensions";
import {
  addArc,
  addCircle,
  addConstraint,
  addLine,
  addRectangle,
  addRing,
  addSpline,
  arcTangent,
  arcThrough,
  freshSketchId,
  headingAt,
  pointAt,
} from "./edit/entities";

const EMPTY: Sketch = { points: [], entities: [], constraints: [], dimensions: [], projections: [] };

function corner(): { sketch: Sketch; first: string; second: string } {
  const a = addLine(EMPTY, { at: [0, 0], existing: "O" }, { at: [40, 0] }, "horizontal");
  const b = addLine(a.sketch, { at: [40, 0], existing: a.end }, { at: [40, 30] }, "vertical");
  return { sketch: b.sketch, first: a.id, second: b.id };
}

describe("drawing", () => {
  it("shares the point where a chain goes on and ties the first to the origin", () => {
    const { sketch } = corner();
    expect(sketch.points).toHaveLength(3);
    expect(sketch.constraints.map((c) => c.kind)).toEqual(["coincident", "horizontal", "vertical"]);
    const [l1, l2] = sketch.entities as { start: string; end: string }[];
    expect(l1!.end).toBe(l2!.start);
  });

  it("gives ids that nothing has", () => {
    const { sketch } = corner();
    expect(sketch.points.map((p) => p.id)).not.toContain(freshSketchId(sketch, "p"));
  });

  it("draws an arc through three points, whichever way they run", () => {
    for (const [a, b, m, ccw] of [
      [[10, 0], [0, 10], [Math.SQRT1_2 * 10, Math.SQRT1_2 * 10], true],
      [[0, 10], [10, 0], [Math.SQRT1_2 * 10, Math.SQRT1_2 * 10], false],
    ] as [Vec2, Vec2, Vec2, boolean][]) {
      const shape = arcThrough(a, b, m)!;
      expect(shape.center[0]).toBeCloseTo(0, 9);
      expect(shape.center[1]).toBeCloseTo(0, 9);
      expect(shape.radius).toBeCloseTo(10, 9);
      expect(shape.counterClockwise).toBe(ccw);
    }
    expect(arcThrough([0, 0], [10, 0], [5, 0])).toBeNull();
  });

  it("draws an arc that leaves tangent", () => {
    const shape = arcTangent([0, 0], [10, 10], [1, 0])!;
    expect(shape.center).toEqual([0, 10]);
    expect(shape.counterClockwise).toBe(true);
    expect(arcTangent([0, 0], [10, -10], [1, 0])!.counterClockwise).toBe(false);
    expect(arcTangent([0, 0], [10, 0], [1, 0])).toBeNull();
  });

  it("keeps arcs counter-clockwise in the file and ties the tangent", () => {
    const { sketch, second } = corner();
    const end = (sketch.entities.at(-1) as { end: string }).end;
    const shape = arcTangent([40, 30], [60, 50], [0, 1])!;
    const made = addArc(sketch, { at: [40, 30], existing: end }, { at: [60, 50] }, shape, second);
    const arc = made.sketch.entities.at(-1) as { start: string; end: string };
    expect(arc.end).toBe(end);
    expect(made.sketch.constraints.at(-1)).toMatchObject({ kind: "tangent", items: [second, made.id] });
  });

  it("knows in which direction a chain arrives", () => {
    const { sketch, second } = corner();
    const end = (sketch.entities.at(-1) as { end: string }).end;
    expect(headingAt(sketch, end)).toEqual({ heading: [0, 30], entity: second });
    expect(headingAt(sketch, "nothing")).toBeNull();
  });

  it("ties a circle's centre to the path when it is put where the path crosses", () => {
    const { sketch } = addCircle(EMPTY, { at: [0, 0], onPath: "path" }, 5);
    expect(sketch.constraints).toEqual([{ id: "k1", kind: "on_path", items: ["p1"], path: "path" }]);
  });

  it("makes a ring of two circles on one centre", () => {
    const sketch = addRing(EMPTY, { at: [1, 2] }, 8, 5);
    expect(sketch.points).toHaveLength(1);
    expect(sketch.entities.map((e) => (e.kind === "circle" ? e.radius : 0))).toEqual([8, 5]);
  });

  it("makes a rectangle whose centre stays its middle", () => {
    const sketch = addRectangle(EMPTY, { at: [10, 10] }, [30, 16]);
    expect(sketch.points).toHaveLength(5);
    expect(sketch.entities).toHaveLength(4);
    expect(sketch.constraints.map((c) => c.kind)).toEqual([
      "horizontal",
      "vertical",
      "horizontal",
      "vertical",
      "midpoint",
    ]);
    const xs = sketch.points.map((p) => p.x);
    expect([Math.min(...xs), Math.max(...xs)]).toEqual([-10, 30]);
  });

  it("makes a spline through its spots, sharing the points that are there", () => {
    const { sketch } = corner();
    const end = (sketch.entities.at(-1) as { end: string }).end;
    const next = addSpline(sketch, [{ at: [40, 30], existing: end }, { at: [60, 40] }, { at: [80, 30] }]);
    expect(next.points).toHaveLength(5);
    expect(next.entities.at(-1)).toMatchObject({ kind: "spline", knots: null });
  });
});

describe("deleting", () => {
  it("takes what stood on it, and points that nothing uses", () => {
    const { sketch, second } = corner();
    const left = removeItems(sketch, new Set([second]));
    expect(left.entities).toHaveLength(1);
    expect(left.points).toHaveLength(2);
    expect(left.constraints.map((c) => c.kind)).toEqual(["coincident", "horizontal"]);
  });

  it("takes the entities of a deleted point", () => {
    const { sketch } = corner();
    const shared = (sketch.entities[0] as { end: string }).end;
    const left = removeItems(sketch, new Set([shared]));
    expect(left.entities).toEqual([]);
    expect(left.points).toEqual([]);
  });

  it("takes only the constraint when that is what is meant", () => {
    const { sketch } = corner();
    const left = removeItems(sketch, new Set(["k2"]));
    expect(left.constraints).toHaveLength(2);
    expect(left.entities).toHaveLength(2);
  });

  it("turns construction on and off", () => {
    const { sketch, first } = corner();
    const on = toggleConstruction(sketch, new Set([first]));
    expect(on.entities.map((e) => e.construction)).toEqual([true, false]);
    expect(toggleConstruction(on, new Set([first]))).toEqual(sketch);
  });
});

describe("what can go on a selection", () => {
  const { sketch, first, second } = corner();
  const withCircle = addCircle(sketch, { at: [10, 10] }, 4);
  const all = withCircle.sketch;
  const points = all.points.map((p) => p.id);

  it.each([
    ["horizontal", [first], true],
    ["horizontal", [points[0]!, points[1]!], true],
    ["horizontal", [withCircle.id], false],
    ["perpendicular", [first, second], true],
    ["perpendicular", [first], false],
    ["perpendicular", ["X", second], true],
    ["tangent", [first, second], false],
    ["tangent", [first, withCircle.id], true],
    ["equal", [first, second], true],
    ["equal", [first, withCircle.id], false],
    ["coincident", [points[0]!, "O"], true],
    ["coincident", [points[0]!, first], false],
    ["midpoint", [points[2]!, first], true],
    ["on_curve", [points[2]!, withCircle.id], true],
    ["on_path", [points[0]!], true],
    ["on_path", [first], false],
    ["fix", [first], true],
    ["fix", [], false],
  ] as const)("%s on %j: %s", (kind, items, expected) => {
    expect(applies(all, kind, [...items])).toBe(expected);
  });

  it("does not go on constraints", () => {
    const tied = addConstraint(all, "equal", [first, second]);
    expect(applies(tied, "horizontal", [tied.constraints.at(-1)!.id])).toBe(false);
  });
});

describe("dimensions", () => {
  const { sketch, first, second } = corner();
  const slanted = addLine(sketch, { at: [0, 0] }, { at: [30, 40] }, null);
  const s = slanted.sketch;

  it("measures a level line by its length, a slanted one by where the figure is put", () => {
    expect(dimensionFor(s, [first], [20, -9])).toEqual({ kind: "length", items: [first] });
    expect(dimensionFor(s, [slanted.id], [18, 24])?.kind).toBe("length");
    expect(dimensionFor(s, [slanted.id], [15, 70])?.kind).toBe("horizontal_distance");
    expect(dimensionFor(s, [slanted.id], [-30, 20])?.kind).toBe("vertical_distance");
  });

  it("measures between two things", () => {
    expect(dimensionFor(s, [first, second], [5, 5])).toEqual({ kind: "angle", items: [first, second] });
    expect(dimensionFor(s, ["p1", second], [5, 5])?.kind).toBe("distance");
    expect(dimensionFor(s, [first, "X"], [5, 5])?.kind).toBe("distance");
    const round = addCircle(s, { at: [9, 9] }, 4);
    expect(dimensionFor(round.sketch, [round.id], [0, 0])?.kind).toBe("diameter");
    expect(dimensionFor(round.sketch, [round.id, first], [0, 0])).toEqual({
      kind: "distance",
      items: [first, round.id],
    });
  });

  it("reads the present size", () => {
    expect(measured(s, { kind: "length", items: [slanted.id] })).toBeCloseTo(50);
    expect(measured(s, { kind: "angle", items: [first, second] })).toBeCloseTo(90);
    const end = (s.entities.at(-1) as { end: string }).end;
    expect(measured(s, { kind: "distance", items: [end, first] })).toBeCloseTo(40);
    expect(measured(s, { kind: "horizontal_distance", items: ["O", end] })).toBeCloseTo(30);
    expect(pointAt(s, "O")).toEqual([0, 0]);
    expect(() => pointAt(s, "zz")).toThrow("no point");
  });
});
