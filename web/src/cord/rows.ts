/**
 * The rows of the cord: a step in each, and a head over the steps of each group; those of a folded one are not shown.
 */
import type { Part, Step } from "../api/types";
import { groupOf, type Group } from "../state/groups";

export const ROW = 50;

export type CordRow = { group: Group; step?: undefined } | { step: Step; group: Group | undefined };

export function rowsOf(part: Part): CordRow[] {
  const rows: CordRow[] = [];
  const headed = new Set<string>();
  for (const step of part.steps) {
    const group = groupOf(part, step.id);
    if (group !== undefined && !headed.has(group.id)) {
      headed.add(group.id);
      rows.push({ group });
    }
    if (group?.folded !== true) rows.push({ step, group });
  }
  return rows;
}

/** The row of each step: of one that is folded away that of its group's head. */
export function rowByStep(part: Part, rows: CordRow[]): Map<string, number> {
  const found = new Map<string, number>();
  const heads = new Map<string, number>();
  rows.forEach((row, i) => {
    if (row.step !== undefined) found.set(row.step.id, i);
    else heads.set(row.group.id, i);
  });
  for (const group of part.groups)
    for (const id of group.steps) if (!found.has(id)) found.set(id, heads.get(group.id) ?? 0);
  return found;
}
