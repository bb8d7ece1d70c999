import type { ReactNode } from "react";
import type { Tool } from "./sketchKeys";

const dot = (x: number, y: number) => <circle cx={x} cy={y} r="1.9" fill="currentColor" stroke="none" />;

const GLYPHS: Record<Tool, ReactNode> = {
  select: <path d="M6 3l10 8-5 1 3 5-2.5 1.2-2.6-5L6 16z" />,
  line: <><path d="M4 16L16 5" />{dot(4, 16)}{dot(16, 5)}</>,
  arc: <><path d="M3 15A10 10 0 0 1 17 15" />{dot(3, 15)}{dot(17, 15)}{dot(10, 11.2)}</>,
  circle: <><circle cx="10" cy="10" r="7" />{dot(10, 10)}</>,
  ring: <><circle cx="10" cy="10" r="7.5" /><circle cx="10" cy="10" r="4" /></>,
  rectangle: <><path d="M3 5h14v10H3z" />{dot(10, 10)}</>,
  spline: <><path d="M3 15c5 0 3-9 7-9s3 7 7 5" />{dot(3, 15)}{dot(10, 6)}{dot(17, 11)}</>,
  dimension: <><path d="M3 4v12M17 4v12M3 10h14M6 8l-3 2 3 2M14 8l3 2-3 2" /></>,
};

export function ToolGlyph({ tool }: { tool: Tool }) {
  return (
    <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.5" aria-hidden="true">{GLYPHS[tool]}</svg>
  );
}
