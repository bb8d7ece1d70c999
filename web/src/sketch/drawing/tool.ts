/** What a drawing tool is: what the clicks so far, and the pointer, would make. */
import type { Sketch, Vec2 } from "../../api/types";
import type { Spot } from "../edit/entities";

export interface Proposal {
  /** Polylines to show while drawing. */
  lines: Vec2[][];
  /** Tags of the constraints that a click would add. */
  tags: string[];
}

/** How the pointer is held: Alt keeps constraints off, Shift turns to the tool's other way. */
export interface Held {
  alt: boolean;
  shift: boolean;
  sides: number;
}

export interface Made {
  label: string;
  change: (sketch: Sketch) => Sketch;
  /** The clicks with which a chain goes on; its id is known only once the sketch is made. */
  next: Spot[];
}

/** The clicks so far, of which there is one at least, and where the pointer is now. */
export interface Stroke {
  sketch: Sketch;
  first: Spot;
  second: Spot | undefined;
  third: Spot | undefined;
  clicks: Spot[];
  now: Spot;
  held: Held;
}

export interface DrawingTool {
  /** What is seen of it; `tags` are those of where the pointer is. */
  propose: (stroke: Stroke, tags: string[]) => Proposal;
  /**
   * What a click now completes; null when the tool wants more of them. `onEnd` is told the point at which a chain goes
   * on.
   */
  complete: (stroke: Stroke, onEnd: (id: string) => void) => Made | null;
}

export const distance = (a: Vec2, b: Vec2) => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** How far a place stands off the line through two others. */
export function widthAt(a: Vec2, b: Vec2, at: Vec2): number {
  const u: Vec2 = [b[0] - a[0], b[1] - a[1]];
  return Math.abs(u[0] * (at[1] - a[1]) - u[1] * (at[0] - a[0])) / (Math.hypot(...u) || 1);
}
