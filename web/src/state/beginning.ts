/** What a new step of a kind is to begin with, as the server describes it: what has a default gets that. */
import type { Defaulted, Part, Step, StepOf } from "../api/types";
import { fieldsOf } from "./fields";
import { freshId, freshName } from "./part";

export type Beginning<K extends Step["kind"]> = Pick<
  StepOf<K>,
  Defaulted<K> | ("id" | "name" | "off" | ("kind" & keyof StepOf<K>))
>;

/** The fields of a kind that have a default, with it. */
export function defaultsOf<K extends Step["kind"]>(kind: K): Pick<StepOf<K>, Defaulted<K>> {
  const known = Object.entries(fieldsOf(kind)?.fields ?? {}).filter(([, field]) => field.default !== undefined);
  return structuredClone(Object.fromEntries(known.map(([name, field]) => [name, field.default]))) as Pick<
    StepOf<K>,
    Defaulted<K>
  >;
}

/** A step with a name of its own and all that has a default; `stem` begins its id. */
export function beginning<K extends Step["kind"]>(
  part: Part,
  kind: K,
  name: string,
  stem: string = kind,
): Beginning<K> {
  return { ...defaultsOf(kind), id: freshId(part, stem), name: freshName(part, name), off: false, kind };
}
