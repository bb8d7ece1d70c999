/** What is drawn in a sketch, in words that a designer can point at: by its shape and size, never by its id. */
import type { Sketch, Units } from "../api/types";
import { inUnits, length, trim } from "../ui/format";

const AXES: Record<string, string> = { O: "the origin", X: "the level axis", Y: "the upright axis" };

/** A point, curve or axis of a sketch. */
export function curveTitle(sketch: Sketch, id: string, units: Units): string {
  if (AXES[id] !== undefined) return AXES[id];
  const at = (point: string): [number, number] => {
    const found = sketch.points.find((p) => p.id === point);
    return found === undefined ? [0, 0] : [found.x, found.y];
  };
  const between = (a: string, b: string) => Math.hypot(at(a)[0] - at(b)[0], at(a)[1] - at(b)[1]);
  const e = sketch.entities.find((x) => x.id === id);
  if (e?.kind === "line") return `line of ${length(between(e.start, e.end), units)}`;
  if (e?.kind === "arc") return `arc of R ${length(between(e.center, e.start), units)}`;
  if (e?.kind === "circle") return `circle of Ø ${length(2 * e.radius, units)}`;
  if (e !== undefined) return e.kind.replace("_", " ");
  if (!sketch.points.some((p) => p.id === id)) return "what is gone";
  const round = sketch.entities.find((x) => "center" in x && x.center === id);
  if (round !== undefined) return `centre of the ${curveTitle(sketch, round.id, units)}`;
  return `point at ${at(id)
    .map((v) => trim(Number(inUnits(v, units).toFixed(3))))
    .join(", ")}`;
}
