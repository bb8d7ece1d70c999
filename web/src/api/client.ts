/** The one place that talks to the server. A refusal is thrown as `Refusal` with its message. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";
import type {
  BuildView,
  Full,
  KindFields,
  Message,
  Part,
  PartSummary,
  PartView,
  Shelf,
  StockRow,
  Sketch,
  SketchData,
  Units,
} from "./types";
import { Refusal, UNREACHED } from "./refusal";
import { WINDOW } from "./window";

type Schemas = components["schemas"];

const http = createClient<paths>({
  baseUrl: window.location.origin,
  headers: { "Lead-Window": WINDOW },
  fetch: (request) => globalThis.fetch(request),
});

/**
 * The answer, which is as the OpenAPI document says; the types of the fetch library lose its tuples, so that the caller
 * names its type.
 */
async function taken<T>(call: Promise<{ data?: unknown; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    throw new Refusal(UNREACHED, 0);
  }
  const { data: sent, error, response } = answer;
  if (response.ok) return sent as T;
  const detail = (error as { error?: Message } | undefined)?.error;
  throw new Refusal(detail ?? { ...UNREACHED, text: `The server refused (${response.status}).` }, response.status);
}

/** A file sent as it is. */
async function sent(url: string, body: BodyInit) {
  const response = await fetch(url, { method: "POST", body });
  const answer: unknown = await response.json();
  return response.ok ? { data: answer, response } : { error: answer, response };
}

const at = (part_id: string) => ({ params: { path: { part_id } } });
// what the server takes may leave fields out, a document here never does
const wire = (document: Part) => document as never;

export type BuildAnswer = BuildView;
export type EdgeLines = Full<Schemas["EdgeView"]>;
export type BodyEdge = Full<Schemas["BodyEdgeView"]>;

interface SheetField {
  title: string;
  measure: string | null;
}

/** Lengths in mm, angles in degrees. */
export interface SheetData {
  of: Schemas["SheetOf"];
  rows: Record<string, number | string | null>[];
  columns: Record<string, SheetField>;
  fields: Record<string, SheetField>;
  tolerances: Schemas["SheetTolerances"];
}

/** A class of general tolerances by ISO 2768-1, or none. */
export type Tolerance = "" | "f" | "m" | "c" | "v";

export type Fineness = "coarse" | "normal" | "fine";
/**
 * Of files of triangles: how far these may be from the surface, mm, and the angle between two, degrees; as bodies are
 * shown without either.
 */
export type MeshFineness = { chord?: number; angle?: number };

const onShelf = (id: string) => ({ params: { path: { shelf_id: id } } });

export const api = {
  parts: () => taken<PartSummary[]>(http.GET("/api/parts")),
  part: (id: string) => taken<PartView>(http.GET("/api/parts/{part_id}", at(id))),
  create: (name: string) => taken<PartView>(http.POST("/api/parts", { body: { name, units: "mm" } })),
  remove: (id: string) => taken<void>(http.DELETE("/api/parts/{part_id}", at(id))),
  /**
   * A change names the revision `base` that it was made on, and a token by which it is done once however often it is
   * sent.
   */
  save: (id: string, change: { base: number; token: string; label: string; document: Part }) =>
    taken<PartView>(
      http.PUT("/api/parts/{part_id}/document", { ...at(id), body: { ...change, document: wire(change.document) } }),
    ),
  undo: (id: string, base: number, token: string) =>
    taken<PartView>(http.POST("/api/parts/{part_id}/undo", { ...at(id), body: { base, token } })),
  redo: (id: string, base: number, token: string) =>
    taken<PartView>(http.POST("/api/parts/{part_id}/redo", { ...at(id), body: { base, token } })),
  build: (id: string) => taken<BuildView>(http.GET("/api/parts/{part_id}/build", at(id))),
  stopBuild: (id: string) => taken<void>(http.POST("/api/parts/{part_id}/build/stop", at(id))),
  solve: (document: Part, step: string, added?: string) =>
    taken<SketchData>(http.POST("/api/sketch/solve", { body: { document: wire(document), step, added } })),
  edit: (document: Part, step: string, operation: Record<string, unknown>) =>
    taken<SketchData>(http.POST("/api/sketch/edit", { body: { document: wire(document), step, operation } })),
  edges: async (document: Part, step: string) =>
    (
      await taken<Full<Schemas["EdgesView"]>>(
        http.POST("/api/sketch/edges", { body: { document: wire(document), step } }),
      )
    ).edges,
  bodyEdges: async (document: Part, before: string | null) =>
    (
      await taken<Full<Schemas["BodyEdgesView"]>>(
        http.POST("/api/edges", { body: { document: wire(document), before } }),
      )
    ).edges,
  /** The edges of what is built of the part as it is saved, those that booleans have made too. */
  builtEdges: async (id: string, before: string | null) =>
    (
      await taken<Full<Schemas["BodyEdgesView"]>>(
        http.POST("/api/parts/{part_id}/edges", { ...at(id), body: { before } }),
      )
    ).edges,
  shelves: async () => (await taken<{ shelves: Shelf[] }>(http.GET("/api/shelves"))).shelves,
  saveShelf: (id: string, body: { version: number; name: string; rows: StockRow[] }) =>
    taken<Shelf>(http.PUT("/api/shelves/{shelf_id}", { ...onShelf(id), body })),
  copyShelf: (id: string) => taken<Shelf>(http.POST("/api/shelves/{shelf_id}/copy", onShelf(id))),
  removeShelf: (id: string) => taken<void>(http.DELETE("/api/shelves/{shelf_id}", onShelf(id))),
  /** Rows of a CSV file take the places of those with their names, or come after. */
  readShelf: (id: string, version: number, csv: string) =>
    taken<Shelf>(http.POST("/api/shelves/{shelf_id}/csv", { ...onShelf(id), body: { version, csv } })),
  kinds: () => taken<Record<string, KindFields>>(http.GET("/api/kinds")),
  sheet: (id: string, step: string, sheet: string, tolerance: Tolerance) =>
    taken<SheetData>(
      http.GET("/api/parts/{part_id}/sheets/{step}/{sheet}", {
        params: { path: { part_id: id, step, sheet }, query: { tolerance } },
      }),
    ),
  /** What files of triangles would be. */
  meshing: (id: string, query: MeshFineness) =>
    taken<Full<Schemas["MeshingView"]>>(
      http.GET("/api/parts/{part_id}/meshing", { params: { path: { part_id: id }, query } }),
    ),
  /** What a step answers to a question that takes its time; its kind's room knows what it is. */
  ask: async <T>(id: string, step: string, question: string, given: Record<string, unknown> | null = null) =>
    (
      await taken<{ answer: T }>(
        http.POST("/api/parts/{part_id}/ask/{step}/{question}", {
          params: { path: { part_id: id, step, question } },
          body: { given },
        }),
      )
    ).answer,
  /** Keep a part's document as it is now, to be placed in another. */
  keepPart: (id: string) => taken<Full<Schemas["KeptPartView"]>>(http.POST("/api/parts/{part_id}/kept", at(id))),
  /** The document in which a value, by its name, or a step, by its id, is called otherwise, in all expressions as well. */
  rename: (document: Part, what: "value" | "step", name: string, to: string) =>
    taken<Part>(http.POST("/api/rename", { body: { document: wire(document), what, name, to } })),
  clip: (sketch: Sketch, items: string[]) =>
    taken<Sketch>(http.POST("/api/sketch/clip", { body: { sketch: sketch as never, items } })),
  writeSvg: (document: Part, step: string) =>
    taken<string>(http.POST("/api/sketch/svg", { body: { document: wire(document), step }, parseAs: "text" })),
  readPoints: (csv: string, units: Units) =>
    taken<Full<Schemas["CsvPointsView"]>>(http.POST("/api/points/read-csv", { body: { csv, units } })),
  readSvg: (svg: string, mm_per_unit: number | null) =>
    taken<Full<Schemas["SvgView"]>>(http.POST("/api/sketch/read-svg", { body: { svg, mm_per_unit } })),
  openFile: async (text: string): Promise<PartView> => taken<PartView>(sent("/api/parts/file", text)),
  /** Keep a file that bodies are taken from. */
  keepFile: async (file: File) => taken<Full<Schemas["FileView"]>>(sent("/api/files", file)),
};

export const pictureUrl = (part: PartSummary) => `/api/parts/${part.id}/picture.png?r=${part.revision}`;
export const shelfUrl = (id: string) => `/api/shelves/${id}/csv`;
export const fileUrl = (id: string) => `/api/parts/${id}/part.json`;
/** Where a sheet is in a form ("", "pdf", "csv"), which says by whom it is made. */
/**
 * Where a sheet is in a form ("" is JSON), with what it is to say: by whom it is made, and of which class its
 * tolerances are.
 */
export function sheetUrl(id: string, step: string, sheet: string, form: string, says: Record<string, string>): string {
  const said = new URLSearchParams(Object.entries(says).filter(([, v]) => v !== "")).toString();
  return `/api/parts/${id}/sheets/${step}/${sheet}${form && `/${form}`}${said && `?${said}`}`;
}
export function exportUrl(id: string, form: string, fineness: MeshFineness = {}): string {
  const said = new URLSearchParams(Object.entries(fineness).map(([k, v]) => [k, String(v)])).toString();
  return `/api/parts/${id}/export/${form}${said && `?${said}`}`;
}
/**
 * Where the mesh of a body is, with at most so many triangles or as near to its surface as is said, and where it is
 * made again should it be kept no more.
 */
export const meshUrls = (
  part: string | null,
  key: string,
  fineness: Fineness,
  most: number | null,
  near?: { halvings: number; most: number },
): string[] => {
  const kept = `/api/bodies/${key}/mesh.glb`;
  if (part === null) return [kept];
  const made = (how: string) => `/api/parts/${part}/bodies/${key}/${how}`;
  if (fineness !== "normal") return [made(fineness)];
  const usual = most === null ? [kept, made("normal")] : [made(`at-most-${most}`)];
  return near === undefined ? usual : [made(`chord-${near.halvings}x${near.most}`), ...usual];
};
