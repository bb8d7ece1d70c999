/** What can be held of a sketch, and what goes when something is deleted. */
import type { Constraint, Entity, Sketch } from "../../api/types";
import { entityPoints, isPoint } from "./entities";

const holds = (e: Entity, point: string) => entityPoints(e).includes(point);

/** Delete things, whatever stood on them, and points that nothing uses any more. */
export function removeItems(sketch: Sketch, ids: ReadonlySet<string>): Sketch {
  const left = sketch.entities.filter(
    (e) => !ids.has(e.id) && ![...ids].some((id) => isPoint(sketch, id) && holds(e, id)),
  );
  const entities = left.filter((e) => e.kind !== "smoothed" || e.of.every((o) => left.some((x) => x.id === o)));
  const gone = new Set(sketch.entities.filter((e) => !entities.includes(e)).map((e) => e.id));
  const orphaned = sketch.points.filter(
    (p) => ids.has(p.id) || (sketch.entities.some((e) => holds(e, p.id)) && !entities.some((e) => holds(e, p.id))),
  );
  for (const p of orphaned) gone.add(p.id);
  const stays = (item: string) => !gone.has(item) && !ids.has(item);
  return {
    projections: sketch.projections.filter((p) => [...p.entities, ...p.points].every(stays)),
    points: sketch.points.filter((p) => !gone.has(p.id)),
    entities,
    constraints: sketch.constraints.filter((c) => !ids.has(c.id) && c.items.every(stays)),
    dimensions: sketch.dimensions.filter((d) => !ids.has(d.id) && d.items.every(stays)),
  };
}

export function toggleConstruction(sketch: Sketch, ids: ReadonlySet<string>): Sketch {
  return {
    ...sketch,
    entities: sketch.entities.map((e) => (ids.has(e.id) ? { ...e, construction: !e.construction } : e)),
  };
}

/** Whether a constraint can go on what is selected. */
export function applies(sketch: Sketch, kind: Constraint["kind"], items: string[]): boolean {
  const points = items.filter((i) => isPoint(sketch, i)).length;
  const entities = items.map((i) => sketch.entities.find((e) => e.id === i)).filter((e) => e !== undefined);
  const axes = items.filter((i) => i === "X" || i === "Y").length;
  if (points + entities.length + axes !== items.length || items.length === 0) return false;
  const lines = entities.filter((e) => e.kind === "line").length + axes;
  const rounds = entities.filter((e) => e.kind === "arc" || e.kind === "circle").length;
  const centred = rounds + entities.filter((e) => e.kind === "ellipse").length;
  const splines = entities.filter((e) => e.kind === "spline" || e.kind === "control_spline").length;
  if (entities.some((e) => e.kind === "smoothed")) return false;
  const [two, three] = [items.length === 2, items.length === 3];
  switch (kind) {
    case "coincident":
      return two && points === 2;
    case "horizontal":
    case "vertical":
      return lines === items.length || (two && points === 2);
    case "parallel":
    case "perpendicular":
      return two && lines === 2;
    case "tangent":
      return two && points === 0 && lines < 2;
    case "equal":
      return two && (lines === 2 || rounds === 2);
    case "midpoint":
      return (two && points === 1 && lines === 1) || (three && points === 3);
    case "on_curve":
      return two && points === 1;
    case "smooth":
      return two && points === 0 && splines > 0 && axes === 0;
    case "concentric":
      return two && centred === 2;
    case "collinear":
      return two && lines === 2;
    case "symmetric":
      return three && axis(sketch, items[2]!) && (points >= 2 || entities.length + axes === 3);
    case "on_path":
      return points === items.length;
    case "fix":
      return axes === 0;
  }
}

const axis = (sketch: Sketch, id: string) =>
  id === "X" || id === "Y" || isPoint(sketch, id) || sketch.entities.some((e) => e.id === id && e.kind === "line");
