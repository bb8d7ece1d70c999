/** Names for the generated types. The server always sends every field, so nothing is optional here. */
import type { components } from "./schema.gen";

type Schemas = components["schemas"];

type Full<T> = T extends (infer U)[]
  ? Full<U>[]
  : T extends object
    ? { [K in keyof T]-?: Full<Exclude<T[K], undefined>> }
    : T;

export type Part = Full<Schemas["Part"]>;
export type Step = Part["steps"][number];
export type SketchStep = Extract<Step, { kind: "sketch" }>;
export type PlaneStep = Extract<Step, { kind: "plane" }>;
export type DatumStep = Extract<Step, { kind: "datum" }>;
export type SweepStep = Extract<Step, { kind: "sweep" }>;
export type HelixStep = Extract<Step, { kind: "helix" }>;
export type RouteStep = Extract<Step, { kind: "route" }>;
export type RoutePoint = RouteStep["points"][number];
export type CurveStep = Extract<Step, { kind: "curve" }>;
export type HoseStep = Extract<Step, { kind: "hose" }>;
export type HosePoint = HoseStep["points"][number];
export type Port = HoseStep["start"];
export type JoinedStep = Extract<Step, { kind: "joined" }>;
export type WoundStep = Extract<Step, { kind: "wound" }>;
export type DerivedStep = Extract<Step, { kind: "derived" }>;
export type EdgesStep = Extract<Step, { kind: "edges" }>;
export type CrossingStep = Extract<Step, { kind: "crossing" }>;
export type ProjectedStep = Extract<Step, { kind: "projected" }>;
export type RevolveStep = Extract<Step, { kind: "revolve" }>;
export type RepeatStep = Extract<Step, { kind: "repeat" }>;
export type ClearanceStep = Extract<Step, { kind: "clearance" }>;
export type ExtrudeStep = Extract<Step, { kind: "extrude" }>;
export type Sketch = SketchStep["sketch"];
export type SketchPoint = Sketch["points"][number];
export type Entity = Sketch["entities"][number];
export type Constraint = Sketch["constraints"][number];
export type Dimension = Sketch["dimensions"][number];
export type Expression = number | string;
export type Units = Part["units"];

export type PartView = Omit<Full<Schemas["PartView"]>, "document"> & { document: Part };
export type PartSummary = Full<Schemas["PartSummary"]>;
export type BuildView = Full<Schemas["BuildView"]>;
export type CsvPoint = Full<Schemas["CsvPointView"]>;
export type Message = Full<Schemas["MessageView"]>;

export type Vec2 = [number, number];
export type Vec3 = [number, number, number];

export interface PlaneData {
  origin: Vec3;
  x: Vec3;
  y: Vec3;
}

export interface SketchData {
  sketch: Sketch;
  freedom: number;
  free: string[];
  repeated: string[];
  measured: Record<string, number>;
  motions: Record<string, Vec2>[];
  curves: Record<string, Vec2[]>;
  combs: Record<string, [number, number, number, number][]>;
  figure?: string;
  decided_by?: string[];
  /** Where outlines are open and where they cross. */
  faults?: { loose?: Vec2[]; crossing?: Vec2[] };
  regions?: RegionData[];
  /** Projections that lost their source. */
  lost?: Message[];
  plane?: PlaneData;
}

export interface RegionData {
  id: string;
  area: number;
  material: boolean;
  loops: Vec2[][];
}

export interface Lanes {
  station: number[];
  radius: (number | null)[];
  limit: (number | null)[];
  use: number[];
  twist: number[];
  point: Vec3[];
  x: Vec3[];
  y: Vec3[];
  /** What the motion does to the section in its plane, row by row: 2 x 2. */
  map: [number, number, number, number][];
  /** Angle between the section's plane and the path, degrees. */
  tilt: number[];
  /** Room to other stretches of the same sweep, mm. */
  clearance: (number | null)[];
  /** Where rails bend the section: for each of the outline's “lift” numbers, how far that moves its points along x and y. */
  bending?: Vec2[][];
}

export interface PathData {
  points: Vec3[];
  length: number;
  closed: boolean;
  tightest: number | null;
  pieces: { kind: string; length: number; origin: string }[];
  joints: { station: number; kind: string }[];
}

export interface HoseData {
  /** “collar” is how far the fitting at a port reaches into the hose, if one is there. */
  ports: { point: Vec3; outward: Vec3; straight: number; collar: number | null }[];
  points: Vec3[];
  slack: number;
  tightest_at: number;
  /** Degrees by which the fittings are turned against each other on an untwisted hose. */
  turn: number;
}

export interface RouteData {
  points: Vec3[];
  runs: { length: number; straight: number }[];
  bends: { point: number; angle: number; radius: number; station: number }[];
  straight: number;
  bent: number;
}

export interface SweepData {
  length: number;
  lanes: Lanes;
  pieces: { kind: string; from: number; to: number; origin: string }[];
  joints: { station: number; kind: string }[];
  section: { loops: Vec2[][]; width: number; height: number; area: number; wall: number | null; title: string; open: boolean; lift?: number[][][] };
  numbers: { length: number; volume: number; area: number; centre: Vec3; tightest: number | null; ends: [number, number] };
  checks?: { valid: boolean; kernel_volume: number; volume_error: number };
  faces?: number;
  /** Of the bodies that an added, cut or common result has changed. */
  result?: { volume: number; area: number; centre: Vec3; bodies: number; solids: number; faces: number; mass: number | null };
  closed: boolean;
  home: number;
}

export interface CopiesData {
  stations: number[];
  /** The run that each copy is of. */
  runs: number[];
  spacing: number;
  length: number;
  /** A quaternion and a shift for each: base64 of 32-bit floats. */
  places: string;
  volume?: number;
  /** Of each copy to the others, mm; none where no other is near. */
  clearance?: (number | null)[];
  least?: number | null;
  closest?: Vec3 | null;
}

/** How far a tube stays from bodies: at each station the distance to the nearest, and which of the bodies that is. */
export interface ClearData {
  length: number;
  stations: number[];
  distance: number[];
  other: number[];
  bodies: string[];
  asked: number;
  least: number;
  nearest: number;
  station: number;
  /** The closest place: on the tube, and on the body. */
  at: Vec3;
  to: Vec3;
}

export interface BodyData {
  key: string;
  name: string;
  step: string;
  mesh: string;
  places: string | null;
}

export interface StepReport {
  id: string;
  state: "fresh" | "failed" | "off" | "below" | "stopped";
  figure: string;
  messages: Message[];
  uses: string[];
  data: Partial<SketchData & SweepData> & { path?: PathData; route?: RouteData; hose?: HoseData; copies?: CopiesData; clear?: ClearData; branches?: { length: number; closed: boolean; off: number }[]; turns?: number; coil?: { height: number; lead: number; starts: number }; plane?: PlaneData; station?: number };
  key: string;
  seconds: number;
}

export interface BuildData {
  steps: Record<string, StepReport>;
  bodies: BodyData[];
  messages: Message[];
  seconds: Record<string, number>;
  /** Of the part's material, kg/m³. */
  density: number | null;
}

export type Use = "path" | "plane" | "section" | "rail" | "body" | "any";
export type Gives = "drawing" | "plane" | "path" | "body" | "copies" | "nothing";
export type Measure = "length" | "angle" | "turns" | "number";

/** See `described` in recipe/fields.py. */
export interface Field {
  label?: string;
  measure?: Measure;
  choice?: string[];
  type?: "switch" | "count" | "text";
  each?: Field;
  forms?: Form[];
  any?: Field[];
  use?: Use;
  when?: [string, string[]];
  empty?: boolean;
  default?: unknown;
}

export interface Form {
  title: string;
  tags: Record<string, string>;
  fields: Record<string, Field>;
}

export interface KindFields {
  gives: Gives;
  title: string;
  fields: Record<string, Field>;
}
