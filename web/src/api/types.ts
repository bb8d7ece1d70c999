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
}

export interface SweepData {
  length: number;
  lanes: Lanes;
  pieces: { kind: string; from: number; to: number; origin: string }[];
  joints: { station: number; kind: string }[];
  section: { loops: Vec2[][]; width: number; height: number; area: number; wall: number | null; title: string };
  numbers: { length: number; volume: number; area: number; centre: Vec3; tightest: number | null };
  checks?: { valid: boolean; kernel_volume: number; volume_error: number };
  faces?: number;
  closed: boolean;
  home: number;
}

export interface StepReport {
  id: string;
  state: "fresh" | "failed" | "off" | "below" | "stopped";
  figure: string;
  messages: Message[];
  uses: string[];
  data: Partial<SketchData & SweepData> & { plane?: PlaneData; station?: number };
  key: string;
  seconds: number;
}

export interface BuildData {
  steps: Record<string, StepReport>;
  bodies: { key: string; name: string; step: string }[];
  messages: Message[];
  seconds: Record<string, number>;
}
