/** Values and steps called by another name, in all expressions that use them as well: the server reads these. */
import { api } from "../api/client";
import type { Part, StepReport } from "../api/types";
import { usePart, withStep } from "./part";

/** Whatever is changed while the server answers is renamed as well. */
async function renamed(what: "value" | "step", name: string, to: string): Promise<{ from: Part; document: Part }> {
  const from = usePart.getState().document!;
  const document = await api.rename(from, what, name, to);
  return usePart.getState().document === from ? { from, document } : renamed(what, name, to);
}

const take = (what: "value" | "step", name: string, to: string): Promise<void> =>
  usePart.getState().meanwhile(renamed(what, name, to), ({ from, document }) => {
    void usePart.getState().change(`Rename to ${to}`, (part) => (part === from ? document : part));
  });

export const renameValue = (name: string, to: string): Promise<void> => take("value", name, to);

/** A step whose path no expression measures has its name in one place alone, and is renamed without the server. */
export function renameStep(id: string, to: string): Promise<void> {
  if (JSON.stringify(usePart.getState().document).includes("length(")) return take("step", id, to);
  return usePart.getState().change(`Rename to ${to}`, (part) => withStep(part, id, (step) => ({ ...step, name: to })));
}

/** The names of the steps that use a value, as the last build tells, in the order of the part. */
export function usersOf(part: Part, reports: Record<string, StepReport> | undefined, value: string): string[] {
  return part.steps.filter((s) => reports?.[s.id]?.values.includes(value)).map((s) => s.name);
}
