import { IDBFactory } from "fake-indexeddb";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Message, Part } from "../api/types";
import { PATIENCE } from "../test/patience";

const EMPTY: Part = {
  format: "leadline-part",
  version: 1,
  name: "Bar",
  units: "mm",
  material: null,
  values: [],
  steps: [],
  sinker: null,
  groups: [],
  colours: {},
  files: {},
};

const answer = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });

interface Sent {
  base: number;
  token: string;
  label: string;
  document: Part;
}

/** A server that keeps parts as the real one does: each change on the head, done once for its token. */
class FakeServer {
  parts = new Map<string, { documents: Part[]; head: number; token: string; labels: string[] }>();
  /** What happens to the next change: the request or its answer is lost, or the server is busy. */
  fate: () => "well" | "request lost" | "answer lost" | "busy" = () => "well";
  gate: Promise<void> = Promise.resolve();
  bases: number[] = [];

  part(id: string) {
    if (!this.parts.has(id))
      this.parts.set(id, { documents: [{ ...EMPTY, name: id }], head: 1, token: "", labels: [] });
    return this.parts.get(id)!;
  }

  view(id: string) {
    const { documents, head } = this.part(id);
    return {
      id,
      revision: head,
      label: "",
      document: documents[head - 1],
      can_undo: head > 1,
      can_redo: head < documents.length,
    };
  }

  fetch = async (request: Request): Promise<Response> => {
    const [id, what] = new URL(request.url).pathname.split("/").slice(3) as [string, string];
    if (what === "build") return answer({ state: "none", steps: {}, result: null });
    if (request.method === "GET") return answer(this.view(id));
    const sent = (await request.json()) as Sent;
    await this.gate;
    const fate = this.fate();
    if (fate === "request lost") throw new TypeError("down");
    if (fate === "busy") return answer({ error: { text: "busy" } }, 503);
    const part = this.part(id);
    if (part.token !== sent.token) {
      if (sent.base !== part.head)
        return answer({ error: { level: "error", code: "overtaken", text: "changed", way_out: "", place: {} } }, 409);
      if (what === "document" && sent.label === "bad")
        return answer({ error: { level: "error", code: "bad", text: "bad", way_out: "", place: {} } }, 422);
      this.bases.push(sent.base);
      part.token = sent.token;
      if (what === "document") {
        part.documents.push(sent.document);
        part.labels.push(sent.label);
        part.head = part.documents.length;
      } else part.head = what === "undo" ? Math.max(1, part.head - 1) : Math.min(part.documents.length, part.head + 1);
    }
    if (fate === "answer lost") throw new TypeError("down");
    return answer(this.view(id));
  };
}

/** The page as it is after a reload: its modules anew, what is kept in the browser as it was. */
async function page() {
  vi.resetModules();
  const { savingOf, usePart } = await import("./part");
  const { Refusal } = await import("../api/refusal");
  const { outboxOf, unsent } = await import("./outbox");
  /** A closed page sends nothing more, and keeps nothing more. */
  const close = async () => {
    for (const part of ["x", "y"]) {
      const box = await outboxOf(part);
      box.keep = () => Promise.resolve();
      box.changes = [];
    }
  };
  return { state: () => usePart.getState(), saving: () => savingOf(usePart.getState()), Refusal, unsent, close };
}

const named = (name: string) => (p: Part) => ({ ...p, name });

describe("saving", () => {
  let server: FakeServer;

  beforeEach(() => {
    server = new FakeServer();
    vi.stubGlobal("fetch", server.fetch);
    vi.stubGlobal("indexedDB", new IDBFactory());
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("shows a change at once and sends changes one after the other, each on the one before", async () => {
    const { state } = await page();
    await state().open("x");
    const first = state().change("One", named("One"));
    const second = state().change("Two", (p) => ({ ...p, name: `${p.name} and two` }));
    expect(state().document!.name).toBe("One and two");
    expect(state().saveState).toBe("saving");
    await Promise.all([first, second]);
    expect(server.bases).toEqual([1, 2]);
    expect(state()).toMatchObject({ revision: 3, saveState: "saved" });
  });

  it("says saved only when the last of several changes was answered", async () => {
    const { state } = await page();
    await state().open("x");
    const seen: string[] = [];
    server.fate = () => {
      seen.push(state().saveState);
      return "well";
    };
    await Promise.all(["One", "Two", "Three"].map((name) => state().change(name, named(name))));
    expect(seen).toEqual(["saving", "saving", "saving"]);
    expect(state().saveState).toBe("saved");
  });

  it("is not saved as it is meant while what a change is made of is asked for", async () => {
    const { state, saving, Refusal } = await page();
    await state().open("x");
    let answered!: (name: string) => void;
    const question = new Promise<string>((done) => (answered = done));
    const asked = state().meanwhile(question, (name) => void state().change(name, named(name)));
    expect(saving()).toBe("saving");
    answered("Chosen");
    await asked;
    expect(saving()).toBe("saving");
    await vi.waitUntil(() => saving() === "saved", { timeout: PATIENCE });
    expect(server.part("x").labels).toEqual(["Chosen"]);
    const refusal: Message = { level: "error", code: "no-part", text: "gone", way_out: "", place: {} };
    await state().meanwhile(Promise.reject(new Refusal(refusal, 404)), () => expect.unreachable());
    expect(state()).toMatchObject({ saveState: "saved", asking: 0, notice: { code: "no-part" } });
  });

  it("says when another window was first, sends no more; what was not sent can be given up or kept", async () => {
    const { state, unsent } = await page();
    await state().open("x");
    server.part("x").head = server.part("x").documents.push({ ...EMPTY, name: "Theirs" });
    await state().change("Mine", named("Mine"));
    expect(state().saveState).toBe("overtaken");
    await state().change("More", named("More"));
    expect(state().document!.name).toBe("Mine");
    await state().takeNewer();
    expect(state()).toMatchObject({ saveState: "saved", notice: null, document: { name: "Theirs" }, revision: 2 });
    expect(unsent()).toBe(false);
    await state().change("On theirs", named("Both"));
    expect(server.part("x").labels).toEqual(["On theirs"]);
  });

  it("goes on after a refused change, in this part and in the next", async () => {
    const { state } = await page();
    await state().open("x");
    await state().change("bad", named("Bad"));
    expect(state()).toMatchObject({ saveState: "refused", notice: { code: "bad" } });
    await state().change("Good", named("Good"));
    expect(state().saveState).toBe("saved");
    await state().open("y");
    await state().change("Also", named("Also"));
    expect([server.part("x").labels, server.part("y").labels]).toEqual([["Good"], ["Also"]]);
  });

  it("never shows or stores one part's answer in another", async () => {
    const { state } = await page();
    await state().open("x");
    await state().change("One", named("X one"));
    let open = () => {};
    server.gate = new Promise((resolve) => (open = resolve));
    const undone = state().undo();
    await state().open("y");
    expect(state().document!.name).toBe("y");
    const changed = state().change("Mine", named("Y one"));
    open();
    await Promise.all([undone, changed]);
    expect(state()).toMatchObject({ id: "y", document: { name: "Y one" }, revision: 2 });
    expect([server.view("x").document!.name, server.view("y").document!.name]).toEqual(["x", "Y one"]);
  });

  it("changes what an undo comes to, not what was before it", async () => {
    const { state } = await page();
    await state().open("x");
    await state().change("Long", named("A long name"));
    const undone = state().undo();
    const changed = state().change("Mark", (p) => ({ ...p, name: `${p.name}!` }));
    await Promise.all([undone, changed]);
    expect(server.view("x").document!.name).toBe("x!");
  });

  it("sends what was unsent when its tab was closed, and shows it at once", async () => {
    vi.useFakeTimers({ toFake: ["setTimeout"] });
    const before = await page();
    await before.state().open("x");
    server.fate = () => "request lost";
    void before.state().change("Late", named("Late"));
    await vi.waitUntil(() => before.state().saveState === "waiting", { timeout: PATIENCE });
    expect(before.unsent()).toBe(true);
    await before.close();
    const after = await page();
    server.fate = () => "well";
    await after.state().open("x");
    expect(after.state().document!.name).toBe("Late");
    await vi.waitUntil(() => after.state().saveState === "saved", { timeout: PATIENCE });
    expect(server.part("x").labels).toEqual(["Late"]);
  });

  it("loses nothing, and does nothing twice, whatever is lost on the way", async () => {
    const { setTimeout } = globalThis;
    vi.stubGlobal("setTimeout", (work: () => void) => setTimeout(work, 0)); // no pause before a change is sent again
    let seed = 5;
    const random = (n: number) => (seed = (seed * 48271) % 2147483647) % n;
    const labels: Record<string, string[]> = { x: [], y: [] };
    let { state, unsent, close } = await page();
    let open = "x";
    await state().open(open);
    server.fate = () => (["well", "well", "request lost", "answer lost", "busy"] as const)[random(5)]!;
    for (let i = 0; i < 120; i++) {
      const what = random(12);
      if (what === 0) {
        await close();
        ({ state, unsent, close } = await page());
      }
      if (what < 3) await state().open((open = random(2) ? "x" : "y"));
      const done = state().change(`${i}`, named(`${open} ${i}`));
      labels[open]!.push(`${i}`);
      if (random(2)) await done;
    }
    server.fate = () => "well";
    for (const part of ["x", "y"]) {
      await state().open(part);
      await vi.waitUntil(() => !unsent(), { timeout: PATIENCE });
      expect(server.part(part).labels).toEqual(labels[part]);
      expect(server.view(part).document!.name).toBe(`${part} ${labels[part]!.at(-1)}`);
    }
  });
});
