/** Changing a part's unit keeps every size: what had no unit of its own is given the old one. */
import type { Expression, Part, Units } from "../api/types";
import { withLengths } from "./fields";

const UNIT_WORD = /(^|[\d.)\s])(um|mm|cm|m|in|inch|ft)(?![\w(])/;
const NAME = /[A-Za-z_]\w*/g;
const MARKED = /['"’”]|\blength\(/; // feet and inches, or the length of a path

/** Whether an expression comes out without a unit, its named values included. */
function isBare(value: Expression, named: Map<string, Expression>, depth = 0): boolean {
  if (typeof value === "number") return true;
  if (/%\s*$/.test(value)) return false; // a share of a path's length
  if (depth > 50 || UNIT_WORD.test(value) || MARKED.test(value)) return false;
  return (value.match(NAME) ?? []).every((n) => !named.has(n) || isBare(named.get(n)!, named, depth + 1));
}

function withUnit(value: Expression, from: Units, named: Map<string, Expression>): Expression {
  if (!isBare(value, named)) return value;
  if (typeof value === "number") return value === 0 ? 0 : `${value} ${from}`;
  return `(${value.trim()}) ${from}`;
}

export function toUnits(part: Part, units: Units): Part {
  const named = new Map(part.values.map((v) => [v.name, v.value]));
  return { ...part, units, steps: part.steps.map((step) => withLengths(step, (v) => withUnit(v, part.units, named))) };
}
