/** A command: what the locker lists, a key reaches and the ? sheet shows. */
export type Intent = "Lay out" | "Draw" | "Route" | "Sweep" | "Shape" | "Repeat" | "Trade" | "View" | "Part";

/**
 * What there is to go on from: an empty part, a drawing (on a plane of its own, or not), what a step gives, a picked
 * face.
 */
export type Situation = "nothing" | "section" | "drawing" | "path" | "swept" | "solid" | "plane" | "face" | "other";

export interface Command {
  id: string;
  title: string;
  detail: string;
  intent: Intent;
  keys?: string;
  /** Where it is proposed, and how far down in the list. */
  fits?: Partial<Record<Situation, number>>;
  run: () => void;
}
