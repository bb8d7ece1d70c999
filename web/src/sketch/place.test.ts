import { describe, expect, it } from "vitest";
import type { Sketch, SketchData, Vec2 } from "../api/types";
import { addCircle, addLine } from "./edit/entities";
import { complete, completeSpline, propose } from "./drawing/drawing";
import { aligned, arcFor } from "./drawing/lines";
import { bounds, candidates, levelled, middleOf, segmentDistance, snap, spanOf, tagPlace } from "./place";
import { toScreen, toSketch } from "./sketchView";

const FREE = { alt: false, shift: false, sides: 6 };
const HELD = { ...FREE, alt: true };
const EMPTY: Sketch = { points: [], entities: [], constraints: [], dimensions: [], projections: [] };

function shown(sketch: Sketch): SketchData {
  const at = new Map(sketch.points.map((p) => [p.id, [p.x, p.y] as Vec2]));
  const curves = Object.fromEntries(
    sketch.entities.map((e) => [e.id, e.kind === "line" ? [at.get(e.start)!, at.get(e.end)!] : []]),
  );
  return {
    sketch,
    freedom: 0,
    free: [],
    repeated: [],
    measured: {},
    motions: [],
    curves,
    combs: {},
    figure: "",
    decided_by: [],
    lost: [],
    faults: {},
  };
}

const line = addLine(EMPTY, { at: [10, 10] }, { at: [50, 10] }, "horizontal");
const data = shown(line.sketch);

describe("hitting and snapping", () => {
  it("finds points before curves, within reach of the pointer", () => {
    expect(candidates(data, [10.5, 10.2], 4)).toEqual(["p1", line.id]);
    expect(candidates(data, [30, 11], 4)).toEqual([line.id]);
    expect(candidates(data, [30, 20], 4)).toEqual([]);
    expect(candidates(data, [0.5, 0.5], 4)).toEqual(["O"]);
  });

  it("snaps to points, path crossings and the origin, else stays", () => {
    expect(snap(data, [49, 10.4], 4, []).existing).toBe("p2");
    expect(snap(data, [1, 1], 4, [{ path: "path", at: [0, 0] }])).toEqual({ at: [0, 0], onPath: "path" });
    expect(snap(data, [1, 1], 4, [])).toEqual({ at: [0, 0], existing: "O" });
    expect(snap(data, [30, 40], 4, [])).toEqual({ at: [30, 40] });
  });

  it("levels what is nearly level", () => {
    expect(levelled([0, 0], [50, 2])).toEqual({ at: [50, 0], level: "horizontal" });
    expect(levelled([0, 0], [-1, 50])).toEqual({ at: [0, 50], level: "vertical" });
    expect(levelled([0, 0], [50, 20]).level).toBeNull();
  });

  it("measures the distance to a segment beyond its ends, too", () => {
    expect(segmentDistance([5, 3], [0, 0], [10, 0])).toBe(3);
    expect(segmentDistance([13, 4], [0, 0], [10, 0])).toBe(5);
    expect(segmentDistance([3, 4], [0, 0], [0, 0])).toBe(5);
  });

  it("goes from the sketch to the screen and back", () => {
    const view = { cx: 12, cy: -3, scale: 3.5, width: 900, height: 600 };
    const p: Vec2 = [40.25, 17];
    const back = toSketch(view, toScreen(view, p));
    expect(back[0]).toBeCloseTo(p[0]);
    expect(back[1]).toBeCloseTo(p[1]);
    expect(toScreen(view, [12, -3])).toEqual([450, 300]);
  });
});

describe("what a dimension spans", () => {
  it("finds the middle of lines, circles, and where lines meet", () => {
    const round = addCircle(line.sketch, { at: [5, 5] }, 3);
    expect(middleOf(spanOf(round.sketch, { kind: "length", items: [line.id] })!)).toEqual([30, 10]);
    expect(middleOf(spanOf(round.sketch, { kind: "diameter", items: [round.id] })!)).toEqual([5, 5]);
    expect(middleOf(spanOf(round.sketch, { kind: "angle", items: [line.id, "Y"] })!)).toEqual([0, 10]);
    expect(spanOf(round.sketch, { kind: "distance", items: ["O", line.id] })).toMatchObject({ a: [0, 0], b: [0, 10] });
  });

  it("places tags and fits what is drawn", () => {
    expect(tagPlace(data, [line.id])).toEqual([30, 10]);
    expect(tagPlace(data, ["p2"])).toEqual([50, 10]);
    expect(bounds(data)).toEqual({ centre: [30, 10], width: 40, height: 0 });
    expect(bounds(shown(EMPTY))).toBeNull();
  });
});

describe("drawing tools", () => {
  it("shows a line and its tag before the click, unless held off", () => {
    const proposal = propose("line", EMPTY, [{ at: [0, 0] }], { at: [40, 1] }, FREE);
    expect(proposal.lines).toEqual([
      [
        [0, 0],
        [40, 0],
      ],
    ]);
    expect(proposal.tags).toEqual(["h"]);
    expect(propose("line", EMPTY, [{ at: [0, 0] }], { at: [40, 1] }, HELD).tags).toEqual([]);
  });

  it("does not level a line that ends on a point which stands elsewhere", () => {
    expect(aligned(EMPTY, { at: [0, 0] }, { at: [40, 1], existing: "p9" }, false)).toEqual({
      at: [40, 1],
      level: null,
      relation: null,
    });
    expect(aligned(EMPTY, { at: [0, 0] }, { at: [40, 0], existing: "p9" }, false).level).toBe("horizontal");
  });

  it("snaps an arc to the tangent of the chain that it goes on from", () => {
    const end = { at: [50, 10] as Vec2, existing: "p2" };
    const near: Vec2 = [50 + 20 * Math.sin(0.8), 10 + 20 - 20 * Math.cos(0.8) + 0.6];
    const made = arcFor(line.sketch, end, { at: [70, 30] }, near, false)!;
    expect(made.tangentTo).toBe(line.id);
    expect(made.shape.center[0]).toBeCloseTo(50);
    expect(arcFor(line.sketch, end, { at: [70, 30] }, near, true)!.tangentTo).toBeNull();
    expect(arcFor(line.sketch, end, { at: [70, 30] }, [75, 10], false)!.tangentTo).toBeNull();
  });

  it("completes each tool with its last click and not before", () => {
    const noted: string[] = [];
    const end = (id: string) => noted.push(id);
    expect(complete("line", EMPTY, [], { at: [0, 0] }, FREE, end)).toBeNull();
    expect(complete("line", EMPTY, [{ at: [0, 0] }], { at: [0, 0] }, FREE, end)).toBeNull();
    const made = complete("line", EMPTY, [{ at: [0, 0] }], { at: [30, 0] }, FREE, end)!;
    expect(made.change(EMPTY).entities).toHaveLength(1);
    expect(noted).toEqual(["p2"]);
    expect(complete("ring", EMPTY, [{ at: [0, 0] }], { at: [9, 0] }, FREE, end)).toBeNull();
    expect(complete("ring", EMPTY, [{ at: [0, 0] }, { at: [9, 0] }], { at: [9, 0] }, FREE, end)).toBeNull();
    expect(
      complete("ring", EMPTY, [{ at: [0, 0] }, { at: [5, 0] }], { at: [9, 0] }, FREE, end)!.change(EMPTY).entities,
    ).toHaveLength(2);
    expect(complete("rectangle", EMPTY, [{ at: [0, 0] }], { at: [9, 0] }, FREE, end)).toBeNull();
    expect(
      complete("circle", EMPTY, [{ at: [0, 0] }], { at: [3, 4] }, FREE, end)!.change(EMPTY).entities[0],
    ).toMatchObject({ radius: 5 });
    expect(completeSpline("spline", [{ at: [0, 0] }])).toBeNull();
  });

  it("goes on along an arc, square to a line, and bends while Shift is held", () => {
    const end = { at: [50, 10] as Vec2, existing: "p2" };
    expect(aligned(line.sketch, end, { at: [50.4, 40] }, false)).toEqual({
      at: [50, 40],
      level: "vertical",
      relation: null,
    });
    const slanted = addLine(EMPTY, { at: [0, 0] }, { at: [30, 30] }, null);
    const square = aligned(slanted.sketch, { at: [30, 30], existing: slanted.end }, { at: [10.3, 50] }, false);
    expect(square.relation).toEqual({ kind: "perpendicular", entity: slanted.id });
    expect(square.at[0] + square.at[1]).toBeCloseTo(60);
    const bent = complete(
      "line",
      line.sketch,
      [end],
      { at: [70, 30] },
      { ...FREE, shift: true },
      () => undefined,
    )!.change(line.sketch);
    const arc = bent.entities.at(-1)!;
    expect(arc.kind).toBe("arc");
    expect(bent.constraints.at(-1)).toMatchObject({ kind: "tangent", items: [line.id, arc.id] });
    const on = aligned(bent, { at: [70, 30], existing: bent.points.at(-2)!.id }, { at: [70.5, 60] }, false);
    expect(on).toEqual({ at: [70, 60], level: "vertical", relation: { kind: "tangent", entity: arc.id } });
  });

  it("snaps to middles, curves, crossings and axes, and says so in the sketch", () => {
    expect(snap(data, [30.4, 10.3], 2, [])).toEqual({ at: [30, 10], middleOf: line.id });
    expect(snap(data, [20, 10.5], 2, [])).toMatchObject({ onCurves: [line.id] });
    expect(snap(data, [20, 10.5], 2, [], true)).toEqual({ at: [20, 10.5] });
    expect(snap(data, [-40, 1], 2, [])).toMatchObject({ at: [-40, 0], onCurves: ["X"] });
    const on = addLine(line.sketch, { at: [20, 10], onCurves: [line.id] }, { at: [20, 40] }, null).sketch;
    expect(on.constraints.at(-1)).toMatchObject({ kind: "on_curve", items: ["p3", line.id] });
  });

  it("draws slots, polygons, ellipses and arcs whose points stand where they should", () => {
    const slot = complete(
      "slot",
      EMPTY,
      [{ at: [0, 0] }, { at: [20, 0] }],
      { at: [5, 6] },
      FREE,
      () => undefined,
    )!.change(EMPTY);
    expect(slot.entities.map((e) => e.kind)).toEqual(["line", "line", "arc", "arc"]);
    expect(slot.points.map((p) => [p.x, p.y])).toEqual([
      [0, 0],
      [-20, 0],
      [20, 0],
      [-20, 6],
      [20, 6],
      [20, -6],
      [-20, -6],
    ]);
    const hexagon = complete(
      "polygon",
      EMPTY,
      [{ at: [0, 0] }],
      { at: [10, 0] },
      { ...FREE, shift: true },
      () => undefined,
    )!.change(EMPTY);
    const corners = hexagon.points.slice(1).map((p) => Math.hypot(p.x, p.y));
    for (const r of corners) expect(r).toBeCloseTo(10 / Math.cos(Math.PI / 6));
    expect(hexagon.constraints.filter((c) => c.kind === "tangent")).toHaveLength(6);
    const ellipse = complete(
      "ellipse",
      EMPTY,
      [{ at: [0, 0] }, { at: [20, 0.1] }],
      { at: [3, 7] },
      FREE,
      () => undefined,
    )!.change(EMPTY);
    expect(ellipse.entities[0]).toMatchObject({ kind: "ellipse", minor: 7 });
    const arc = complete(
      "centre_arc",
      EMPTY,
      [{ at: [0, 0] }, { at: [10, 0] }],
      { at: [0, 3] },
      FREE,
      () => undefined,
    )!.change(EMPTY);
    expect(arc.points.at(-1)).toMatchObject({ x: 0, y: 10 });
    const bean = complete(
      "arc_slot",
      EMPTY,
      [{ at: [0, 0] }, { at: [20, 0] }, { at: [0, 20] }],
      { at: [17, 0] },
      FREE,
      () => undefined,
    )!.change(EMPTY);
    expect(bean.entities.filter((e) => e.kind === "arc")).toHaveLength(4);
  });
});
