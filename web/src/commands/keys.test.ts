import { describe, expect, it } from "vitest";
import { COMMANDS } from "./commands";
import { keyName } from "../ui/typing";

describe("keys", () => {
  it("gives no key to two commands", () => {
    const keys = COMMANDS.flatMap((c) => (c.keys ? [c.keys] : []));
    expect(new Set(keys).size).toBe(keys.length);
  });

  it("reads a key press the way the commands write it", () => {
    expect(keyName(new KeyboardEvent("keydown", { key: "f" }))).toBe("F");
    expect(keyName(new KeyboardEvent("keydown", { key: "?", shiftKey: true }))).toBe("?");
    expect(keyName(new KeyboardEvent("keydown", { key: "E", shiftKey: true }))).toBe("shift+E");
    expect(keyName(new KeyboardEvent("keydown", { key: "Z", ctrlKey: true, shiftKey: true }))).toBe("mod+shift+Z");
  });
});
