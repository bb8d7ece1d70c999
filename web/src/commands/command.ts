/** A command: what the locker lists, a key reaches and the ? sheet shows. */
export type Intent = "Lay out" | "Draw" | "Route" | "Sweep" | "Shape" | "Repeat" | "View" | "Part";

export interface Command {
  id: string;
  title: string;
  detail: string;
  intent: Intent;
  keys?: string;
  run: () => void;
}
