/** Faces and edges of bodies in words; their names, which go through edits, are not for reading. */
import type { Step } from "../api/types";
import { trim } from "../ui/format";
import { profileSource } from "./bodies";
import { curveTitle } from "./curveTitle";
import { isDrawn, sketchOf } from "./drawings";
import { usePart } from "./part";

/** Faces of bodies from files are named by what kind of surface they are. */
const SURFACES: Record<string, string> = {
  plane: "flat face",
  cylinder: "round face",
  cone: "conical face",
  sphere: "ball face",
  torus: "ring face",
  free: "free face",
};

export function faceTitle(name: string): string {
  const { document } = usePart.getState();
  const step = document?.steps.find((s) => s.id === name.split("/")[0]);
  return step === undefined ? "Body" : `${step.name} · ${ownTitle(step, name)}`;
}

/** A face of a step without the step's name. */
function ownTitle(step: Step, name: string): string {
  const [, kind, part = "", piece] = name.split("/");
  if (kind === "cap") return `${part} face`;
  if (kind === "inside") return `inside of ${faceTitle(part.replaceAll(":", "/"))}`;
  if (kind === "edge") return `rounded edge ${part}`;
  if (kind === undefined) return "face";
  if (/^\d+$/.test(kind)) return `body ${kind}, ${SURFACES[part] ?? "face"}`;
  if (kind !== "side") return SURFACES[kind] ?? `${kind} face`;
  const run = usePart.getState().result?.steps[step.id]?.data.pieces?.find((p) => p.origin === piece);
  const straight = run?.kind === "line" ? "straight" : run?.kind;
  return `side of the ${outlineTitle(step, part)}${run ? `, along ${trim(run.to - run.from)} mm of ${straight}` : ""}`;
}

/** A curve of the profile that a step carries along. */
function outlineTitle(step: Step, curve: string): string {
  const { document, result } = usePart.getState();
  const source = "profile" in step && step.profile !== null ? profileSource(step.profile) : null;
  const drawn = document?.steps.find((s) => s.id === source);
  const sketch = result?.steps[source ?? ""]?.data.sketch ?? (isDrawn(drawn) ? sketchOf(drawn) : undefined);
  const known = sketch?.entities.some((e) => e.id === curve);
  return sketch !== undefined && known ? curveTitle(sketch, curve, document?.units ?? "mm") : "outline";
}

/** An edge is named by the two faces that meet there. */
export function edgeTitle(name: string): string {
  const [first = "", second = ""] = name.split("&");
  const steps = usePart.getState().document?.steps ?? [];
  const owner = (face: string) => steps.find((s) => s.id === face.split("/")[0]);
  const [a, b] = [owner(first), owner(second)];
  if (a === undefined) return "Edge of a body";
  const other = b === undefined ? "another face" : b === a ? ownTitle(b, second) : faceTitle(second);
  return `${a.name} · edge of ${ownTitle(a, first)} and ${other}`;
}
