/** Keys to commands. A field that is being typed in keeps its keys. */
import { useEffect } from "react";
import { useView } from "../state/view";
import { openLocker } from "../ui/openLocker";
import { isTyping, keyName } from "../ui/typing";
import { COMMANDS } from "./commands";

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
