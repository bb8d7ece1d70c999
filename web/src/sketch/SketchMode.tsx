/** Sketching: the full stage, looking square at the plane, the 3D context faded behind. */
import { ActionIcon, Button, Tooltip } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import { useEffect, useMemo } from "react";
import { isTyping, keyName } from "../commands/keys";
import type { PlaneData, SketchData, Vec3 } from "../api/types";
import { crossings as crossingsOf, PRINCIPAL, toSpace } from "../stage/space";
import { stepOf, usePart } from "../state/part";
import { useView } from "../state/view";
import { MessageLine } from "../ui/MessageLine";
import { addConstraint, applies, removeItems, toggleConstruction } from "./edit";
import { bounds, type PathCrossing } from "./place";
import { completeSpline } from "./pending";
import { SketchCanvas } from "./SketchCanvas";
import { CONSTRAINTS, TOOLS } from "./sketchKeys";
import { giveUp, keepAsReference, useSketch } from "./sketchStore";
import { useSketchView } from "./sketchView";
import { useWiggle } from "./wiggle";
import { ToolGlyph } from "./ToolGlyph";
import "./Sketch.css";

export function SketchMode({ id }: { id: string }) {
  const { ref, width, height } = useElementSize();
  const step = usePart((s) => stepOf(s.document, id));
  const units = usePart((s) => s.document?.units ?? "mm");
  const planeStep = step?.kind === "sketch" && step.plane.kind === "step" ? step.plane.step : null;
  const builtPlane = usePart((s) => s.result?.steps[planeStep ?? ""]?.data.plane);
  const plane: PlaneData | undefined = step?.kind === "sketch" && step.plane.kind === "principal" ? PRINCIPAL[step.plane.plane] : builtPlane;
  const paths = useCrossings(id, plane);
  const live = useSketch((s) => s.live);
  const saved = step?.kind === "sketch" ? step.sketch : null;

  useEffect(() => {
    void useSketch.getState().begin(id).then(fit);
    return () => useSketch.getState().end();
  }, [id]);
  useEffect(() => {
    if (plane) useSketchView.getState().set({ plane });
  }, [plane]);
  useEffect(() => {
    if (width > 0) useSketchView.getState().set({ width, height });
  }, [width, height]);
  useEffect(() => {
    // undo, redo and other windows change the saved sketch under us
    const state = useSketch.getState();
    if (saved !== null && state.live !== null && JSON.stringify(state.live.sketch) !== JSON.stringify(saved)) void state.refresh();
  }, [saved]);
  useSketchKeys();

  if (step?.kind !== "sketch") return null;
  return (
    <div className="sketch-mode" ref={ref}>
      {width > 0 && <SketchCanvas crossings={paths} units={units} />}
      <ToolBar name={step.name} onPath={paths[0]?.path ?? null} />
      <SidePanel empty={live?.sketch.entities.length === 0} />
    </div>
  );
}

function fit() {
  const { live } = useSketch.getState();
  const view = useSketchView.getState();
  const box = live === null ? null : bounds(live);
  if (box === null) return view.set({ cx: 0, cy: 0, scale: Math.min(view.width, view.height) / 260 });
  const room = 1.75;
  const scale = Math.min(view.width / Math.max(box.width * room, 1e-3), view.height / Math.max(box.height * room, 1e-3), 60);
  view.set({ cx: box.centre[0], cy: box.centre[1], scale });
}

/** Where the paths of earlier steps go through this plane. */
function useCrossings(id: string, plane: PlaneData | undefined): PathCrossing[] {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  return useMemo(() => {
    if (part === null || plane === undefined) return [];
    const own = part.steps.find((s) => s.id === id);
    const square = own?.kind === "sketch" && own.plane.kind === "step" ? part.steps.find((s) => s.id === (own.plane as { step: string }).step) : undefined;
    if (square?.kind === "plane") return [{ path: square.path.step, at: [0, 0] }];
    const before = part.steps.slice(0, part.steps.findIndex((s) => s.id === id));
    return before.flatMap((s) => {
      const data = result?.steps[s.id]?.data as Partial<SketchData> | undefined;
      if (s.kind !== "sketch" || !data?.curves || !data.plane) return [];
      const lines: Vec3[][] = Object.values(data.curves).map((c) => c.map((p) => toSpace(data.plane!, p)));
      return crossingsOf(plane, lines).map((at) => ({ path: s.id, at }));
    });
  }, [part, result, id, plane]);
}

function leave() {
  useView.getState().sketch(null);
}

function constrain(kind: (typeof CONSTRAINTS)[number]["kind"], onPath: string | null) {
  const { selection, edit, set } = useSketch.getState();
  if (selection.length === 0) return;
  const title = CONSTRAINTS.find((c) => c.kind === kind)!.title;
  const path = kind === "on_path" ? onPath : null;
  void edit(`Add ${title.toLowerCase()}`, (sketch) => {
    const many = (kind === "horizontal" || kind === "vertical") && selection.every((i) => sketch.entities.some((e) => e.id === i));
    const groups = many || kind === "on_path" ? selection.map((i) => [i]) : [selection];
    const next = groups.reduce((s, items) => addConstraint(s, kind, items, path), sketch);
    return { sketch: next, added: next.constraints.at(-1)!.id };
  }).then((kept) => kept && set({ selection: [] }));
}

function remove() {
  const { selection, edit, set } = useSketch.getState();
  if (selection.length === 0) return;
  set({ selection: [] });
  void edit("Delete", (sketch) => removeItems(sketch, new Set(selection)));
}

function useSketchKeys() {
  const { start } = useWiggle();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (isTyping(e.target) || e.defaultPrevented) return;
      const store = useSketch.getState();
      const name = keyName(e).replace(/^([A-Z])$/, e.shiftKey ? "shift+$1" : "$1");
      const tool = TOOLS.find((t) => t.key === name);
      const constraint = CONSTRAINTS.find((c) => c.key === name);
      if (tool) store.use(tool.tool);
      else if (constraint) constrain(constraint.kind, firstPath());
      else if (name === "J") void store.edit("Construction", (s) => toggleConstruction(s, new Set(store.selection)));
      else if (name === "Z") start();
      else if (name === "F") fit();
      else if (name === "Delete" || name === "Backspace") remove();
      else if (name === "Enter" && store.tool === "spline") {
        const made = completeSpline(store.clicks);
        store.set({ clicks: [] });
        if (made !== null) void store.edit(made.label, made.change);
      } else if (name === "Escape") escape();
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [start]);
}

/** The path that this sketch's plane stands square to, if it does. */
function firstPath(): string | null {
  const { document } = usePart.getState();
  const own = stepOf(document, useSketch.getState().step);
  if (own?.kind !== "sketch") return null;
  const square = own.plane.kind === "step" ? stepOf(document, own.plane.step) : undefined;
  if (square?.kind === "plane") return square.path.step;
  return document?.steps.find((s) => s.kind === "sketch" && s.id !== own.id)?.id ?? null;
}

/** Esc: end the chain (keeping a spline), then let go, then leave. */
function escape() {
  const store = useSketch.getState();
  if (store.clicks.length > 0) {
    const made = store.tool === "spline" ? completeSpline(store.clicks) : null;
    store.set({ clicks: [] });
    if (made !== null) void store.edit(made.label, made.change);
  } else if (store.dispute !== null) store.set({ dispute: null });
  else if (store.selection.length > 0) store.set({ selection: [] });
  else if (store.tool !== "select") store.use("select");
  else leave();
}

function ToolBar({ name, onPath }: { name: string; onPath: string | null }) {
  const tool = useSketch((s) => s.tool);
  const selection = useSketch((s) => s.selection);
  const sketch = useSketch((s) => s.live?.sketch);
  const hint = TOOLS.find((t) => t.tool === tool)!.hint;
  return (
    <>
      <div className="tool-bar" role="toolbar" aria-label="Drawing tools">
        {TOOLS.map((t) => (
          <Tooltip key={t.tool} label={`${t.title} (${t.key})`}>
            <button type="button" className={`tool ${tool === t.tool ? "on" : ""}`} aria-pressed={tool === t.tool} aria-label={t.title}
              onClick={() => useSketch.getState().use(t.tool)}>
              <ToolGlyph tool={t.tool} /><span>{t.title.split(" ")[0]}</span>
            </button>
          </Tooltip>
        ))}
      </div>
      <div className="sketch-head">
        <span><strong>{name}</strong></span>
        <span className="soft">{hint}</span>
        <Button onClick={leave}>Done</Button>
      </div>
      <div className="constraint-bar" role="toolbar" aria-label="Constraints on what is selected">
        {CONSTRAINTS.map((c) => (
          <Tooltip key={c.kind} label={`${c.title} (${c.key.replace("shift+", "Shift ")})`}>
            <button type="button" className="constraint" disabled={sketch === undefined || !applies(sketch, c.kind, selection) || (c.kind === "on_path" && onPath === null)}
              onClick={() => constrain(c.kind, onPath)}>{c.title}</button>
          </Tooltip>
        ))}
      </div>
    </>
  );
}

function SidePanel({ empty }: { empty: boolean }) {
  const { live, selection, dispute } = useSketch();
  const { start } = useWiggle();
  if (live === null) return null;
  return (
    <aside className="sketch-side" aria-label="State of the sketch">
      <p className="freedom" role="status" data-testid="freedom">
        <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
          {live.freedom > 0 ? <circle cx="7" cy="7" r="5" fill="none" stroke="var(--amber)" strokeWidth="2.2" /> : <rect x="2" y="2" width="10" height="10" fill="var(--indigo)" />}
        </svg>
        {empty ? "Nothing is drawn yet" : live.freedom === 0 ? "Settled" : `${live.freedom} still free`}
      </p>
      {live.freedom > 0 && <Button variant="default" size="compact-xs" onClick={start}>Show me (Z)</Button>}
      {selection.length > 0 && <Chosen data={live} selection={selection} />}
      {dispute !== null && (
        <MessageLine message={dispute.message}>
          {dispute.added !== null && dispute.tried.dimensions.some((d) => d.id === dispute.added) && (
            <Button size="compact-xs" onClick={() => keepAsReference(dispute)}>Make it a reference</Button>
          )}
          <Button size="compact-xs" variant="default" onClick={() => useSketch.getState().set({ dispute: null })}>Leave it</Button>
          {dispute.against.map((item) => (
            <Button key={item} size="compact-xs" variant="default" color="madder" onClick={() => giveUp(dispute, item)}>Give up {titleOf(dispute.tried, item)}</Button>
          ))}
        </MessageLine>
      )}
    </aside>
  );
}

function titleOf(sketch: SketchData["sketch"], id: string): string {
  const c = sketch.constraints.find((k) => k.id === id);
  const d = sketch.dimensions.find((k) => k.id === id);
  return c ? `${c.kind.replace("_", " ")} of ${c.items.join(", ")}` : d ? `${d.kind.replace("_", " ")} ${d.value}` : id;
}

function Chosen({ data, selection }: { data: SketchData; selection: string[] }) {
  return (
    <div className="chosen">
      {selection.map((id) => {
        const e = data.sketch.entities.find((x) => x.id === id);
        const text = id === "O" ? "origin" : e ? `${e.kind} ${id}` : data.sketch.points.some((p) => p.id === id) ? `point ${id}` : titleOf(data.sketch, id);
        return <span key={id} className="figures">{text}</span>;
      })}
      <Tooltip label="Delete (Del)"><ActionIcon variant="subtle" color="madder" size="sm" aria-label="Delete what is selected" onClick={remove}>×</ActionIcon></Tooltip>
    </div>
  );
}
