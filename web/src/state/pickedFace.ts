/** A face that was clicked in the stage, as steps refer to it. */
import type { FaceProfile } from "../api/types";
import { givesOf } from "./fields";
import { usePart } from "./part";
import { useView } from "./view";

/** With where it lay, unless that is known before its solid is built. */
export function faceRef(face: string): FaceProfile {
  const step = face.split("/")[0]!;
  const owner = usePart.getState().document?.steps.find((s) => s.id === step);
  const { seen } = useView.getState();
  return { step, face, seen: owner === undefined || givesOf(owner) === "body" ? null : seen };
}
