/** What a key is called, and whether it goes into a field. */

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
