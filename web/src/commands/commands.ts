/** Every command once: what the locker lists, the keys reach and the ? sheet shows. */
import { exportUrl, fileUrl } from "../api/client";
import { roomOf, rooms } from "../kinds/rooms";
import { worded } from "../slip/PlainCards";
import { allKinds, fieldsOf } from "../state/fields";
import { usePart } from "../state/part";
import { isOwnPath } from "../state/paths";
import { useView } from "../state/view";
import { addDatum, addPlain, addPlane, addProfile, addQuickAlong, addRoundAlong, addSketchOn, addSweep } from "./actions";
import type { Command } from "./command";

const view = () => useView.getState();
const part = () => usePart.getState();

function save(url: string): void {
  window.location.assign(url);
}

function exported(form: "step" | "stl" | "glb"): () => void {
  return () => {
    const { id } = part();
    if (id !== null) save(exportUrl(id, form));
  };
}

export const COMMANDS: Command[] = [
  { id: "plane", title: "Plane square to a path", detail: "At its start, its end or any station", intent: "Lay out", keys: "P", run: addPlane },
  { id: "datum-offset", title: "Plane beside another", detail: "Moved along its normal; drag it in the stage", intent: "Lay out", keys: "B", run: () => addDatum("offset") },
  { id: "datum-points", title: "Plane through three points", detail: "Points of sketches", intent: "Lay out", run: () => addDatum("points") },
  { id: "datum-line", title: "Plane about a line at an angle", detail: "A line of a sketch", intent: "Lay out", run: () => addDatum("line") },
  { id: "datum-midway", title: "Plane midway between two", detail: "Or in the middle of their angle", intent: "Lay out", run: () => addDatum("midway") },
  { id: "datum-angle", title: "Plane turned out of another", detail: "By an angle about its x or y axis", intent: "Lay out", run: () => addDatum("angle") },
  { id: "datum-normal", title: "Plane by point and normal", detail: "Typed numbers", intent: "Lay out", run: () => addDatum("normal") },
  { id: "datum-face", title: "Plane on the picked face", detail: "Click a flat face first", intent: "Lay out", keys: "G", run: () => addDatum("face") },
  { id: "sketch-front", title: "Sketch seen from the front", detail: "On the XZ plane", intent: "Draw", keys: "K", run: () => addSketchOn("XZ") },
  { id: "sketch-top", title: "Sketch seen from the top", detail: "On the XY plane", intent: "Draw", run: () => addSketchOn("XY") },
  { id: "sketch-right", title: "Sketch seen from the right", detail: "On the YZ plane", intent: "Draw", run: () => addSketchOn("YZ") },
  { id: "profile", title: "Profile on the plane", detail: "A sketch on the selected or the last plane", intent: "Draw", keys: "O", run: addProfile },
  { id: "open-sketch", title: "Open the selected sketch", detail: "Draw in it", intent: "Draw", keys: "E", run: () => {
    const step = part().document?.steps.find((s) => s.id === view().selected);
    if (step?.kind === "sketch") view().sketch(step.id);
  } },
  { id: "sweep", title: "Sweep a profile along a path", detail: "Add, cut or separate; twist; wall", intent: "Sweep", keys: "W", run: addSweep },
  { id: "round", title: "Round section along the path", detail: "Plane, circle and sweep in one go", intent: "Sweep", keys: "R", run: addRoundAlong },
  { id: "quick", title: "Quick section along the path", detail: "Round, rectangle or slot without a sketch", intent: "Sweep", keys: "Q", run: addQuickAlong },
  ...rooms().flatMap((room) => room.commands ?? []),
  { id: "fit", title: "Fit the part", detail: "All of it on the stage", intent: "View", keys: "F", run: () => view().ask({ kind: "fit" }) },
  { id: "view-corner", title: "Look from the corner", detail: "", intent: "View", keys: "0", run: () => view().ask({ kind: "look", view: "corner" }) },
  { id: "view-front", title: "Look from the front", detail: "", intent: "View", keys: "1", run: () => view().ask({ kind: "look", view: "front" }) },
  { id: "view-top", title: "Look from the top", detail: "", intent: "View", keys: "2", run: () => view().ask({ kind: "look", view: "top" }) },
  { id: "view-right", title: "Look from the right", detail: "", intent: "View", keys: "3", run: () => view().ask({ kind: "look", view: "right" }) },
  { id: "view-left", title: "Look from the left", detail: "", intent: "View", keys: "4", run: () => view().ask({ kind: "look", view: "left" }) },
  { id: "view-back", title: "Look from the back", detail: "", intent: "View", keys: "5", run: () => view().ask({ kind: "look", view: "back" }) },
  { id: "view-bottom", title: "Look from below", detail: "", intent: "View", keys: "6", run: () => view().ask({ kind: "look", view: "bottom" }) },
  { id: "square", title: "Look square at the selected plane or sketch", detail: "", intent: "View", keys: "N", run: () => {
    const { selected, ask } = view();
    if (selected !== null) ask({ kind: "square", step: selected });
  } },
  { id: "slice", title: "Cut the view open", detail: "At the section's plane, or square to an axis", intent: "View", keys: "C", run: () =>
    view().set({ slice: view().slice === null ? { by: "station", at: 0, flipped: false } : null }) },
  { id: "frames", title: "Frames along the path", detail: "The section's axes at even stations", intent: "View", keys: "M", run: () => view().set({ frames: !view().frames }) },
  { id: "hide", title: "Hide or show the selected step", detail: "Its body, path or sketch in the stage", intent: "View", keys: ".", run: () => {
    const { selected, veil } = view();
    if (selected !== null) veil(selected);
  } },
  { id: "show-all", title: "Show all hidden steps", detail: "", intent: "View", keys: ",", run: () => view().set({ unseen: [] }) },
  { id: "cord", title: "Show or hide the cord", detail: "", intent: "View", keys: "[", run: () => view().set({ cord: !view().cord }) },
  { id: "slip", title: "Show or hide the slip", detail: "", intent: "View", keys: "]", run: () => view().set({ slip: !view().slip }) },
  { id: "strip", title: "Show or hide the station strip", detail: "", intent: "View", keys: "\\", run: () => view().set({ strip: !view().strip }) },
  { id: "keys", title: "The keys", detail: "What each key does", intent: "View", keys: "?", run: () => view().set({ keysOpen: true }) },
  { id: "undo", title: "Undo", detail: "", intent: "Part", keys: "mod+Z", run: () => void part().undo() },
  { id: "redo", title: "Redo", detail: "", intent: "Part", keys: "mod+shift+Z", run: () => void part().redo() },
  { id: "stop", title: "Stop the build", detail: "", intent: "Part", keys: "mod+.", run: () => part().stopBuild() },
  { id: "save-step", title: "Save as STEP", detail: "The exact bodies, by name", intent: "Part", run: exported("step") },
  { id: "save-stl", title: "Save as STL", detail: "Triangles", intent: "Part", run: exported("stl") },
  { id: "save-glb", title: "Save as glTF", detail: "Triangles with named bodies", intent: "Part", run: exported("glb") },
  { id: "save-part", title: "Save as part file", detail: "JSON, opens again as a new part", intent: "Part", run: () => {
    const { id } = part();
    if (id !== null) save(fileUrl(id));
  } },
];

/** A command for each kind that this program has no room for. */
export function learnCommands(): void {
  for (const kind of allKinds()) {
    if (roomOf(kind) !== undefined || COMMANDS.some((c) => c.id === `plain-${kind}`)) continue;
    COMMANDS.push({ id: `plain-${kind}`, title: worded(kind), detail: fieldsOf(kind)!.title, intent: "Shape", run: () => addPlain(kind) });
  }
}

/** What fits the present selection, the likeliest first. */
export function proposals(): string[] {
  const { document } = part();
  const step = document?.steps.find((s) => s.id === view().selected);
  if (document === null || document.steps.length === 0) return ["sketch-front", "sketch-top", "route", "hose", "helix"];
  if (step?.kind === "sketch") return step.plane.kind === "step" ? ["sweep", "open-sketch"] : ["round", "quick", "plane", "wound", "route", "extrude", "revolve", "open-sketch"];
  if (isOwnPath(step)) return ["quick", "round", "plane", "wound", "repeat", "clearance", "sweep"];
  if (step?.kind === "sweep" && view().face === null) return ["repeat", "wound", "clearance", "sweep", "plane"];
  if ((step?.kind === "extrude" || step?.kind === "revolve") && view().face === null) return ["repeat", "sketch-front"];
  if (view().face !== null) return ["datum-face", "datum-offset"];
  if (step?.kind === "plane" || step?.kind === "datum") return ["profile", "datum-offset", "square"];
  return ["sweep", "round", "plane"];
}
