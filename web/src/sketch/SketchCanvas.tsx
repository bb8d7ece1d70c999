/** The sketch on the screen: what is drawn, and what the tool in hand would draw. */
import { useCallback, useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Units, Vec2 } from "../api/types";
import { Axes, Combs, Curves, Faults, Figures, Legs, Points, Tags } from "./Drawing";
import { propose } from "./drawing/drawing";
import { inUnits, trim } from "../ui/format";
import { ScaleBar } from "../ui/ScaleBar";
import { FigureInput } from "./FigureInput";
import { Crossing, Leash, Proposed, SizeNote, Sources } from "./Overlays";
import { snap, type PathCrossing } from "./place";
import { isDrawTool } from "./sketchKeys";
import { useSketch } from "./sketchStore";
import { toScreen, useSketchView } from "./sketchView";
import { sourceAt, type Source } from "./sources";
import { useCanvasPointer, type Pointer } from "./useCanvasPointer";
import clsx from "clsx";
import styles from "./SketchCanvas.module.css";

interface Props {
  crossings: PathCrossing[];
  sources: Source[];
  units: Units;
  profile: boolean;
}

/** Of more constraints the tags wait until the pull ends: to draw them takes longer than all the rest. */
const TAGS_WHILE_PULLED = 100;

function editFigure(id: string): void {
  const { tool, set } = useSketch.getState();
  if (!isDrawTool(tool)) set({ editing: id });
}

export function SketchCanvas({ crossings, sources, units, profile }: Props) {
  const view = useSketchView(useShallow(({ cx, cy, scale, width, height }) => ({ cx, cy, scale, width, height })));
  const { live, moved, pulled, tool, selection, dispute, editing, wiggle, comb } = useSketch(
    useShallow(({ live, moved, pulled, tool, selection, dispute, editing, wiggle, comb }) => ({
      live,
      moved,
      pulled,
      tool,
      selection,
      dispute,
      editing,
      wiggle,
      comb,
    })),
  );
  const data = moved ?? live;
  const chosen = useMemo(() => new Set(selection), [selection]);
  const against = useMemo(() => new Set(dispute?.against ?? []), [dispute]);
  const { pointer, hover, on } = useCanvasPointer(data, { crossings, sources, units });
  const place = useCallback((p: Vec2) => toScreen(view, p), [view]);
  if (data === null) return <p className={clsx(styles.sketchWait, "soft")}>Solving the sketch…</p>;
  const shared = { data, place, selection: chosen, against, hover, wiggle };
  const { pick } = useSketch.getState();
  return (
    <>
      <svg
        className={styles.sketchCanvas}
        data-tool={tool}
        width={view.width}
        height={view.height}
        data-testid="sketch-canvas"
        data-scale={view.scale}
        {...on}
        onContextMenu={(e) => e.preventDefault()}
      >
        <Axes place={place} width={view.width} height={view.height} />
        {crossings.map((c, i) => (
          <Crossing key={i} at={place(c.at)} />
        ))}
        {tool === "project" && (
          <Sources
            sources={sources}
            place={place}
            near={pointer === null ? null : sourceAt(sources, pointer.at, view.scale)}
          />
        )}
        <Legs data={data} place={place} />
        {comb && <Combs data={data} place={place} />}
        <Curves {...shared} />
        <Faults data={data} place={place} profile={profile} />
        {(moved === null || data.sketch.constraints.length <= TAGS_WHILE_PULLED) && (
          <Tags {...shared} units={units} onPick={pick} />
        )}
        <Figures {...shared} units={units} onPick={pick} onEdit={editFigure} />
        <Points {...shared} />
        {moved && pulled && <Leash data={moved} item={pulled.item} to={pulled.to} place={place} />}
        {pointer !== null && <Ahead pointer={pointer} crossings={crossings} units={units} place={place} />}
      </svg>
      <ScaleBar scale={view.scale} units={units} className={styles.scale} />
      {pointer !== null && (
        <output className={clsx(styles.where, "figures")} aria-label="Where the pointer is">
          {pointer.at.map((c) => trim(Number(inUnits(c, units).toFixed(units === "in" ? 3 : 2)))).join(", ")} {units}
        </output>
      )}
      {editing !== null && <FigureInput key={editing} id={editing} data={data} place={place} units={units} />}
    </>
  );
}

/** What a click at the pointer would draw, and its size. */
function Ahead({
  pointer,
  crossings,
  units,
  place,
}: {
  pointer: Pointer;
  crossings: PathCrossing[];
  units: Units;
  place: (p: Vec2) => Vec2;
}) {
  const { live, tool, clicks, sides } = useSketch(
    useShallow(({ live, tool, clicks, sides }) => ({ live, tool, clicks, sides })),
  );
  const scale = useSketchView((s) => s.scale);
  if (live === null || !isDrawTool(tool)) return null;
  const now = snap(live, pointer.at, scale, crossings, pointer.alt);
  const proposal = propose(tool, live.sketch, clicks, now, { alt: pointer.alt, shift: pointer.shift, sides });
  const last = clicks.at(-1);
  return (
    <>
      <Proposed proposal={proposal} now={now} place={place} />
      {last !== undefined && (
        <SizeNote tool={tool} from={last.at} to={pointer.at} at={place(pointer.at)} units={units} />
      )}
    </>
  );
}
