/** Groups of steps on the cord, as pure functions of the part. */
import type { Part, Step } from "../api/types";
import { withReferences } from "./fields";
import { freshId, freshName, unusedId, unusedName } from "./part";

export type Group = Part["groups"][number];

export const groupOf = (part: Part, step: string): Group | undefined => part.groups.find((g) => g.steps.includes(step));

const withGroups = (part: Part, groups: Group[]): Part => ({
  ...part,
  groups: groups.filter((g) => g.steps.length > 0),
});

/** Take steps out of whatever groups they are in. */
export function ungrouped(part: Part, steps: string[]): Part {
  if (!part.groups.some((g) => g.steps.some((s) => steps.includes(s)))) return part;
  return withGroups(
    part,
    part.groups.map((g) => ({ ...g, steps: g.steps.filter((s) => !steps.includes(s)) })),
  );
}

/**
 * A step out of its group; where it stood between others of it, those after it leave as well, so that what is left
 * follows each other.
 */
export function leave(part: Part, step: string): Part {
  const own = groupOf(part, step);
  if (own === undefined) return part;
  const order = part.steps.map((s) => s.id).filter((id) => own.steps.includes(id));
  const at = order.indexOf(step);
  return ungrouped(part, at === 0 ? [step] : order.slice(at));
}

/** The steps from one to another on the cord, both among them. */
export function between(part: Part, one: string, other: string): string[] {
  const [a, b] = [one, other].map((id) => part.steps.findIndex((s) => s.id === id)).sort((p, q) => p - q);
  return a === undefined || b === undefined || a < 0 ? [] : part.steps.slice(a, b + 1).map((s) => s.id);
}

/** A new group of steps that follow each other. */
export function grouped(part: Part, steps: string[]): Part {
  const free = ungrouped(part, steps);
  const group: Group = {
    id: unusedId(part.groups, "group"),
    name: unusedName(part.groups, "Group"),
    steps,
    folded: false,
  };
  return { ...free, groups: [...free.groups, group] };
}

export const withGroup = (part: Part, id: string, edit: (group: Group) => Group): Part => ({
  ...part,
  groups: part.groups.map((g) => (g.id === id ? edit(g) : g)),
});

/** After a step came to another place: between two of a group it joins them, away from its own group it leaves it. */
export function settled(part: Part, id: string): Part {
  const at = part.steps.findIndex((s) => s.id === id);
  const near = [at - 1, at + 1].map((i) => groupOf(part, part.steps[i]?.id ?? "")?.id);
  const own = groupOf(part, id);
  if (near[0] !== undefined && near[0] === near[1]) {
    if (own?.id === near[0]) return part;
    return withGroup(ungrouped(part, [id]), near[0], (g) => ({ ...g, steps: [...g.steps, id] }));
  }
  const alone = own?.steps.length === 1;
  return own === undefined || alone || near.includes(own.id) ? part : ungrouped(part, [id]);
}

/** Copies of steps after the last of them; what they refer to among themselves is that of the copies. */
export function copied(part: Part, steps: string[], group?: Group): Part {
  const own = part.steps.filter((s) => steps.includes(s.id));
  const last = part.steps.findIndex((s) => s.id === own.at(-1)?.id);
  if (last < 0) return part;
  const ids = new Map<string, string>();
  let named = part; // grows by the copies, so that their ids and names are distinct
  const fresh = own.map((step): Step => {
    const id = freshId(named, step.id.replace(/\d+$/, "") || step.id);
    const copy = { ...step, id, name: freshName(named, step.name.replace(/ \d+$/, "")) };
    ids.set(step.id, id);
    named = { ...named, steps: [...named.steps, copy] };
    return copy;
  });
  const copies = fresh.map((step) => withReferences(step, ids));
  const next = { ...part, steps: [...part.steps.slice(0, last + 1), ...copies, ...part.steps.slice(last + 1)] };
  const moved = part.sinker === own.at(-1)!.id ? { ...next, sinker: copies.at(-1)!.id } : next;
  if (group === undefined) return copies.reduce((p, s) => settled(p, s.id), moved);
  const made = grouped(
    moved,
    copies.map((s) => s.id),
  );
  return withGroup(made, made.groups.at(-1)!.id, (g) => ({ ...g, name: `${group.name} copy`.slice(0, 80) }));
}
