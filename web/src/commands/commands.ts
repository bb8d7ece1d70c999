/** Every command once: what the locker lists, the keys reach and the ? sheet shows. */
import { exportUrl, fileUrl } from "../api/client";
import { roomOf, rooms } from "../kinds/rooms";
import { worded } from "../ui/worded";
import { isAlong, isBody } from "../state/bodies";
import { isDrawn } from "../state/drawings";
import { allKinds, fieldsOf, givesOf } from "../state/fields";
import { FORMATS } from "../state/formats";
import { usePart } from "../state/part";
import { isOwnPath } from "../state/paths";
import { useView } from "../state/view";
import { newPlain } from "../state/plain";
import { add } from "./add";
import type { Command, Intent, Situation } from "./command";

const view = () => useView.getState();
const part = () => usePart.getState();

function save(url: string): void {
  window.location.assign(url);
}

function exported(form: string): () => void {
  return () => {
    const { id } = part();
    if (id !== null) save(exportUrl(id, form));
  };
}

/** In the order in which one builds. */
const INTENTS: Intent[] = ["Lay out", "Draw", "Route", "Sweep", "Shape", "Repeat", "Trade", "View", "Part"];

const ALL: Command[] = [
  ...rooms().flatMap((room) => room.commands ?? []),
  {
    id: "fit",
    title: "Fit the part",
    detail: "All of it on the stage",
    intent: "View",
    keys: "F",
    run: () => view().ask({ kind: "fit" }),
  },
  {
    id: "view-corner",
    title: "Look from the corner",
    detail: "",
    intent: "View",
    keys: "0",
    run: () => view().ask({ kind: "look", view: "corner" }),
  },
  {
    id: "view-front",
    title: "Look from the front",
    detail: "",
    intent: "View",
    keys: "1",
    run: () => view().ask({ kind: "look", view: "front" }),
  },
  {
    id: "view-top",
    title: "Look from the top",
    detail: "",
    intent: "View",
    keys: "2",
    run: () => view().ask({ kind: "look", view: "top" }),
  },
  {
    id: "view-right",
    title: "Look from the right",
    detail: "",
    intent: "View",
    keys: "3",
    run: () => view().ask({ kind: "look", view: "right" }),
  },
  {
    id: "view-left",
    title: "Look from the left",
    detail: "",
    intent: "View",
    keys: "4",
    run: () => view().ask({ kind: "look", view: "left" }),
  },
  {
    id: "view-back",
    title: "Look from the back",
    detail: "",
    intent: "View",
    keys: "5",
    run: () => view().ask({ kind: "look", view: "back" }),
  },
  {
    id: "view-bottom",
    title: "Look from below",
    detail: "",
    intent: "View",
    keys: "6",
    run: () => view().ask({ kind: "look", view: "bottom" }),
  },
  {
    id: "square",
    title: "Look square at the selected plane or sketch",
    detail: "",
    intent: "View",
    keys: "N",
    fits: { plane: 3 },
    run: () => {
      const { selected, ask } = view();
      if (selected !== null) ask({ kind: "square", step: selected });
    },
  },
  {
    id: "slice",
    title: "Cut the view open",
    detail: "At the section's plane, or square to an axis",
    intent: "View",
    keys: "C",
    run: () => view().set({ slice: view().slice === null ? { by: "station", at: 0, flipped: false } : null }),
  },
  {
    id: "frames",
    title: "Frames along the path",
    detail: "The section's axes at even stations",
    intent: "View",
    keys: "M",
    run: () => view().set({ frames: !view().frames }),
  },
  {
    id: "hide",
    title: "Hide or show the selected step",
    detail: "Its body, path or sketch in the stage",
    intent: "View",
    keys: ".",
    run: () => {
      const { selected, veil } = view();
      if (selected !== null) veil(selected);
    },
  },
  {
    id: "show-all",
    title: "Show all hidden steps",
    detail: "",
    intent: "View",
    keys: ",",
    run: () => view().set({ unseen: [] }),
  },
  {
    id: "cord",
    title: "Show or hide the cord",
    detail: "",
    intent: "View",
    keys: "[",
    run: () => view().set({ cord: !view().cord }),
  },
  {
    id: "slip",
    title: "Show or hide the slip",
    detail: "",
    intent: "View",
    keys: "]",
    run: () => view().set({ slip: !view().slip }),
  },
  {
    id: "strip",
    title: "Show or hide the station strip",
    detail: "",
    intent: "View",
    keys: "\\",
    run: () => view().set({ strip: !view().strip }),
  },
  {
    id: "keys",
    title: "The keys",
    detail: "What each key does",
    intent: "View",
    keys: "?",
    run: () => view().set({ keysOpen: true }),
  },
  { id: "undo", title: "Undo", detail: "", intent: "Part", keys: "mod+Z", run: () => void part().undo() },
  { id: "redo", title: "Redo", detail: "", intent: "Part", keys: "mod+shift+Z", run: () => void part().redo() },
  { id: "stop", title: "Stop the build", detail: "", intent: "Part", keys: "mod+.", run: () => part().stopBuild() },
  ...FORMATS.map(({ form, title, about }): Command => ({
    id: `save-${form}`,
    title: `Save as ${title}`,
    detail: about,
    intent: "Part",
    run: exported(form),
  })),
  {
    id: "save-triangles",
    title: "Save triangles of a chosen fineness",
    detail: "Number and size are told before",
    intent: "Part",
    run: () => view().set({ meshFilesOpen: true }),
  },
  {
    id: "save-part",
    title: "Save as part file",
    detail: "JSON, opens again as a new part",
    intent: "Part",
    run: () => {
      const { id } = part();
      if (id !== null) save(fileUrl(id));
    },
  },
];

export const COMMANDS = ALL.sort((a, b) => INTENTS.indexOf(a.intent) - INTENTS.indexOf(b.intent));

/** A command for each kind that this program has no room for. */
export function learnCommands(): void {
  for (const kind of allKinds()) {
    if (roomOf(kind) !== undefined || COMMANDS.some((c) => c.id === `plain-${kind}`)) continue;
    COMMANDS.push({
      id: `plain-${kind}`,
      title: worded(kind),
      detail: fieldsOf(kind)!.title,
      intent: "Shape",
      run: () => void add(`Add a ${kind}`, (p) => newPlain(p, kind)),
    });
  }
}

/** What there is to go on from. */
function situation(): Situation {
  const { document } = part();
  const { selected, face } = view();
  const step = document?.steps.find((s) => s.id === selected);
  if (document === null || document.steps.length === 0) return "nothing";
  if (isDrawn(step)) return step.plane.kind === "step" ? "section" : "drawing";
  if (isOwnPath(step)) return "path";
  if (face !== null) return "face";
  if (isBody(step)) return isAlong(step) ? "swept" : "solid";
  return givesOf(step) === "plane" ? "plane" : "other";
}

/** What fits the present selection, the likeliest first. */
export function proposals(): Command[] {
  const now = situation();
  return COMMANDS.filter((c) => c.fits?.[now] !== undefined).sort((a, b) => a.fits![now]! - b.fits![now]!);
}
