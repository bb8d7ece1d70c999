/** A face's name, as it goes through edits, in words. */
import { usePart } from "../state/part";
import { trim } from "../ui/format";

export function faceTitle(name: string): string {
  const [stepId, kind, edge, piece] = name.split("/");
  const { document, result } = usePart.getState();
  const step = document?.steps.find((s) => s.id === stepId);
  if (step === undefined) return "Body";
  if (kind === "cap") return `${step.name} · ${edge} face`;
  const data = result?.steps[step.id]?.data as { pieces?: { kind: string; from: number; to: number; origin: string }[] } | undefined;
  const run = data?.pieces?.find((p) => p.origin === piece);
  const along = run ? `, along ${run.kind} ${piece} (${trim(run.to - run.from)} mm)` : "";
  return `${step.name} · side of ${edge}${along}`;
}
