/**
 * What lies over the drawing: the leash of a pull, what can be projected, where paths cross, what a click would draw.
 */
import type { SketchData, Units, Vec2 } from "../api/types";
import { inUnits, trim } from "../ui/format";
import { isPoint, pointAt, type Spot } from "./edit/entities";
import type { Proposal } from "./drawing/tool";
import type { Source } from "./sources";
import styles from "./Overlays.module.css";

const LEASH_PX = 6;

type Place = (p: Vec2) => Vec2;

function pointOf({ sketch }: SketchData, item: string): Vec2 | null {
  return isPoint(sketch, item) ? pointAt(sketch, item) : null;
}

/** From a point that its constraints hold back to the pointer that pulls it. */
export function Leash({ data, item, to, place }: { data: SketchData; item: string; to: Vec2; place: Place }) {
  const from = pointOf(data, item);
  if (from === null) return null;
  const [a, b] = [place(from), place(to)];
  if (Math.hypot(a[0] - b[0], a[1] - b[1]) < LEASH_PX) return null;
  return <line className={styles.leash} data-testid="leash" x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} />;
}

/** What can be projected, faint; what a click would take, strong and by name. */
export function Sources({ sources, place, near }: { sources: Source[]; place: Place; near: Source | null }) {
  return (
    <g className={styles.sources} data-testid="sources">
      {sources.map((s, i) => {
        const points = s.line.map(place);
        const name = near !== null && s.source === near.source && s.item === near.item ? styles.near : undefined;
        return s.line.length === 1 ? (
          <circle key={i} className={name} cx={points[0]![0]} cy={points[0]![1]} r="3.4" />
        ) : (
          <polyline key={i} className={name} points={points.map((p) => p.join(",")).join(" ")} />
        );
      })}
      {near && (
        <text x={place(near.line[0]!)[0] + 12} y={place(near.line[0]!)[1] - 12}>
          {near.title}
        </text>
      )}
    </g>
  );
}

/** Where a path goes through this plane. */
export function Crossing({ at: [x, y] }: { at: Vec2 }) {
  return (
    <g className={styles.crossing} aria-label="The path crosses here">
      <circle cx={x} cy={y} r="9" />
      <path d={`M${x - 4} ${y}H${x + 4}M${x} ${y - 4}V${y + 4}`} />
    </g>
  );
}

export function SizeNote({
  tool,
  from,
  to,
  at: [x, y],
  units,
}: {
  tool: string;
  from: Vec2;
  to: Vec2;
  at: Vec2;
  units: Units;
}) {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const show = (mm: number) => trim(inUnits(mm, units), 4);
  const text =
    tool === "rectangle"
      ? `${show(2 * Math.abs(dx))} × ${show(2 * Math.abs(dy))}`
      : tool === "corner_rectangle"
        ? `${show(Math.abs(dx))} × ${show(Math.abs(dy))}`
        : tool === "circle" || tool === "ring"
          ? `Ø ${show(2 * Math.hypot(dx, dy))}`
          : `${show(Math.hypot(dx, dy))}`;
  return <text className={styles.sizeNote} x={x + 14} y={y + 22}>{`${text} ${units}`}</text>;
}

/** What is being drawn, and the constraints that a click would add. */
export function Proposed({ proposal, now, place }: { proposal: Proposal; now: Spot; place: Place }) {
  const [x, y] = place(now.at);
  const held = now.existing ?? now.onPath ?? now.onCurves ?? now.middleOf;
  return (
    <g className={styles.proposal}>
      {proposal.lines.map((l, i) => (
        <polyline key={i} points={l.map((p) => place(p).join(",")).join(" ")} />
      ))}
      <circle cx={x} cy={y} r={held === undefined ? 3 : 7} />
      {proposal.tags.map((t, i) => (
        <text key={i} x={x + 12 + 16 * i} y={y - 10}>
          {t}
        </text>
      ))}
    </g>
  );
}
