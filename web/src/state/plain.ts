/** A new step of any kind, filled in from what its fields say. */
import type { Field, Part, Step } from "../api/types";
import { fieldsOf, FITS, givesOf } from "./fields";
import { freshId, freshName } from "./part";

const SIZE = 10; // of a length that has no default

/** What a field begins with; undefined where nothing in the part fits it. */
function beginning(field: Field, part: Part): unknown {
  if (field.default !== undefined) return field.default;
  if (field.empty) return null;
  if (field.measure !== undefined) return field.measure === "length" ? SIZE : 0;
  if (field.choice !== undefined) return field.choice[0];
  if (field.each !== undefined) return [];
  if (field.type === "switch") return false;
  if (field.type === "count") return 1;
  if (field.use !== undefined && field.type === "text") {
    const lasts = FITS[field.use].map((gives) => part.steps.findLast((s) => givesOf(s) === gives));
    return lasts.find((s) => s !== undefined)?.id;
  }
  for (const form of field.forms ?? []) {
    const own = Object.entries(form.fields).map(([name, f]) => [name, beginning(f, part)] as const);
    if (own.every(([, v]) => v !== undefined)) return { ...form.tags, ...Object.fromEntries(own) };
  }
  return field.type === "text" ? "" : undefined;
}

/** A step of a kind that this program has no room for; null where the part has nothing for it to work on. */
export function newPlain(part: Part, kind: string): Step | null {
  const known = fieldsOf(kind);
  if (known === undefined) return null;
  const own = Object.entries(known.fields).map(([name, field]) => [name, beginning(field, part)] as const);
  if (own.some(([, v]) => v === undefined)) return null;
  const stem = kind.replaceAll("_", " ");
  return {
    id: freshId(part, kind),
    name: freshName(part, stem[0]!.toUpperCase() + stem.slice(1)),
    off: false,
    kind,
    ...Object.fromEntries(own),
  } as unknown as Step;
}
