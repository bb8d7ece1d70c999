/** What the fields of each kind of step mean, as the server describes them; and walks over steps that go by it. */
import generated from "../api/kinds.gen.json";
import type { Expression, Field, Form, Gives, KindFields, Step, Use } from "../api/types";

type Thing = Record<string, unknown>;

const KINDS = { ...generated } as unknown as Record<string, KindFields>;

/**
 * Take what the server says of its kinds, of those that this program was not made with as well. Returns whether
 * anything is other than it was known.
 */
export function learnKinds(told: Record<string, KindFields>): boolean {
  const other = Object.keys(told).filter((kind) => JSON.stringify(told[kind]) !== JSON.stringify(KINDS[kind]));
  for (const kind of other) KINDS[kind] = told[kind]!;
  return other.length > 0;
}

/** All kinds by name. */
export const allKinds = (): string[] => Object.keys(KINDS);

export const fieldsOf = (kind: string): KindFields | undefined => KINDS[kind];

export const givesOf = (step: Pick<Step, "kind"> | undefined): Gives =>
  step === undefined ? "nothing" : (KINDS[step.kind]?.gives ?? "nothing");

/** The kinds that give one of these, in alphabetical order. */
export const kindsThatGive = (...gives: Gives[]): Step["kind"][] =>
  Object.keys(KINDS).filter((k) => gives.includes(KINDS[k]!.gives)) as Step["kind"][];

const isThing = (value: unknown): value is Thing =>
  typeof value === "object" && value !== null && !Array.isArray(value);

const has = (when: Field["when"], owner: Thing) => when === undefined || when[1].includes(String(owner[when[0]]));

/** The form that a value has: its tags fit, and it has no field that the form does not know. */
const formOf = (forms: Form[], value: Thing): Form | undefined =>
  forms.find(
    (f) =>
      Object.entries(f.tags).every(([k, v]) => value[k] === v) &&
      Object.keys(value).every((k) => k in f.fields || k in f.tags),
  );

/** The field of several that a value belongs to. */
function fitting(field: Field, value: unknown): Field {
  if (field.any === undefined) return field;
  return field.any.find((f) => (f.forms !== undefined) === isThing(value)) ?? field;
}

/** A value with each of its parts that `change` is for put in its place; the very same value where nothing changes. */
function walked(
  field: Field,
  value: unknown,
  use: Use | undefined,
  change: (field: Field, value: unknown, use: Use | undefined) => unknown,
): unknown {
  const own = fitting(field, value);
  if (value === null || value === undefined) return value;
  const as = use ?? own.use ?? field.use;
  if (own.each !== undefined && Array.isArray(value)) {
    // ids in a list are marked at the list
    const each = own.each.forms === undefined && own.use !== undefined ? { ...own.each, use: own.use } : own.each;
    const next = value.map((v) => walked(each, v, as, change));
    return next.every((v, i) => v === value[i]) ? value : next;
  }
  if (own.forms !== undefined && isThing(value)) {
    const form = formOf(own.forms, value);
    return form === undefined ? value : walkedFields(form.fields, value, as, change);
  }
  return change(own, value, as);
}

function walkedFields<T extends Thing>(
  fields: Record<string, Field>,
  owner: T,
  use: Use | undefined,
  change: (field: Field, value: unknown, use: Use | undefined) => unknown,
): T {
  let next = owner;
  for (const [name, field] of Object.entries(fields)) {
    if (!has(field.when, owner)) continue;
    const value = walked(field, owner[name], use, change);
    if (value !== owner[name]) next = { ...next, [name]: value };
  }
  return next;
}

/** What gives what a step can be used as, the likeliest first. */
export const FITS: Record<Use, Gives[]> = {
  path: ["path", "drawing", "body"],
  plane: ["plane"],
  section: ["drawing"],
  rail: ["path", "drawing"],
  body: ["body"],
  any: ["drawing"],
};

const USES = new WeakMap<Step, { to: string; use: Use }[]>(); // a step that changes is another object

/** The steps that a step refers to, each once with what it is used as, in the order of its fields. */
export function usesOf(step: Step): { to: string; use: Use }[] {
  const known = USES.get(step);
  if (known !== undefined) return known;
  const found: { to: string; use: Use }[] = [];
  walkedFields(KINDS[step.kind]?.fields ?? {}, step as unknown as Thing, undefined, (field, value, use) => {
    if (field.use !== undefined && typeof value === "string" && !found.some((f) => f.to === value))
      found.push({ to: value, use: use ?? field.use });
    return value;
  });
  USES.set(step, found);
  return found;
}

/** Names of faces and edges begin with their step, and may name another one inside. */
const renamed = (text: string, ids: ReadonlyMap<string, string>): string =>
  text.replace(/(^|&|inside\/)([A-Za-z_][\w-]*)(?=[/:])/g, (all, before: string, id: string) =>
    ids.has(id) ? before + ids.get(id)! : all,
  );

/** The step with the steps that it refers to, and those in names of faces and edges, called by other ids. */
export function withReferences(step: Step, ids: ReadonlyMap<string, string>): Step {
  return walkedFields(KINDS[step.kind]?.fields ?? {}, step as unknown as Thing, undefined, (field, value) => {
    if (typeof value !== "string") return value;
    if (field.use !== undefined) return ids.get(value) ?? value;
    return value.includes("/") ? renamed(value, ids) : value;
  }) as unknown as Step;
}

/** The step with each of its lengths changed. */
export function withLengths(step: Step, change: (length: Expression) => Expression): Step {
  return walkedFields(KINDS[step.kind]?.fields ?? {}, step as unknown as Thing, undefined, (field, value) =>
    field.measure === "length" && (typeof value === "number" || typeof value === "string") ? change(value) : value,
  ) as unknown as Step;
}
