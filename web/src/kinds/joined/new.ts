/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { JoinedStep } from "./step";
import { beginning } from "../../state/beginning";
import { isOwnPath } from "../../state/paths";
import { isDrawn } from "../../state/drawings";

/** The paths before it that nothing uses yet, put end to end; null when there is none. */
export function newJoined(part: Part, used: Set<string>): JoinedStep | null {
  const loose = part.steps.filter((s) => (isDrawn(s) || isOwnPath(s)) && !used.has(s.id));
  if (loose.length === 0) return null;
  return { ...beginning(part, "joined", "Joined path"), parts: loose.map((s) => ({ step: s.id, curves: null })) };
}
