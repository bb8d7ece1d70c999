/** A glyph per kind of step, from its room. */
import { isValidElement, type ReactNode } from "react";
import { roomOf } from "../kinds/rooms";
import type { Role } from "../state/roles";

const UNKNOWN = (
  <>
    <path d="M4 4h12v12H4z" />
    <circle cx="10" cy="10" r="1.4" />
  </>
);

export function StepGlyph({ kind, role }: { kind: string; role: Role }) {
  const glyph = roomOf(kind)?.glyph ?? UNKNOWN;
  const drawn = isValidElement(glyph) ? glyph : (glyph as Partial<Record<Role, ReactNode>>)[role];
  return (
    <svg
      width="20"
      height="20"
      viewBox="0 0 20 20"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
      aria-hidden="true"
    >
      {drawn}
    </svg>
  );
}
