/** A glyph per kind of step, drawn on a 20 x 20 field. */
import type { ReactNode } from "react";
import type { Role } from "../state/roles";

const GLYPHS: Record<string, ReactNode> = {
  path: <path d="M3 15c4-1 4-9 8-9s3 5 6 4" />,
  section: <><circle cx="10" cy="10" r="6" /><circle cx="10" cy="10" r="2.6" /></>,
  free: <path d="M4 15L10 5l6 10z" />,
  plane: <path d="M3 12l6-6h8l-6 6z M10 9v7" />,
  datum: <path d="M2 9l5-5h9l-5 5z M5 16l5-5h8l-5 5z" />,
  sweep: <><path d="M4 15c0-7 4-10 11-10" /><circle cx="4.5" cy="15" r="2.5" /><circle cx="15" cy="5" r="2.5" /></>,
  extrude: <path d="M4 8l6-3 6 3v6l-6 3-6-3z M4 8l6 3 6-3 M10 11v6" />,
};

export function StepGlyph({ kind, role }: { kind: string; role: Role }) {
  return (
    <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.5" aria-hidden="true">
      {GLYPHS[kind === "sketch" ? role : kind]}
    </svg>
  );
}
