/** Keys to commands. A field that is being typed in keeps its keys. */
import { useEffect } from "react";
import { openLocker } from "../locker/openLocker";
import { useView } from "../state/view";
import { COMMANDS } from "./commands";

/** "F", "mod+shift+Z", "?": the way the commands write their keys. */
export function keyName(e: KeyboardEvent): string {
  const mod = e.ctrlKey || e.metaKey;
  const letter = e.key.length === 1 ? e.key.toUpperCase() : e.key;
  const shift = e.shiftKey && (mod || e.key.length > 1 || /^[a-z]$/i.test(e.key));
  return `${mod ? "mod+" : ""}${shift ? "shift+" : ""}${letter}`;
}

/**
 * Ticks and sliders, and a choice that is not open, do not take letters, so that the keys go on working after one was
 * made.
 */
export function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLInputElement && ["checkbox", "radio", "range", "button", "file"].includes(target.type))
    return false;
  if (target instanceof HTMLInputElement && target.readOnly && target.getAttribute("aria-expanded") !== "true")
    return false;
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName))
  );
}

/** What lies over the editor has the keys to itself. */
const inDialog = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest('[role="dialog"]') !== null;

export function useKeys(): void {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (isTyping(e.target) || e.defaultPrevented || inDialog(e.target)) return;
      const name = keyName(e);
      const command = COMMANDS.find((c) => c.keys === name);
      const sketching = useView.getState().sketching !== null;
      if (sketching && command !== undefined && command.id !== "undo" && command.id !== "redo" && command.id !== "keys")
        return;
      if (name === "A" && !sketching) openLocker();
      else if (name === "Escape" && useView.getState().pick !== null) useView.getState().set({ pick: null });
      else if (name === "Escape" && !sketching) useView.getState().select(null);
      else if (command !== undefined) command.run();
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
