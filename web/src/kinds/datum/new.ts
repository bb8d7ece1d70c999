/** A new step of this kind, as it is to begin with. */
import type { Part, PlaneRef, Step } from "../../api/types";
import { isDrawn, sketchOf } from "../../state/drawings";
import { givesOf } from "../../state/fields";
import { beginning } from "../../state/beginning";
import { faceRef } from "../../state/pickedFace";
import type { DatumPlane } from "./step";

type By = DatumPlane["how"]["by"];

const NAMES: Record<By, string> = {
  offset: "Plane beside",
  points: "Plane through points",
  line: "Plane about a line",
  midway: "Plane midway",
  face: "Plane on a face",
  normal: "Plane by its normal",
  angle: "Plane turned",
  round: "Plane in an edge",
  along: "Plane along a path",
};

const XY: PlaneRef = { kind: "principal", plane: "XY" };

const planeOf = (s: Step | undefined): PlaneRef => (s === undefined ? XY : { kind: "step", step: s.id });

/**
 * Where a new datum plane most likely stands, from what is selected, picked and drawn; null when there is nothing for
 * it.
 */
export function newDatum(part: Part, by: By, selected: string | null, face: string | null): DatumPlane | null {
  const how = likelyPlace(part, by, selected, face);
  return how === null ? null : datumWith(part, how);
}

export const datumWith = (part: Part, how: DatumPlane["how"]): DatumPlane => ({
  ...beginning(part, "datum", NAMES[how.by]),
  how,
});

/** The face of a body that is known by its solid alone has no origin of its own that anybody could foresee. */
const onFace = (part: Part, face: string): DatumPlane["how"] => {
  const own = faceRef(face);
  const source = part.steps.find((s) => s.id === own.step);
  return { by: "face", ...own, middle: source !== undefined && givesOf(source) !== "body" };
};

function likelyPlace(part: Part, by: By, selected: string | null, face: string | null): DatumPlane["how"] | null {
  const planes = part.steps.filter((s) => givesOf(s) === "plane");
  const own = planes.find((s) => s.id === selected);
  const chosen = part.steps.find((s) => s.id === selected);
  const drawn = isDrawn(chosen) ? chosen : part.steps.filter(isDrawn).at(-1);
  const from = own !== undefined ? planeOf(own) : (drawn?.plane ?? planeOf(planes.at(-1)));
  switch (by) {
    case "offset":
      return { by, plane: from, distance: 20 };
    case "angle":
      return { by, plane: from, axis: "x", angle: 30 };
    case "normal":
      return { by, x: 0, y: 0, z: 0, normal: [0, 0, 1], along: null };
    case "midway":
      return { by, first: XY, second: planeOf(own ?? planes.at(-1)) };
    case "face":
      return face === null ? null : onFace(part, face);
    case "round":
    case "along":
      return null; // an edge or a path is picked first
    case "points": {
      const points = (drawn === undefined ? [] : sketchOf(drawn).points)
        .slice(0, 3)
        .map((p) => ({ step: drawn!.id, point: p.id }));
      return points.length === 3 ? { by, points } : null;
    }
    case "line": {
      const line = (drawn === undefined ? [] : sketchOf(drawn).entities).find((e) => e.kind === "line");
      return line === undefined ? null : { by, step: drawn!.id, line: line.id, angle: "90 deg" };
    }
  }
}
