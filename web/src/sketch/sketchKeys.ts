/** Tools and constraints of the sketch, each with its key. */
import type { Constraint } from "../api/types";

export type DrawTool =
  | "line"
  | "arc"
  | "centre_arc"
  | "circle"
  | "ring"
  | "ellipse"
  | "rectangle"
  | "corner_rectangle"
  | "slot"
  | "arc_slot"
  | "polygon"
  | "spline"
  | "control_spline";
export type EditTool = "project" | "trim" | "extend" | "split" | "fillet" | "chamfer";
export type Tool = "select" | DrawTool | EditTool | "dimension";

export interface ToolEntry<T extends Tool = Tool> {
  tool: T;
  title: string;
  key: string;
  hint: string;
}

export const DRAW_TOOLS: ToolEntry<DrawTool>[] = [
  {
    tool: "line",
    title: "Line",
    key: "L",
    hint:
      "Click from point to point; Shift bends the next piece into a tangent arc. " +
      "Esc ends the chain, Alt holds constraints off.",
  },
  {
    tool: "arc",
    title: "Arc",
    key: "A",
    hint: "Click start, end, then a point on the arc. Near a tangent it snaps to it.",
  },
  {
    tool: "centre_arc",
    title: "Centred arc",
    key: "shift+A",
    hint: "Click the centre, the start, then the end (counter-clockwise; Shift turns the other way).",
  },
  { tool: "circle", title: "Circle", key: "C", hint: "Click the centre, then the rim." },
  { tool: "ring", title: "Ring", key: "G", hint: "Click the centre, the outer rim, then the inner rim." },
  {
    tool: "ellipse",
    title: "Ellipse",
    key: "shift+E",
    hint: "Click the centre, the end of one half-axis, then how wide. Trim it for an elliptical arc.",
  },
  { tool: "rectangle", title: "Rectangle", key: "B", hint: "Click the centre, then a corner." },
  {
    tool: "corner_rectangle",
    title: "Box from corners",
    key: "shift+B",
    hint: "Click one corner, then the opposite one.",
  },
  {
    tool: "slot",
    title: "Slot",
    key: "W",
    hint: "Click the middle, the centre of one end, then how wide. It stays symmetric about its middle.",
  },
  {
    tool: "arc_slot",
    title: "Slot along an arc",
    key: "shift+W",
    hint: "Click the arc's centre, its start, its end, then how wide.",
  },
  {
    tool: "polygon",
    title: "Polygon",
    key: "P",
    hint: "Click the centre, then a corner (with Shift: the middle of a flat).",
  },
  {
    tool: "spline",
    title: "Spline",
    key: "S",
    hint: "Click the points it goes through; Enter or a second click on the last ends it.",
  },
  {
    tool: "control_spline",
    title: "Control spline",
    key: "shift+S",
    hint: "Click the points that pull on it; it leaves along its first and last legs. Enter ends it.",
  },
];

export const EDIT_TOOLS: ToolEntry<EditTool>[] = [
  {
    tool: "project",
    title: "Project",
    key: "shift+J",
    hint:
      "Click a curve or point of an earlier sketch (Shift: its whole path) " +
      "or an edge of a body; faces stand at the right.",
  },
  { tool: "trim", title: "Trim", key: "R", hint: "Click the stretch that is to go, up to what crosses it." },
  { tool: "extend", title: "Extend", key: "N", hint: "Click a line or arc near the end that is to reach on." },
  { tool: "split", title: "Split", key: "K", hint: "Click where a curve is to be cut in two." },
  {
    tool: "fillet",
    title: "Round a corner",
    key: "F",
    hint: "Click a corner of two lines or arcs; the radius stands at the right.",
  },
  {
    tool: "chamfer",
    title: "Cut a corner",
    key: "shift+F",
    hint: "Click a corner of two lines; how far back stands at the right.",
  },
];

export const TOOLS: ToolEntry[] = [
  {
    tool: "select",
    title: "Select",
    key: "V",
    hint: "Click to select, drag a free point to move it. Shift adds to the selection.",
  },
  ...DRAW_TOOLS,
  {
    tool: "dimension",
    title: "Dimension",
    key: "D",
    hint: "Click a line, arc, circle, or two things; then where the figure stands.",
  },
  ...EDIT_TOOLS,
];

export const isDrawTool = (tool: Tool): tool is DrawTool => DRAW_TOOLS.some((t) => t.tool === tool);
export const isEditTool = (tool: Tool): tool is EditTool => EDIT_TOOLS.some((t) => t.tool === tool);
/** Tools that take any number of points. */
export const takesMany = (tool: Tool): tool is "spline" | "control_spline" =>
  tool === "spline" || tool === "control_spline";

export interface ConstraintEntry {
  kind: Constraint["kind"];
  title: string;
  tag: string;
  key: string;
}

export const CONSTRAINTS: ConstraintEntry[] = [
  { kind: "coincident", title: "Coincident", tag: "c", key: "shift+C" },
  { kind: "on_curve", title: "On curve", tag: "o", key: "U" },
  { kind: "on_path", title: "On path", tag: "◦path", key: "Y" },
  { kind: "horizontal", title: "Horizontal", tag: "h", key: "H" },
  { kind: "vertical", title: "Vertical", tag: "v", key: "I" },
  { kind: "parallel", title: "Parallel", tag: "p", key: "shift+P" },
  { kind: "perpendicular", title: "Perpendicular", tag: "q", key: "Q" },
  { kind: "collinear", title: "In line", tag: "l", key: "shift+L" },
  { kind: "tangent", title: "Tangent", tag: "t", key: "T" },
  { kind: "smooth", title: "Smooth", tag: "s", key: "shift+T" },
  { kind: "equal", title: "Equal", tag: "e", key: "E" },
  { kind: "concentric", title: "Concentric", tag: "n", key: "shift+N" },
  { kind: "midpoint", title: "Midpoint", tag: "m", key: "M" },
  { kind: "symmetric", title: "Symmetric", tag: "y", key: "shift+Y" },
  { kind: "fix", title: "Fixed", tag: "fix", key: "X" },
];

export const spokenKey = (key: string) => key.replace("shift+", "Shift ").replace("mod+", "Ctrl ");
