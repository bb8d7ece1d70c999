/** Several planes square to a path at once. */
import type { Part } from "../../api/types";
import { newPlane } from "./new";
import type { NormalPlane } from "./step";

/** A plane's path at further places, each a step of its own after it. */
function followed(part: Part, step: NormalPlane, places: Pick<NormalPlane, "place" | "value">[]): Part {
  const first = part.steps.findIndex((s) => s.id === step.id) + 1;
  return places.reduce<Part>((p, place, i) => {
    const next = { ...newPlane(p, step.path.step), path: step.path, ...place };
    const before = p.steps[first + i - 1]!.id;
    return {
      ...p,
      steps: [...p.steps.slice(0, first + i), next, ...p.steps.slice(first + i)],
      sinker: p.sinker === before ? next.id : p.sinker,
    };
  }, part);
}

/** So many planes in all, evenly from the path's start to its end; the plane itself is the first. */
export function planesByCount(part: Part, step: NormalPlane, count: number, closed: boolean): Part {
  const shares = Array.from({ length: count - 1 }, (_, i) => ({
    place: "ratio" as const,
    value: Number(((i + 1) / (closed ? count : count - 1)).toFixed(6)),
  }));
  const first: NormalPlane = { ...step, place: "start", value: 0 };
  return followed({ ...part, steps: part.steps.map((s) => (s.id === step.id ? first : s)) }, step, shares);
}

/** From a plane's station on at a spacing, as far as the path goes. */
export function planesBySpacing(part: Part, step: NormalPlane, spacing: number, station: number, length: number): Part {
  const count = Math.floor((length - station) / spacing + 1e-9);
  return followed(
    part,
    step,
    Array.from({ length: count }, (_, i) => ({
      place: "length" as const,
      value: Number((station + (i + 1) * spacing).toFixed(6)),
    })),
  );
}
