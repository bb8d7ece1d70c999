/** Sketching: the full stage, looking square at the plane, the 3D context faded behind. */
import { useElementSize } from "@mantine/hooks";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { isTyping, keyName } from "../ui/typing";
import { api } from "../api/client";
import type { PlaneData, Vec2, Vec3 } from "../api/types";
import { crossings as crossingsOf, PRINCIPAL, toSpace } from "../geometry/space";
import { carrierOf, isDrawn, isSolved, planeStepOf } from "../state/drawings";
import { stepOf, stepsBefore, usePart } from "../state/part";
import { sketchUse } from "../state/roles";
import { escape, finder, finishSpline, fitSketch, nudge, removeSelected, SKETCH_COMMANDS } from "./commands";
import { Finder } from "./Finder";
import type { PathCrossing } from "./place";
import { SidePanel } from "./SidePanel";
import { SketchCanvas } from "./SketchCanvas";
import { useSketch, whileBusy } from "./sketchStore";
import { useSketchView } from "./sketchView";
import { edgeSources, sourcesFor, type Source } from "./sources";
import { ToolBar } from "./ToolBar";
import { begin, refresh } from "./changes";
import styles from "./SketchMode.module.css";

export function SketchMode({ id }: { id: string }) {
  const { ref, width, height } = useElementSize();
  const step = usePart((s) => stepOf(s.document, id));
  const units = usePart((s) => s.document?.units ?? "mm");
  const drawn = isDrawn(step) ? step : undefined;
  const planeStep = drawn === undefined ? null : planeStepOf(drawn);
  const builtPlane = usePart((s) => s.result?.steps[planeStep ?? ""]?.data.plane);
  const plane: PlaneData | undefined = drawn?.plane.kind === "principal" ? PRINCIPAL[drawn.plane.plane] : builtPlane;
  const paths = useCrossings(id, plane);
  const saved = drawn?.sketch ?? null;

  useEffect(() => {
    void whileBusy(() => begin(id).then(fitSketch));
    return () => useSketch.getState().close();
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
    if (saved !== null && state.live !== null && JSON.stringify(state.live.sketch) !== JSON.stringify(saved))
      void refresh();
  }, [saved]);
  const { sources, loading } = useSources(id, plane);
  const busy = useSketch((s) => s.busy);
  useSketchKeys();

  if (drawn === undefined) return null;
  return (
    <div className={styles.sketchMode} ref={ref} data-busy={busy > 0 || loading}>
      {width > 0 && <SketchCanvas crossings={paths} sources={sources} units={units} profile={planeStep !== null} />}
      <ToolBar name={drawn.name} />
      <SidePanel />
      <Finder />
    </div>
  );
}

/**
 * What can be projected: nothing is offered before all of it is known; `loading` while the edges of bodies are on their
 * way.
 */
function useSources(id: string, plane: PlaneData | undefined): { sources: Source[]; loading: boolean } {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const projecting = useSketch((s) => s.tool === "project");
  const builtRevision = usePart((s) => s.builtRevision);
  const partId = usePart((s) => s.id);
  const edges = useQuery({
    queryKey: ["edges", partId, id, builtRevision],
    enabled: projecting && part !== null,
    retry: false,
    queryFn: () => api.edges(part!, id),
  });
  const made = useQuery({
    queryKey: ["built edges", partId, id, builtRevision],
    enabled: projecting && partId !== null,
    retry: 3,
    queryFn: () => api.builtEdges(partId!, id),
  });
  const sources = useMemo(() => {
    if (part === null || plane === undefined || !projecting || edges.isLoading) return [];
    return [...sourcesFor(part, result, id, plane), ...edgeSources(edges.data ?? [], made.data ?? [], plane)];
  }, [part, result, id, plane, projecting, edges.isLoading, edges.data, made.data]);
  return { sources, loading: edges.isFetching || made.isFetching };
}

/** Where the paths of earlier steps go through this plane. */
function useCrossings(id: string, plane: PlaneData | undefined): PathCrossing[] {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  return useMemo(() => {
    if (part === null || plane === undefined) return [];
    const self = part.steps.find((s) => s.id === id);
    const carrier = isDrawn(self) ? carrierOf(part, self) : null;
    const before = stepsBefore(part, id);
    const carried: PathCrossing[] = carrier === null ? [] : [{ path: carrier, at: [0, 0] }];
    return before.reduce<PathCrossing[]>((all, s) => {
      const data = result?.steps[s.id]?.data;
      if (s.id === carrier || !sketchUse(s).path || !isSolved(data)) return all;
      const lines: Vec3[][] = Object.values(data.curves).map((c) => c.map((p) => toSpace(data.plane, p)));
      return [...all, ...crossingsOf(plane, lines).map((at) => ({ path: s.id, at }))];
    }, carried);
  }, [part, result, id, plane]);
}

const ARROWS: Record<string, Vec2> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

function useSketchKeys() {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (isTyping(e.target) || e.defaultPrevented) return;
      const name = keyName(e);
      const command = SKETCH_COMMANDS.find((c) => c.key === name);
      if (command) command.run();
      else if (name === "/") finder.open();
      else if (ARROWS[name.replace("shift+", "")]) nudge(ARROWS[name.replace("shift+", "")]!, e.shiftKey);
      else if (name === "Backspace") removeSelected();
      else if (name === "Enter") finishSpline();
      else if (name === "Escape") escape();
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
