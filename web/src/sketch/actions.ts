/** What can be done with what is selected: each becomes one edit operation that the server carries out. */
import type { Sketch } from "../api/types";
import { isPoint } from "./edit/entities";

export interface ActionField {
  name: string;
  label: string;
  start: string;
  unit: "length" | "deg" | "count" | "";
}

export interface SketchAction {
  id: string;
  title: string;
  key: string;
  hint: string;
  fields: ActionField[];
  toggle?: { name: string; on: string; off: string };
  ready: (sketch: Sketch, selection: string[]) => boolean;
  /** Values as typed; the server works expressions out. */
  operation: (
    sketch: Sketch,
    selection: string[],
    values: Record<string, string>,
    on: boolean,
  ) => Record<string, unknown>;
}

const isLine = (s: Sketch, id: string) =>
  id === "X" || id === "Y" || s.entities.some((e) => e.id === id && e.kind === "line");
const isCurve = (s: Sketch, id: string) => s.entities.some((e) => e.id === id);
const some = (s: Sketch, items: string[]) => items.some((i) => isCurve(s, i) || (isPoint(s, i) && i !== "O"));
const pieces = (s: Sketch, items: string[]) => items.filter((i) => isCurve(s, i) || (isPoint(s, i) && i !== "O"));

/** The last picked point is the centre, if there is one; else the origin. */
function centreOf(s: Sketch, items: string[]): { center: [number, number]; rest: string[] } {
  const last = items.at(-1);
  const p = s.points.find((q) => q.id === last);
  if (p !== undefined && items.length > 1) return { center: [p.x, p.y], rest: items.slice(0, -1) };
  return { center: [0, 0], rest: items.filter((i) => i !== "O") };
}

export const ACTIONS: SketchAction[] = [
  {
    id: "offset",
    title: "Offset",
    key: "O",
    hint: "A chain beside the picked curves, to the left of their direction; negative goes right.",
    fields: [{ name: "distance", label: "Distance", start: "5", unit: "length" }],
    toggle: { name: "rounded", on: "Round the gaps", off: "Sharp corners" },
    ready: (s, items) => items.some((i) => isCurve(s, i)),
    operation: (s, items, v, on) => ({
      op: "offset",
      items: items.filter((i) => isCurve(s, i)),
      distance: v.distance,
      rounded: on,
    }),
  },
  {
    id: "mirror",
    title: "Mirror",
    key: "shift+M",
    hint: "Pick the pieces, and the line or axis to mirror about last.",
    fields: [],
    toggle: { name: "live", on: "Stays symmetric", off: "Plain copy" },
    ready: (s, items) => items.length > 1 && isLine(s, items.at(-1)!),
    operation: (_, items, __, on) => ({ op: "mirror", items: items.slice(0, -1), about: items.at(-1), live: on }),
  },
  {
    id: "linear",
    title: "Copies in a row",
    key: "shift+R",
    hint: "The count is with the first; each stands this far from the one before.",
    fields: [
      { name: "count", label: "Count", start: "3", unit: "count" },
      { name: "dx", label: "Across", start: "20", unit: "length" },
      { name: "dy", label: "Up", start: "0", unit: "length" },
    ],
    ready: some,
    operation: (s, items, v) => ({
      op: "linear_copies",
      items: pieces(s, items),
      dx: v.dx,
      dy: v.dy,
      count: Number(v.count),
    }),
  },
  {
    id: "circular",
    title: "Copies around",
    key: "shift+O",
    hint: "Around the point picked last, or the origin; 360° goes all round.",
    fields: [
      { name: "count", label: "Count", start: "6", unit: "count" },
      { name: "angle", label: "Angle", start: "360", unit: "deg" },
    ],
    ready: some,
    operation: (s, items, v) => {
      const { center, rest } = centreOf(s, items);
      return { op: "circular_copies", items: pieces(s, rest), center, angle: `${v.angle} deg`, count: Number(v.count) };
    },
  },
  {
    id: "move",
    title: "Move, turn, scale",
    key: "shift+V",
    hint: "First moved, then turned and scaled about the point picked last, or the origin.",
    fields: [
      { name: "dx", label: "Across", start: "0", unit: "length" },
      { name: "dy", label: "Up", start: "0", unit: "length" },
      { name: "angle", label: "Turn", start: "0", unit: "deg" },
      { name: "factor", label: "Scale", start: "1", unit: "" },
    ],
    ready: some,
    operation: (s, items, v) => {
      const { center, rest } = centreOf(s, items);
      return {
        op: "transform",
        items: pieces(s, rest),
        center,
        dx: v.dx,
        dy: v.dy,
        angle: `${v.angle} deg`,
        factor: v.factor,
      };
    },
  },
  {
    id: "smooth",
    title: "Smooth the outline",
    key: "shift+U",
    hint: "One closed spline within this of a closed outline of lines and arcs; it follows the outline.",
    fields: [{ name: "tolerance", label: "Within", start: "0.5", unit: "length" }],
    ready: (s, items) =>
      items.length > 0 &&
      items.every((i) =>
        s.entities.some((e) => e.id === i && (e.kind === "line" || e.kind === "arc" || e.kind === "circle")),
      ),
    operation: (_, items, v) => ({ op: "smooth", items, tolerance: v.tolerance }),
  },
  {
    id: "handles",
    title: "End handles",
    key: "shift+H",
    hint: "Handles at a spline's ends that set its direction and pull.",
    fields: [],
    ready: (s, items) => items.length === 1 && s.entities.some((e) => e.id === items[0] && e.kind === "spline"),
    operation: (_, items) => ({ op: "handles", spline: items[0] }),
  },
];
