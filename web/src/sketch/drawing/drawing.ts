/** The drawing tools by name: what is seen of a stroke, and what a click completes. */
import type { Sketch } from "../../api/types";
import { addSpline, type Spot } from "../edit/entities";
import { addControlSpline } from "../shapes";
import { isDrawTool, type DrawTool, type Tool } from "../sketchKeys";
import { arc, centredArc, line } from "./lines";
import { arcSlot, cornerRectangle, polygon, rectangle, slot } from "./outlines";
import { circle, ellipse, ring } from "./rounds";
import type { DrawingTool, Held, Made, Proposal, Stroke } from "./tool";

/** A curve through, or pulled by, as many points as are clicked; what ends it completes it. */
const curve: DrawingTool = {
  propose: ({ clicks, now }, tags) => ({ lines: [[...clicks.map((c) => c.at), now.at]], tags }),
  complete: () => null,
};

const TOOLS: Record<DrawTool, DrawingTool> = {
  line,
  arc,
  centre_arc: centredArc,
  circle,
  ring,
  ellipse,
  rectangle,
  corner_rectangle: cornerRectangle,
  slot,
  arc_slot: arcSlot,
  polygon,
  spline: curve,
  control_spline: curve,
};

const spotTags = (now: Spot) => [
  ...(now.onPath !== undefined ? ["◦path"] : now.existing !== undefined ? ["c"] : []),
  ...(now.middleOf !== undefined ? ["m"] : []),
  ...(now.onCurves ?? []).map(() => "o"),
];

function strokeOf(sketch: Sketch, clicks: Spot[], now: Spot, held: Held): Stroke | null {
  const [first, second, third] = clicks;
  return first === undefined ? null : { sketch, first, second, third, clicks, now, held };
}

/** What is being drawn, as far as it can be seen. */
export function propose(tool: Tool, sketch: Sketch, clicks: Spot[], now: Spot, held: Held): Proposal {
  const stroke = strokeOf(sketch, clicks, now, held);
  const tags = spotTags(now);
  return stroke === null || !isDrawTool(tool) ? { lines: [], tags } : TOOLS[tool].propose(stroke, tags);
}

/** What this click completes; null when the tool wants more clicks. */
export function complete(
  tool: Tool,
  sketch: Sketch,
  clicks: Spot[],
  now: Spot,
  held: Held,
  onEnd: (id: string) => void,
): Made | null {
  const stroke = strokeOf(sketch, clicks, now, held);
  return stroke === null || !isDrawTool(tool) ? null : TOOLS[tool].complete(stroke, onEnd);
}

/** A curve through, or pulled by, the points that were clicked; null when they are too few. */
export function completeSpline(tool: Tool, clicks: Spot[]): Made | null {
  if (tool === "control_spline")
    return clicks.length < 3
      ? null
      : { label: "Draw a control spline", next: [], change: (s) => addControlSpline(s, clicks) };
  return clicks.length < 2 ? null : { label: "Draw a spline", next: [], change: (s) => addSpline(s, clicks) };
}
