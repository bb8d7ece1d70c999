/** Tools and constraints of the sketch, each with its key. */
import type { Constraint } from "../api/types";

export type Tool = "select" | "line" | "arc" | "circle" | "ring" | "rectangle" | "spline" | "dimension";

export const TOOLS: { tool: Tool; title: string; key: string; hint: string }[] = [
  { tool: "select", title: "Select and drag", key: "V", hint: "Click to select, drag a free point to move it. Shift adds to the selection." },
  { tool: "line", title: "Line", key: "L", hint: "Click from point to point; Esc ends the chain. Alt holds the proposed constraints off." },
  { tool: "arc", title: "Arc", key: "A", hint: "Click start, end, then a point on the arc. Near a tangent it snaps to it." },
  { tool: "circle", title: "Circle", key: "C", hint: "Click the centre, then the rim." },
  { tool: "ring", title: "Ring", key: "G", hint: "Click the centre, the outer rim, then the inner rim." },
  { tool: "rectangle", title: "Rectangle", key: "B", hint: "Click the centre, then a corner." },
  { tool: "spline", title: "Spline", key: "S", hint: "Click the points it goes through; Enter or a second click on the last ends it." },
  { tool: "dimension", title: "Dimension", key: "D", hint: "Click a line, arc, circle, or two things; then where the figure stands." },
];

export const CONSTRAINTS: { kind: Constraint["kind"]; title: string; tag: string; key: string }[] = [
  { kind: "coincident", title: "Coincident", tag: "c", key: "shift+C" },
  { kind: "horizontal", title: "Horizontal", tag: "h", key: "H" },
  { kind: "vertical", title: "Vertical", tag: "v", key: "I" },
  { kind: "parallel", title: "Parallel", tag: "p", key: "shift+P" },
  { kind: "perpendicular", title: "Perpendicular", tag: "q", key: "Q" },
  { kind: "tangent", title: "Tangent", tag: "t", key: "T" },
  { kind: "equal", title: "Equal", tag: "e", key: "E" },
  { kind: "midpoint", title: "Midpoint", tag: "m", key: "M" },
  { kind: "on_curve", title: "On curve", tag: "o", key: "U" },
  { kind: "on_path", title: "On path", tag: "◦path", key: "Y" },
  { kind: "fix", title: "Fixed", tag: "fix", key: "X" },
];

export const SKETCH_KEYS = [
  ...TOOLS.map((t) => ({ keys: t.key, title: t.title })),
  ...CONSTRAINTS.map((c) => ({ keys: c.key.replace("shift+", "Shift + "), title: `${c.title}: on what is selected` })),
  { keys: "J", title: "Construction on or off for what is selected" },
  { keys: "Z", title: "Show me what is free" },
  { keys: "F", title: "Fit the sketch" },
  { keys: "Del", title: "Delete what is selected" },
  { keys: "Esc", title: "End the chain, let go, then leave the sketch" },
];
