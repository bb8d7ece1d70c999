/** New steps: what has a default is said by the description alone. */
import { readFileSync, readdirSync, existsSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import type { Part, Step } from "../api/types";
import { beginning, defaultsOf } from "../state/beginning";
import { allKinds, fieldsOf } from "../state/fields";

const HERE = __dirname;
const ROOMS = readdirSync(HERE).filter((room) => existsSync(join(HERE, room, "new.ts")));
const EMPTY = { name: "x", units: "mm", values: [], steps: [] } as unknown as Part;

/** The fields of the object that a room's new step begins with, with their texts. */
function written(room: string): [string, string][] {
  const text = readFileSync(join(HERE, room, "new.ts"), "utf8");
  const body = /\.\.\.beginning\([^;]*?\),([^;]*?)\}\s*;/.exec(text)?.[1] ?? "";
  return [...body.matchAll(/(?:^|,)\s*(\w+): ([^\n]*?)(?=,\s*(?:\/\/.*)?(?:\n|$)|\s*$)/gm)].map((m) => [m[1]!, m[2]!]);
}

const asValue = (text: string): unknown => {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
};

describe("new steps", () => {
  it("are looked at in every room that makes some", () => {
    expect(ROOMS.length).toBeGreaterThan(25);
    expect(ROOMS.map((room) => written(room).length).reduce((a, b) => a + b)).toBeGreaterThan(50);
  });

  it.each(ROOMS)("repeat no default: %s", (room) => {
    const known = fieldsOf(room)!.fields;
    for (const [name, text] of written(room)) {
      const value = asValue(text);
      if (value !== undefined) expect([name, value]).not.toEqual([name, known[name]?.default]);
    }
  });

  it.each(allKinds())("have all that has a default, and no part of it together: %s", (kind) => {
    const [one, other] = [beginning(EMPTY, kind as Step["kind"], "New"), beginning(EMPTY, kind as Step["kind"], "New")];
    const wanted = Object.entries(fieldsOf(kind)!.fields).filter(([, f]) => f.default !== undefined);
    expect(one).toMatchObject(Object.fromEntries(wanted.map(([n, f]) => [n, f.default])));
    expect({ kind: one.kind, off: one.off }).toEqual({ kind, off: false });
    for (const [name, value] of Object.entries(defaultsOf(kind as Step["kind"])))
      if (typeof value === "object" && value !== null) expect(value).not.toBe((other as unknown as never)[name]);
  });
});
