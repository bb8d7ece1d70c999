import { describe, expect, it } from "vitest";
import type { ClearData, Part, Sketch, Step, StepOf } from "../api/types";
import type { NormalPlane } from "../kinds/plane/step";
import type { SketchStep } from "../kinds/sketch/step";
import { area, inUnits, length, mass, trim, volume } from "../ui/format";
import { parseExpression } from "../ui/ExpressionField";
import { faceAt } from "../stage/meshes";
import { crossings, frameAt, normalOf, PRINCIPAL, sampleAt, toSpace, valueAt } from "../geometry/space";
import { newClearance } from "../kinds/clearance/new";
import { newCurve } from "../kinds/curve/new";
import { newEdges } from "../kinds/edges/new";
import { planesByCount, planesBySpacing } from "../kinds/plane/many";
import { newPlane } from "../kinds/plane/new";
import { newRoute } from "../kinds/route/new";
import { newSketch } from "../kinds/sketch/new";
import { newSweep } from "../kinds/sweep/new";
import { roundAlong } from "../kinds/together";
import { clearWords } from "./checks";
import { roleOf, sketchUse, sweptFor, threads } from "./roles";
import { usesOf, withReferences } from "./fields";
import { copied, grouped, leave } from "./groups";
import { insertStep, likelySources, moveStep, removeStep, roomOnCord } from "./steps";
import { toUnits } from "./units";

const LINE: Sketch = {
  points: [
    { id: "p1", x: 0, y: 0 },
    { id: "p2", x: 100, y: 0 },
  ],
  entities: [{ kind: "line", id: "e1", start: "p1", end: "p2", construction: false }],
  constraints: [],
  dimensions: [{ id: "d1", kind: "length", items: ["e1"], value: 100, driving: true, at: null, side: "near" }],
  projections: [],
};

function part(): Part {
  const empty: Part = {
    format: "leadline-part",
    version: 1,
    name: "Bar",
    units: "mm",
    material: null,
    values: [],
    steps: [],
    sinker: null,
    groups: [],
    colours: {},
    files: {},
  };
  const path: SketchStep = { ...newSketch(empty, { kind: "principal", plane: "XZ" }, "Path"), sketch: LINE };
  return roundAlong(insertStep(empty, path), path.id, 20).part;
}

describe("steps", () => {
  it("makes plane, section and sweep in one go, threaded together", () => {
    const p = part();
    expect(p.steps.map((s) => s.kind)).toEqual(["sketch", "plane", "sketch", "sweep"]);
    expect(threads(p).map((t) => `${t.from}>${t.to}`)).toEqual([
      "plane1>sketch1",
      "sketch2>plane1",
      "sketch2>sketch1",
      "sweep1>sketch1",
      "sweep1>sketch2",
    ]);
    expect(p.steps.map((s) => roleOf(p, s))).toEqual(["path", "plane", "section", "body"]);
  });

  it("puts new steps where the sinker hangs and takes it along", () => {
    const p = { ...part(), sinker: "plane1" };
    const next = insertStep(p, newPlane(p, "sketch1", "end"));
    expect(next.steps.map((s) => s.id)).toEqual(["sketch1", "plane1", "plane2", "sketch2", "sweep1"]);
    expect(next.sinker).toBe("plane2");
    expect(removeStep(next, "plane2").sinker).toBe("plane1");
  });

  it("knows a sketch that holds a path with a profile beside it", () => {
    const sketch: Sketch = {
      ...LINE,
      points: [...LINE.points, { id: "p3", x: 0, y: 20 }, { id: "p4", x: 9, y: 20 }, { id: "p5", x: 9, y: 29 }],
      entities: [
        ...LINE.entities,
        ...(
          [
            ["e2", "p3", "p4"],
            ["e3", "p4", "p5"],
            ["e4", "p5", "p3"],
          ] as const
        ).map(([id, start, end]) => ({ kind: "line" as const, id, start, end, construction: false })),
      ],
    };
    const p = part();
    const flat: SketchStep = { ...(p.steps[0] as SketchStep), sketch };
    expect(sketchUse(flat)).toEqual({ path: true, profile: false, both: true });
    const alone = { ...p, steps: [flat] };
    expect(likelySources(alone, flat.id)).toEqual({ path: flat.id, profile: flat.id });
    expect(newSweep(alone, flat.id, flat.id).bring).toEqual({ anchor: "middle", at: 0, turn: 0 });
  });

  it("spreads planes over a path, or adds them at a spacing, in order and with the sinker", () => {
    const p = { ...part(), sinker: "plane1" };
    const plane = p.steps[1] as NormalPlane;
    const spread = planesByCount(p, plane, 5, false).steps.filter((s) => s.kind === "plane");
    expect(spread.map((s) => [s.id, s.place, s.value])).toEqual([
      ["plane1", "start", 0],
      ["plane2", "ratio", 0.25],
      ["plane3", "ratio", 0.5],
      ["plane4", "ratio", 0.75],
      ["plane5", "ratio", 1],
    ]);
    expect(
      planesByCount(p, plane, 4, true)
        .steps.filter((s) => s.kind === "plane")
        .map((s) => s.value),
    ).toEqual([0, 0.25, 0.5, 0.75]);
    const added = planesBySpacing(p, { ...plane, place: "length", value: 10 }, 30, 10, 100);
    expect(added.steps.map((s) => s.id)).toEqual([
      "sketch1",
      "plane1",
      "plane2",
      "plane3",
      "plane4",
      "sketch2",
      "sweep1",
    ]);
    expect(added.steps.filter((s) => s.kind === "plane").map((s) => s.value)).toEqual([0, 40, 70, 100]);
    expect(added.sinker).toBe("plane4");
  });

  it("keeps a sweep clear when its path is meant, and gives a bare path a tube", () => {
    const p = part();
    expect(newClearance(p, "sketch1")).toMatchObject({ path: { step: "sweep1" }, diameter: null });
    const bare = { ...p, steps: p.steps.slice(0, 1) };
    const check = newClearance(bare, "sketch1");
    expect(check).toMatchObject({ path: { step: "sketch1" }, diameter: 10 });
    const whole = insertStep(insertStep(p, newEdges(p, { step: "sweep1", edge: "a&b", seen: null })), {
      ...check,
      obstacles: ["sweep1"],
    });
    expect(
      threads(whole)
        .slice(-3)
        .map((t) => `${t.from}>${t.to}`),
    ).toEqual(["edges1>sweep1", "clearance1>sketch1", "clearance1>sweep1"]);
    expect(roleOf(whole, check)).toBe("free");
    expect(sweptFor(insertStep(p, newClearance(p, "sketch1")), "clearance1")).toBe("sweep1");
    const clear = { bodies: ["Frame leg"], nearest: 0, least: 3.25 } as unknown as ClearData;
    expect([
      clearWords(clear, "mm"),
      clearWords({ ...clear, least: 0 }, "mm"),
      clearWords({ ...clear, least: -2 }, "in"),
    ]).toEqual(["3.25 mm to Frame leg", "touches Frame leg", "0.07874 in into Frame leg"]);
  });

  it("names twins apart", () => {
    const p = part();
    const twin = newSweep(p, "sketch1", "sketch2");
    expect([twin.id, twin.name]).toEqual(["sweep2", "Sweep 2"]);
  });

  it("moves a step only where what it uses allows", () => {
    const p = part();
    const room = (id: string) => roomOnCord(p, id);
    expect([room("plane1").low, room("plane1").above?.id, room("plane1").below?.id]).toEqual([1, "sketch1", "sketch2"]);
    expect([room("sketch1").low, room("sketch1").high]).toEqual([0, 0]);
    const free = insertStep(p, newSketch(p, { kind: "principal", plane: "XY" }));
    expect(roomOnCord(free, "sketch3")).toMatchObject({ low: 0, high: 4, above: null, below: null });
    const order = (q: Part) => q.steps.map((s) => s.id);
    expect(order(moveStep(free, "sketch3", 3))).toEqual(["sketch1", "plane1", "sketch2", "sketch3", "sweep1"]);
    expect(order(moveStep(free, "sketch3", 0))[0]).toBe("sketch3");
  });

  it("keeps groups in one run, whatever is moved, put in or taken out", () => {
    const p = grouped(part(), ["plane1", "sketch2"]);
    const own = (q: Part) => q.groups.map((g) => [...g.steps].sort());
    const free = { ...p, steps: [...p.steps, newSketch(p, { kind: "principal", plane: "XY" })] };
    expect(own(moveStep(free, "sketch3", 2))).toEqual([["plane1", "sketch2", "sketch3"]]); // between the two
    expect(own(moveStep(moveStep(free, "sketch3", 2), "sketch3", 4))).toEqual([["plane1", "sketch2"]]);
    expect(own(insertStep({ ...p, sinker: "plane1" }, newSketch(p, { kind: "principal", plane: "XY" })))).toEqual([
      ["plane1", "sketch2", "sketch3"],
    ]);
    expect(own(removeStep(removeStep(p, "plane1"), "sketch2"))).toEqual([]);
    expect(own(leave(grouped(p, ["sketch1", "plane1", "sketch2"]), "plane1"))).toEqual([["sketch1"]]);
  });

  it("copies a group with what its steps refer to among themselves", () => {
    const p = grouped(part(), ["plane1", "sketch2", "sweep1"]);
    const next = copied(p, p.groups[0]!.steps, p.groups[0]);
    expect(next.groups.map((g) => [g.name, g.steps.length])).toEqual([
      ["Group", 3],
      ["Group copy", 3],
    ]);
    const uses = (id: string) => usesOf(next.steps.find((s) => s.id === id)!).map((u) => u.to);
    expect(uses("sweep2")).toEqual(["sketch1", "sketch3"]);
    expect(uses("sketch3")).toContain("plane2");
    expect(new Set(next.steps.map((s) => s.name)).size).toBe(next.steps.length);
  });

  it("calls steps by other ids in the names of faces and edges as well", () => {
    const edges: StepOf<"edges"> = {
      id: "edges1",
      name: "Run",
      off: false,
      kind: "edges",
      edges: [{ step: "sweep1", edge: "sweep1/cap/end&hollow1/inside/sweep1:side:e1:0", seen: null }],
      tangent: true,
    };
    const next = withReferences(edges, new Map([["sweep1", "sweep7"]])) as StepOf<"edges">;
    expect(next.edges).toEqual([
      { step: "sweep7", edge: "sweep7/cap/end&hollow1/inside/sweep7:side:e1:0", seen: null },
    ]);
  });

  it("guesses path and profile from what is drawn", () => {
    const p = part();
    expect(likelySources(p, null)).toEqual({ path: "sketch1", profile: "sketch2" });
    expect(likelySources({ ...p, steps: p.steps.slice(0, 1) }, null).profile).toBeNull();
    expect(sketchUse(p.steps[0])).toEqual({ path: true, profile: false, both: false });
    expect(sketchUse(p.steps[2])).toEqual({ path: true, profile: true, both: false });
    expect(sweptFor(p, "sketch1")).toBe("sweep1");
    expect(sweptFor({ ...p, steps: [] }, null)).toBeNull();
  });
});

describe("units", () => {
  it("keeps every size when the unit changes", () => {
    const p = part();
    const inch = toUnits(
      {
        ...p,
        values: [
          { name: "grip", value: 22, note: "", row: null },
          { name: "odd", value: "2 mm", note: "", row: null },
        ],
      },
      "in",
    );
    const path = inch.steps[0] as SketchStep;
    expect(path.sketch.dimensions[0]!.value).toBe("100 mm");
    const named = toUnits(
      {
        ...p,
        values: [
          { name: "grip", value: 22, note: "", row: null },
          { name: "odd", value: "2 mm", note: "", row: null },
        ],
        steps: p.steps.map((s) => (s.kind === "sweep" ? { ...s, wall: "grip/8" } : s)),
      },
      "in",
    );
    expect(named.steps.find((s) => s.kind === "sweep")).toMatchObject({ wall: "(grip/8) mm", twist: 0 });
    const kept = toUnits(
      {
        ...p,
        values: [{ name: "odd", value: "2 mm", note: "", row: null }],
        steps: p.steps.map((s) => (s.kind === "sweep" ? { ...s, wall: "odd + 1" } : s)),
      },
      "in",
    );
    expect(kept.steps.find((s) => s.kind === "sweep")).toMatchObject({ wall: "odd + 1" });
  });

  it("keeps the sizes of curves, whatever they are written in", () => {
    const p = part();
    const round = newCurve(p, "round"),
      formula = newCurve(p, "formula"),
      three = newCurve(p, "three");
    const marked = { ...round, shape: { ...round.shape, radius: "5' 3 1/2\"", other: "length(Path)/2" } } as Step;
    const shapes = toUnits({ ...p, steps: [round, formula, three, marked] }, "in").steps.map((s) =>
      s.kind === "curve" ? s.shape : null,
    );
    expect(shapes[0]).toMatchObject({ radius: "50 mm", other: "30 mm", start_angle: 0, sweep: 360 });
    expect(shapes[1]).toMatchObject({ x: "(40*cos(t)) mm", z: "(8*sin(3*t)) mm", first: 0, last: 360 });
    expect(shapes[2]).toMatchObject({ via: { x: "50 mm", y: "30 mm", z: "20 mm" } });
    expect(shapes[3]).toMatchObject({ radius: "5' 3 1/2\"", other: "length(Path)/2" });
    const route = newRoute(p, null);
    const bent = {
      ...route,
      points: route.points.map((q) => ({ ...q, curving: { radius: 25, towards: { x: 0, y: 0, z: 1 } } })),
    };
    expect((toUnits({ ...p, steps: [bent] }, "in").steps[0] as typeof bent).points[1]!.curving).toEqual({
      radius: "25 mm",
      towards: { x: 0, y: 0, z: 1 },
    });
  });

  it("prints numbers as they are read", () => {
    expect(length(12.5, "mm")).toBe("12.5 mm");
    expect(length(25.4, "in")).toBe("1 in");
    expect(area(645.16, "in")).toBe("1 in²");
    expect(volume(1000, "mm")).toBe("1 cm³");
    expect([mass(1e5, 7850, "mm"), mass(1e6, 7850, "mm"), mass(453592.37, 1000, "in")]).toEqual([
      "785 g",
      "7.85 kg",
      "1 lb",
    ]);
    expect(trim(1 / 3)).toBe("0.3333");
    expect(trim(1e-9)).toBe("0");
    expect(trim(Infinity)).toBe("∞");
    expect(inUnits(50.8, "in")).toBe(2);
  });

  it("reads what is typed", () => {
    expect(parseExpression(" 12.50 ", false)).toBe(12.5);
    expect(parseExpression("12 + wall", false)).toBe("12 + wall");
    expect(parseExpression("", true)).toBeNull();
    expect(parseExpression("", false)).toBeUndefined();
  });
});

describe("space", () => {
  const lanes = {
    station: [0, 10, 20],
    radius: [null, 5, 5],
    limit: [null, 2, 2],
    use: [0, 0.4, 0.4],
    twist: [0, 90, 180],
    point: [
      [0, 0, 0],
      [10, 0, 0],
      [20, 0, 0],
    ] as [number, number, number][],
    x: [
      [0, 1, 0],
      [0, 1, 0],
      [0, 1, 0],
    ] as [number, number, number][],
    y: [
      [0, 0, 1],
      [0, 0, 1],
      [0, 0, 1],
    ] as [number, number, number][],
  };

  it("finds values and frames between samples", () => {
    expect(sampleAt(lanes.station, 15)).toEqual([1, 0.5]);
    expect(valueAt(lanes, lanes.twist, 5)).toBe(45);
    expect(valueAt(lanes, lanes.radius, 2)).toBeNull();
    expect(valueAt(lanes, lanes.radius, 8)).toBe(5);
    expect(frameAt(lanes, 15).point).toEqual([15, 0, 0]);
    expect(frameAt(lanes, 99).point).toEqual([20, 0, 0]);
  });

  it("finds where polylines cross a plane", () => {
    const found = crossings(PRINCIPAL.YZ!, [
      [
        [-10, 4, 2],
        [10, 8, 6],
      ],
      [
        [5, 0, 0],
        [9, 0, 0],
      ],
    ]);
    expect(found).toEqual([[6, 4]]);
    expect(
      crossings(PRINCIPAL.XY!, [
        [
          [0, 0, 0],
          [5, 5, 0],
        ],
      ]),
    ).toEqual([]);
    expect(normalOf(PRINCIPAL.XY!)).toEqual([0, 0, 1]);
    expect(toSpace(PRINCIPAL.XZ!, [3, 4])).toEqual([3, 0, 4]);
  });

  it("names the face that a triangle belongs to", () => {
    const mesh = {
      faces: ["a", "b", "c"],
      runs: [
        [0, 0],
        [2, 4],
        [1, 9],
      ] as [number, number][],
    };
    expect([0, 3, 4, 8, 9, 50].map((i) => faceAt(mesh, i))).toEqual(["a", "a", "c", "c", "b", "b"]);
  });
});
