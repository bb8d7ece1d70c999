/** What the screen has to know of a kind of step. */
import type { ComponentType, ReactNode } from "react";
import type { Step, StepReport, SweepData, Units, Vec3 } from "../api/types";
import type { Command } from "../commands/command";
import type { Role } from "../state/roles";
import type { LaneName } from "../state/view";
import type { Mark, OwnLane } from "../state/laws";

export interface CardsProps<S extends Step> {
  step: S;
  /** What the last build said of it. */
  report: StepReport | undefined;
}

export interface HandlesProps<S extends Step> {
  step: S;
  report: StepReport;
  colours: { path: string; edge: string; pick: string };
}

export type SceneColours = Record<"body" | "edge" | "path" | "section" | "rail" | "plane" | "cut" | "pick", string>;

export interface Room<S extends Step = Step> {
  kind: S["kind"];
  /** Said beside the step's name. */
  words: string;
  /** Drawn on a 20 x 20 field; or one for each use. */
  glyph: ReactNode | Partial<Record<Role, ReactNode>>;
  Cards: ComponentType<CardsProps<S>>;
  /** What makes a step of this kind. */
  commands?: Command[];
  /**
   * What is taken hold of in the stage while the step is selected; of a path in place of its line. Loaded with the
   * stage.
   */
  Handles?: ComponentType<HandlesProps<S>>;
  /**
   * What stands in the stage in place of the part while the view says that the step's scene does. Loaded with the
   * stage.
   */
  Scene?: ComponentType<{ step: S; colours: SceneColours }>;
  /**
   * How a step takes its sizes from a row of the shelf: of which sort it is, which of its columns, whether it can, and
   * what becomes of the step with the names of the values that follow them.
   */
  stock?: {
    sort: string;
    sizes: string[];
    fits?: (step: S) => boolean;
    take: (step: S, names: Record<string, string>) => Partial<S>;
  };
  /** Marks of its laws on a lane of the station strip; `row` is which of the lanes of that name. */
  marks?: (step: S, lane: LaneName, row: number, data: SweepData, units: Units) => Mark[];
  /** Lanes along what it is made of, beside those of that. */
  lanes?: (step: S, data: StepReport["data"], units: Units) => OwnLane[];
  /** Lines in space that are always shown dashed, of what is drawn only. */
  dashed?: (data: StepReport["data"]) => Vec3[][];
  /** A window over the editor that its commands open. */
  Window?: ComponentType;
  /** Results under the cards: of what is shown, and of the last build. */
  Foot?: ComponentType<{ report: StepReport | undefined; built: StepReport | undefined }>;
}

/** A room, checked against the step of its kind. */
export function room<K extends Step["kind"]>(known: Room<Extract<Step, { kind: K }>> & { kind: K }): Room {
  return known as unknown as Room;
}
