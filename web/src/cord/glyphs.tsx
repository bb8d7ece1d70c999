/** A glyph per kind of step, drawn on a 20 x 20 field. */
import type { ReactNode } from "react";
import type { Role } from "../state/roles";

const GLYPHS: Record<string, ReactNode> = {
  path: <path d="M3 15c4-1 4-9 8-9s3 5 6 4" />,
  section: <><circle cx="10" cy="10" r="6" /><circle cx="10" cy="10" r="2.6" /></>,
  free: <path d="M4 15L10 5l6 10z" />,
  rail: <path d="M3 6c4-3 9 3 14 0M3 14c4-3 9 3 14 0M6 6v7M13 5.5v7.5" />,
  curve: <><path d="M3 15C5 3 15 3 17 13" /><circle cx="3" cy="15" r="1.4" /><circle cx="17" cy="13" r="1.4" /></>,
  helix: <path d="M4 16c0-3 12-3 12-6s-12-3-12-6M10 2v16" />,
  route: <path d="M3 16V9c0-3 1-4 4-4h3M13 5h4M3 16h0M10 5h3M17 5v0" />,
  hose: <path d="M2 5h4c7 0 1 10 8 10h4M2 3v4M18 13v4" />,
  joined: <><path d="M2 14h5M9 14l4-8M14 5h4" /><circle cx="8" cy="14" r="1.4" /><circle cx="13.5" cy="5.2" r="1.4" /></>,
  wound: <><path d="M3 14c5 1 5-8 14-9" strokeDasharray="2 2" /><path d="M3 11c0 5 4 5 4 1s-2-5-1-6 4 6 6 5-2-6-1-8 4 5 6 4" /></>,
  plane: <path d="M3 12l6-6h8l-6 6z M10 9v7" />,
  datum: <path d="M2 9l5-5h9l-5 5z M5 16l5-5h8l-5 5z" />,
  sweep: <><path d="M4 15c0-7 4-10 11-10" /><circle cx="4.5" cy="15" r="2.5" /><circle cx="15" cy="5" r="2.5" /></>,
  derived: <><path d="M2 15c5 0 5-7 10-7" strokeDasharray="2 2" /><path d="M6 17c5 0 6-8 12-8" /></>,
  revolve: <path d="M10 2v16M10 5h4v4l-2 2v4h-2M6 8c-3 1-3 4 0 5M4.500 12.500L6 13l-.300 1.700" />,
  crossing: <path d="M3 6h14v4H3zM8 2v16M12 2v16M8 10c1 2 3 2 4 0" />,
  projected: <><path d="M3 15c4 3 10 3 14 0" /><path d="M4 4c4 2 8 2 12 0" strokeDasharray="2 2" /><path d="M10 7v6M8 11l2 2 2-2" /></>,
  repeat: <path d="M2 14c5 1 11-7 16-6M3 9v5h3V9zM8.500 6v5h3V6zM14 3.500v5h3v-5z" />,
  edges: <><path d="M4 8l6-3 6 3v6l-6 3-6-3z" strokeWidth="0.9" opacity="0.6" /><path d="M4 8l6 3 6-3M10 11v6" strokeWidth="2.2" /></>,
  clearance: <><path d="M2 16C7 16 9 4 18 4" /><path d="M12 17h6v-5h-6z" /><path d="M11 9.500l3 2.500" strokeDasharray="1.500 1.500" /></>,
  extrude: <path d="M4 8l6-3 6 3v6l-6 3-6-3z M4 8l6 3 6-3 M10 11v6" />,
};

export function StepGlyph({ kind, role }: { kind: string; role: Role }) {
  return (
    <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.5" aria-hidden="true">
      {GLYPHS[kind === "sketch" ? role : kind]}
    </svg>
  );
}
