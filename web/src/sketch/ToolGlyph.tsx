import type { ReactNode } from "react";
import type { Tool } from "./sketchKeys";

const dot = (x: number, y: number) => <circle cx={x} cy={y} r="1.9" fill="currentColor" stroke="none" />;

const GLYPHS: Record<Tool, ReactNode> = {
  select: <path d="M6 3l10 8-5 1 3 5-2.5 1.2-2.6-5L6 16z" />,
  line: (
    <>
      <path d="M4 16L16 5" />
      {dot(4, 16)}
      {dot(16, 5)}
    </>
  ),
  arc: (
    <>
      <path d="M3 15A10 10 0 0 1 17 15" />
      {dot(3, 15)}
      {dot(17, 15)}
      {dot(10, 11.2)}
    </>
  ),
  centre_arc: (
    <>
      <path d="M15 4A11 11 0 0 1 16 15M5 11L15 4" />
      {dot(5, 11)}
      {dot(15, 4)}
      {dot(16, 15)}
    </>
  ),
  circle: (
    <>
      <circle cx="10" cy="10" r="7" />
      {dot(10, 10)}
    </>
  ),
  ring: (
    <>
      <circle cx="10" cy="10" r="7.5" />
      <circle cx="10" cy="10" r="4" />
    </>
  ),
  ellipse: (
    <>
      <ellipse cx="10" cy="10" rx="8" ry="4.6" />
      {dot(10, 10)}
      {dot(18, 10)}
    </>
  ),
  rectangle: (
    <>
      <path d="M3 5h14v10H3z" />
      {dot(10, 10)}
    </>
  ),
  corner_rectangle: (
    <>
      <path d="M3 5h14v10H3z" />
      {dot(3, 15)}
      {dot(17, 5)}
    </>
  ),
  slot: (
    <>
      <path d="M6.5 6h7a4 4 0 0 1 0 8h-7a4 4 0 0 1 0-8z" />
      {dot(10, 10)}
    </>
  ),
  arc_slot: (
    <path d="M3 14A9 9 0 0 1 17 14M6.5 16A5 5 0 0 1 13.5 16M3 14a1.9 1.9 0 0 0 3.5 2M17 14a1.9 1.9 0 0 1-3.5 2" />
  ),
  polygon: (
    <>
      <path d="M6 3.5h8l4 6.5-4 6.5H6L2 10z" />
      {dot(10, 10)}
    </>
  ),
  spline: (
    <>
      <path d="M3 15c5 0 3-9 7-9s3 7 7 5" />
      {dot(3, 15)}
      {dot(10, 6)}
      {dot(17, 11)}
    </>
  ),
  control_spline: (
    <>
      <path d="M3 16C6 2 13 20 17 5" />
      <path d="M3 16L7 4l6 12 4-11" strokeDasharray="1.5 2" strokeWidth="1" />
    </>
  ),
  dimension: <path d="M3 4v12M17 4v12M3 10h14M6 8l-3 2 3 2M14 8l3 2-3 2" />,
  project: (
    <>
      <path d="M4 4l5 3 7-3" />
      <path d="M4 13l5 3 7-3" />
      <path d="M4 6v5M9 9v5M16 6v5" strokeDasharray="1.5 1.6" strokeWidth="1" />
    </>
  ),
  trim: (
    <>
      <path d="M4 3v14M16 3v14M4 10h3M13 10h3" />
      <path d="M8 10h4" strokeDasharray="1.4 1.4" />
    </>
  ),
  extend: <path d="M16 3v14M3 10h6M10 10h5M12 7l3 3-3 3" />,
  split: <path d="M3 14L8 10M12 8.5L17 5M8.5 6l3 8" />,
  fillet: (
    <>
      <path d="M4 3v6a8 8 0 0 0 8 8h5" />
      <path d="M4 12v5h5" strokeDasharray="1.4 1.8" strokeWidth="1" />
    </>
  ),
  chamfer: (
    <>
      <path d="M4 3v7l7 7h6" />
      <path d="M4 12v5h5" strokeDasharray="1.4 1.8" strokeWidth="1" />
    </>
  ),
};

export function ToolGlyph({ tool }: { tool: Tool }) {
  return (
    <svg
      width="18"
      height="18"
      viewBox="0 0 20 20"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
      aria-hidden="true"
    >
      {GLYPHS[tool]}
    </svg>
  );
}
