/** A face's name, as it goes through edits, in words. */
import { usePart } from "./part";
import { trim } from "../ui/format";

export function faceTitle(name: string): string {
  const [stepId, kind, edge, piece] = name.split("/");
  const { document, result } = usePart.getState();
  const step = document?.steps.find((s) => s.id === stepId);
  if (step === undefined) return "Body";
  if (kind === "cap") return `${step.name} · ${edge} face`;
  const data = result?.steps[step.id]?.data;
  const run = data?.pieces?.find((p) => p.origin === piece);
  const along = run ? `, along ${run.kind} ${piece} (${trim(run.to - run.from)} mm)` : "";
  return `${step.name} · side of ${edge}${along}`;
}

/** An edge is named by the two faces that meet there. */
export function edgeTitle(name: string): string {
  const [first = "", second = ""] = name.split("&");
  const step = usePart.getState().document?.steps.find((s) => s.id === first.split("/")[0]);
  const short = (face: string) => {
    const [, kind, part] = face.split("/");
    return kind === "cap" ? `${part} face` : `side of ${part}`;
  };
  return `${step?.name ?? "Body"} · edge of ${short(first)} and ${short(second)}`;
}
