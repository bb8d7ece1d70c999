/** The one place that talks to the server. A refusal is thrown as `Refusal` with its message. */
import createClient, { type MaybeOptionalInit } from "openapi-fetch";
import type { components, paths } from "./schema.gen";
import type { BuildView, Full, Message, Part, PartSummary, PartView, StockRow, Sketch, Units } from "./types";
import { Refusal, UNREACHED } from "./refusal";
import { WINDOW } from "./window";

type Schemas = components["schemas"];

const http = createClient<paths>({
  baseUrl: window.location.origin,
  headers: { "Lead-Window": WINDOW },
  fetch: (request) => globalThis.fetch(request),
});

type Json<Route> = Route extends { responses: { 200: { content: { "application/json": infer Answer } } } }
  ? Answer
  : Route extends { responses: { 201: { content: { "application/json": infer Answer } } } }
    ? Answer
    : void;
/** What a route answers, as the OpenAPI document says; the types of the fetch library lose its tuples. */
type AnswerOf<P extends keyof paths, M extends Method> = Full<Json<paths[P][M]>>;
type Method = "get" | "put" | "post" | "delete";
/** The paths on which a method is served. */
type With<M extends Method> = { [P in keyof paths]: paths[P][M] extends object ? P : never }[keyof paths];
type Given<P extends keyof paths, M extends Method> = MaybeOptionalInit<paths[P], M>;

const get = <P extends With<"get">>(path: P, given: Given<P, "get">) =>
  taken<AnswerOf<P, "get">>(http.request("get", path, given as never));
const put = <P extends With<"put">>(path: P, given: Given<P, "put">) =>
  taken<AnswerOf<P, "put">>(http.request("put", path, given as never));
const post = <P extends With<"post">>(path: P, given: Given<P, "post">) =>
  taken<AnswerOf<P, "post">>(http.request("post", path, given as never));
const remove = <P extends With<"delete">>(path: P, given: Given<P, "delete">) =>
  taken<AnswerOf<P, "delete">>(http.request("delete", path, given as never));

/** The answer of the server. Throws `Refusal`. */
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
export type BuildAnswer = BuildView;
export type EdgeLines = Full<Schemas["EdgeView"]>;
export type BodyEdge = Full<Schemas["BodyEdgeView"]>;

export type SheetData = Full<Schemas["SheetView"]>;

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
  parts: () => get("/api/parts", {}),
  part: (id: string) => get("/api/parts/{part_id}", at(id)),
  create: (name: string) => post("/api/parts", { body: { name, units: "mm" } }),
  remove: (id: string) => remove("/api/parts/{part_id}", at(id)),
  /**
   * A change names the revision `base` that it was made on, and a token by which it is done once however often it is
   * sent.
   */
  save: (id: string, change: { base: number; token: string; label: string; document: Part }) =>
    put("/api/parts/{part_id}/document", { ...at(id), body: { ...change, document: change.document } }),
  undo: (id: string, base: number, token: string) =>
    post("/api/parts/{part_id}/undo", { ...at(id), body: { base, token } }),
  redo: (id: string, base: number, token: string) =>
    post("/api/parts/{part_id}/redo", { ...at(id), body: { base, token } }),
  build: (id: string) => get("/api/parts/{part_id}/build", at(id)),
  stopBuild: (id: string) => post("/api/parts/{part_id}/build/stop", at(id)),
  solve: (document: Part, step: string, added?: string) =>
    post("/api/sketch/solve", { body: { document, step, added } }),
  edit: (document: Part, step: string, operation: Record<string, unknown>) =>
    post("/api/sketch/edit", { body: { document, step, operation } }),
  edges: async (document: Part, step: string) => (await post("/api/sketch/edges", { body: { document, step } })).edges,
  bodyEdges: async (document: Part, before: string | null) =>
    (await post("/api/edges", { body: { document, before } })).edges,
  /** The edges of what is built of the part as it is saved, those that booleans have made too. */
  builtEdges: async (id: string, before: string | null) =>
    (await post("/api/parts/{part_id}/edges", { ...at(id), body: { before } })).edges,
  shelves: async () => (await get("/api/shelves", {})).shelves,
  saveShelf: (id: string, body: { version: number; name: string; rows: StockRow[] }) =>
    put("/api/shelves/{shelf_id}", { ...onShelf(id), body }),
  copyShelf: (id: string) => post("/api/shelves/{shelf_id}/copy", onShelf(id)),
  removeShelf: (id: string) => remove("/api/shelves/{shelf_id}", onShelf(id)),
  /** Rows of a CSV file take the places of those with their names, or come after. */
  readShelf: (id: string, version: number, csv: string) =>
    post("/api/shelves/{shelf_id}/csv", { ...onShelf(id), body: { version, csv } }),
  kinds: () => get("/api/kinds", {}),
  sheet: (id: string, step: string, sheet: string, tolerance: Tolerance) =>
    get("/api/parts/{part_id}/sheets/{step}/{sheet}", {
      params: { path: { part_id: id, step, sheet }, query: { tolerance } },
    }),
  /** What files of triangles would be. */
  meshing: (id: string, query: MeshFineness) =>
    get("/api/parts/{part_id}/meshing", { params: { path: { part_id: id }, query } }),
  /** What a step answers to a question that takes its time; its kind's room knows what it is. */
  ask: async <T>(id: string, step: string, question: string, given: Record<string, unknown> | null = null) =>
    (
      await post("/api/parts/{part_id}/ask/{step}/{question}", {
        params: { path: { part_id: id, step, question } },
        body: { given },
      })
    ).answer as T,
  /** Keep a part's document as it is now, to be placed in another. */
  keepPart: (id: string) => post("/api/parts/{part_id}/kept", at(id)),
  /** The document in which a value, by its name, or a step, by its id, is called otherwise, in all expressions as well. */
  rename: (document: Part, what: "value" | "step", name: string, to: string) =>
    post("/api/rename", { body: { document, what, name, to } }),
  clip: (sketch: Sketch, items: string[]) => post("/api/sketch/clip", { body: { sketch, items } }),
  writeSvg: (document: Part, step: string) =>
    taken<string>(http.POST("/api/sketch/svg", { body: { document, step }, parseAs: "text" })),
  readPoints: (csv: string, units: Units) => post("/api/points/read-csv", { body: { csv, units } }),
  readSvg: (svg: string, mm_per_unit: number | null) => post("/api/sketch/read-svg", { body: { svg, mm_per_unit } }),
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
