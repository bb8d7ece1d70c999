/** Changing a part's unit keeps every size: what had no unit of its own is given the old one. */
import type { Expression, Part, Units } from "../api/types";

const UNIT_WORD = /(^|[\d.)\s])(um|mm|cm|m|in|inch|ft)(?![\w(])/;
const NAME = /[A-Za-z_]\w*/g;

/** Whether an expression comes out without a unit, its named values included. */
function isBare(value: Expression, named: Map<string, Expression>, depth = 0): boolean {
  if (typeof value === "number") return true;
  if (depth > 50 || UNIT_WORD.test(value)) return false;
  return (value.match(NAME) ?? []).every((n) => !named.has(n) || isBare(named.get(n)!, named, depth + 1));
}

function withUnit(value: Expression, from: Units, named: Map<string, Expression>): Expression {
  if (!isBare(value, named)) return value;
  if (typeof value === "number") return value === 0 ? 0 : `${value} ${from}`;
  return `(${value.trim()}) ${from}`;
}

export function toUnits(part: Part, units: Units): Part {
  const named = new Map(part.values.map((v) => [v.name, v.value]));
  const length = (v: Expression) => withUnit(v, part.units, named);
  return {
    ...part, units,
    steps: part.steps.map((step) => {
      if (step.kind === "extrude") return { ...step, length: length(step.length), back: length(step.back) };
      if (step.kind === "sweep") return { ...step, wall: step.wall === null ? null : length(step.wall) };
      if (step.kind === "plane") return step.place === "length" ? { ...step, value: length(step.value) } : step;
      if (step.kind === "datum") return step.how.by === "offset" ? { ...step, how: { ...step.how, distance: length(step.how.distance) } } : step;
      const dimensions = step.sketch.dimensions.map((d) => (d.kind === "angle" ? d : { ...d, value: length(d.value) }));
      return { ...step, sketch: { ...step.sketch, dimensions } };
    }),
  };
}
