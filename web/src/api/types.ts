/** Names for the generated types. Which fields a kind of step has is said in its room: `StepOf<"...">` there. */
import type { components } from "./schema.gen";

type Schemas = components["schemas"];

/** What the server tells of a step's last build, by kind. */
type AnyReport = Schemas["BuildData"]["steps"][string];

/**
 * As it comes over the wire: the server sends every field, so nothing is optional; of a step's result it sends what
 * there is.
 */
export type Full<T> = T extends AnyReport
  ? StepReport
  : T extends [unknown, ...unknown[]]
    ? T
    : T extends (infer U)[]
      ? Full<U>[]
      : T extends object
        ? { [K in keyof T]-?: Full<Exclude<T[K], undefined>> }
        : T;

type KeysOf<U> = U extends unknown ? keyof U : never;
type ValuesOf<U, K> = U extends unknown ? (K extends keyof U ? Exclude<U[K], undefined> : never) : never;

/** Of several kinds' results all that any of them may have. */
type Merged<U> = { [K in KeysOf<U>]?: ValuesOf<U, K> };

export type Part = Full<Schemas["Part"]>;
export type Step = Part["steps"][number];
export type StepOf<K extends Step["kind"]> = Extract<Step, { kind: K }>;
type Sent = NonNullable<Schemas["Part"]["steps"]>[number];
type Optional<T> = { [F in keyof T]-?: undefined extends T[F] ? F : never }[keyof T];
/** The fields of a kind of step that it need not be told: these have a default. */
export type Defaulted<K extends Step["kind"]> = Optional<Extract<Sent, { kind: K }>> & keyof StepOf<K>;
/** A step that is drawn in the sketcher. */
export type DrawnStep = Extract<Step, { sketch: unknown }>;
/** A step that carries a profile along something, to a body of its own. */
export type BodyStep = Extract<Step, { profile: unknown; result: unknown }>;

export type Sketch = Full<Schemas["Sketch"]>;
export type SketchPoint = Sketch["points"][number];
export type Entity = Sketch["entities"][number];
export type Constraint = Sketch["constraints"][number];
export type Dimension = Sketch["dimensions"][number];
export type Expression = number | string;
export type Units = Part["units"];
export type PlaneRef = Full<Schemas["PrincipalPlane"] | Schemas["StepPlane"]>;
export type Up = Full<Schemas["UpAxis"] | Schemas["UpPlane"] | Schemas["UpLine"]>;
export type PlaceAt = Full<Schemas["PlacePoint"] | Schemas["DrawnPoint"] | Schemas["PathPlace"]>;
export type PathPlace = Full<Schemas["PathPlace"]>;
export type Direction = Full<Schemas["Direction"]>;
export type Profile = Full<Schemas["ProfileRef"] | Schemas["FaceRef"] | Schemas["QuickProfile"]>;
export type SketchProfile = Full<Schemas["ProfileRef"]>;
export type BodyEdge = Full<Schemas["BodyEdgeView"]>;
export type FaceProfile = Full<Schemas["FaceRef"]>;
export type QuickProfile = Full<Schemas["QuickProfile"]>;
export type ResultMode = BodyStep["result"];

export type Shelf = Full<Schemas["ShelfView"]>;
export type StockRow = Shelf["rows"][number];
export type NamedValue = Part["values"][number];
export type PartView = Full<Schemas["PartView"]>;
export type PartSummary = Full<Schemas["PartSummary"]>;
export type CsvPoint = Full<Schemas["CsvPointView"]>;
/** What is read of a message; its template and quantities are for programs. */
export type Message = Omit<Full<Schemas["MessageView"]>, "template" | "quantities" | "remedies"> & {
  remedies?: Remedy[];
};
/** A way out of a message: fields of its step that get other values. */
export type Remedy = Full<Schemas["RemedyShown"]>;

export type Vec2 = [number, number];
export type Vec3 = [number, number, number];

export type PlaneData = Schemas["PlaneShown"];
export type Lanes = Schemas["Lanes"];
export type PathData = Schemas["PathShown"];
export type CopiesData = Schemas["CopiesShown"];
export type ClearData = Schemas["ClearShown"];
export type RegionData = Schemas["RegionShown"];
export type BodyData = Full<Schemas["BodyView"]>;

/** What is known of a step; of one that failed, or was never built, there may be nothing. */
export type Shown = Omit<Merged<AnyReport["data"]>, "sketch"> & { sketch?: Sketch };

export type StepReport = Omit<AnyReport, "data" | "messages"> & { messages: Message[]; data: Shown };

/** All of what is carried along a path. */
export type SweepData = Shown & Required<Omit<Schemas["SweptResult"], "faces" | "checks" | "result">>;

/** A drawing that is solved. */
export type SketchData = Omit<Full<Schemas["SketchView"]>, "faults"> & {
  faults: { loose?: Vec2[]; crossing?: Vec2[] };
};

/** What a drag moved in a drawing. */
export type Moved = Full<Schemas["Moved"]>;

/** A drawing where it stands. */
export type DrawnData = Shown & Required<Pick<Shown, "sketch" | "plane" | "curves" | "free">>;

export type BuildData = Full<Schemas["BuildData"]>;
export type BuildView = Full<Schemas["BuildView"]>;

export type Use = "path" | "plane" | "section" | "rail" | "body" | "any";
export type Gives = "drawing" | "plane" | "path" | "body" | "copies" | "change" | "nothing";
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
