/** Styles are modules: what a component asks of one must be in it, and what is in one must be asked for. */
import { readFileSync, readdirSync } from "node:fs";
import { dirname, join, normalize } from "node:path";
import { describe, expect, it } from "vitest";

const files = readdirSync("src", { recursive: true, encoding: "utf8" }).map((f) => join("src", f));
const modules = files.filter((f) => f.endsWith(".module.css"));
const camel = (name: string) => name.replace(/-(\w)/g, (_, letter: string) => letter.toUpperCase());

function classesOf(module: string): Set<string> {
  const selectors = readFileSync(module, "utf8")
    .replace(/\{[^}]*\}/g, " ")
    .replace(/:global\([^)]*\)/g, " ");
  return new Set([...selectors.matchAll(/\.([a-z][\w-]*)/gi)].map((m) => camel(m[1]!)));
}

/** The names asked of each style module by all components together. */
function asked(): Map<string, Set<string>> {
  const of = new Map(modules.map((m) => [m, new Set<string>()]));
  for (const file of files.filter((f) => f.endsWith(".tsx"))) {
    const text = readFileSync(file, "utf8");
    for (const [, name, path] of text.matchAll(/import (\w+) from "([^"]+\.module\.css)"/g)) {
      const names = of.get(normalize(join(dirname(file), path!)))!;
      for (const use of text.replaceAll(path!, "").matchAll(new RegExp(`\\b${name}\\.(\\w+)`, "g"))) names.add(use[1]!);
    }
  }
  return of;
}

describe("style modules", () => {
  it.each([...asked()])("%s has what is asked of it, and no more", (module, names) => {
    expect([...names].sort()).toEqual([...classesOf(module)].sort());
  });
});
