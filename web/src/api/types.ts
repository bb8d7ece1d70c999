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
  : T extends KindFields
    ? T
    : T extends [unknown, ...unknown[]]
      ? T
      : T extends (infer U)[]
        ? Full<U>[]
        : T extends object
          ? { [K in keyof T]-?: Full<Exclude<T[K], undefined>> }
          : T;

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

type Kind = AnyReport["kind"];
type SentOf<K extends Kind> = Extract<AnyReport, { kind: K }>["data"];
/** What a step of some kind tells of itself, by its name. */
type Fact = { [K in Kind]: keyof SentOf<K> }[Kind];
/** A drawing comes with all of its fields. */
type Sketched<D> = { [F in keyof D]?: F extends "sketch" ? Sketch : D[F] };

/**
 * What is known of a step of a kind; of one that failed, or was never built, there may be nothing. What only others
 * tell is known not to be there, so that any fact may be asked for of any step.
 */
export type ResultOf<K extends Kind> = Sketched<SentOf<K>> & { [F in Exclude<Fact, keyof SentOf<K>>]?: undefined };

/** What the last build says of a step of a kind. */
export type ReportOf<K extends Kind> = Omit<Extract<AnyReport, { kind: K }>, "data" | "messages"> & {
  messages: Message[];
  data: ResultOf<K>;
};

/** Of a step of any kind: told apart by `kind`, and by what there is in `data`. */
export type StepReport = { [K in Kind]: ReportOf<K> }[Kind];
export type Shown = StepReport["data"];

/** All of what is carried along a path. */
export type SweepData = Shown & Required<Omit<Schemas["SweptResult"], "faces" | "checks" | "result">>;

/** A drawing that is solved. */
export type SketchData = Omit<Full<Schemas["SketchView"]>, "faults"> & {
  faults: { loose?: Vec2[]; crossing?: Vec2[] };
};

/** What a drag moved in a drawing. */
export type Moved = Full<Schemas["Moved"]>;

/** A drawing where it stands. */
export type DrawnData = Shown & Required<Pick<ResultOf<"sketch">, "sketch" | "plane" | "curves" | "free">>;

export type BuildData = Full<Schemas["BuildData"]>;
export type BuildView = Full<Schemas["BuildView"]>;

export type Use = NonNullable<Field["use"]>;
export type Gives = KindFields["gives"];
export type Measure = NonNullable<Field["measure"]>;

/** See `described` in recipe/fields.py. What does not hold of a field is left out. */
export type Field = Schemas["FieldView"];
export type Form = Schemas["FormView"];
export type KindFields = Schemas["KindView"];
