/**
 * What was changed and is not acknowledged yet. Changes of a part are sent one after the other, each on the revision
 * that the one before it gave, also when its page was left; they are kept in the browser until the server has answered,
 * so that a reload or a closed tab loses none.
 */
import { createStore, del, entries, set } from "idb-keyval";
import { api } from "../api/client";
import { Refusal } from "../api/refusal";
import type { Message, Part, PartView } from "../api/types";

/** Sent again with its token, because its answer was lost, a change is not done twice. */
export type Change = { token: string } & ({ way: "save"; label: string; document: Part } | { way: "undo" | "redo" });

/** What a page is told of the sending of its part. */
export interface Listener {
  answered: (view: PartView, change: Change) => void;
  /** The server does not answer; the change is sent again. */
  waiting: () => void;
  /** The server does not take this change, and never will; those after it are sent. */
  refused: (why: Message) => void;
  /** Someone else changed the part; nothing more is sent. */
  overtaken: (why: Message) => void;
}

interface Kept {
  base: number;
  changes: Change[];
}

const RETRY_MS = 2000;
const TRIES = 3; // of a change at which the server fails: an error of its own may pass

const TAB = crypto.randomUUID();
const store = createStore("leadline", "unsent");
const boxes = new Map<string, Outbox>();

export const newToken = () => crypto.randomUUID();
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export class Outbox {
  changes: Change[] = [];
  listener: Listener | null = null;
  overtaken: Message | null = null;
  private underWay: Promise<void> | null = null;

  constructor(
    readonly part: string,
    public base: number,
  ) {}

  get empty(): boolean {
    return this.changes.length === 0;
  }

  /** The document as it is with all that is to be sent; null when that is for the server to say. */
  get newest(): Part | null {
    const last = this.changes.at(-1);
    return last?.way === "save" ? last.document : null;
  }

  add(change: Change): Promise<void> {
    this.changes.push(change);
    void this.keep();
    return this.send();
  }

  /** Send what there is; ends when all is answered, or someone else was first. */
  send(): Promise<void> {
    this.underWay ??= this.sendAll().finally(() => (this.underWay = null));
    return this.underWay;
  }

  /** Forget what was not sent. */
  drop(): void {
    this.changes = [];
    this.overtaken = null;
    void this.keep();
  }

  private async sendAll(): Promise<void> {
    let tries = 0;
    for (let change = this.changes[0]; change && this.overtaken === null; change = this.changes[0]) {
      try {
        const view = await deliver(this.part, this.base, change);
        this.base = view.revision;
        this.done(change);
        this.listener?.answered(view, change);
      } catch (error) {
        const { status, detail } = reasonOf(error);
        if (status === 409) {
          this.overtaken = detail;
          this.listener?.overtaken(detail);
        } else if (status === 0 || status === 503 || (status >= 500 && tries + 1 < TRIES)) {
          tries += status === 0 || status === 503 ? 0 : 1;
          this.listener?.waiting();
          await pause(RETRY_MS);
          continue;
        } else {
          this.done(change);
          this.listener?.refused(detail);
        }
      }
      tries = 0;
    }
  }

  private done(change: Change): void {
    this.changes = this.changes.filter((c) => c !== change);
    void this.keep();
  }

  keep(): Promise<void> {
    const key = `${this.part}/${TAB}`;
    const kept: Kept = { base: this.base, changes: this.changes };
    return (this.empty ? del(key, store) : set(key, kept, store)).catch((error: unknown) =>
      console.warn("unsent changes are not kept in this browser", error),
    );
  }
}

function deliver(part: string, base: number, change: Change): Promise<PartView> {
  return change.way === "save"
    ? api.save(part, { base, token: change.token, label: change.label, document: change.document })
    : api[change.way](part, base, change.token);
}

function reasonOf(error: unknown): { status: number; detail: Message } {
  if (error instanceof Refusal) return error;
  const text = error instanceof Error ? error.message : String(error);
  return {
    status: 400,
    detail: { level: "error", code: "unsent", text: `The change could not be sent: ${text}`, way_out: "", place: {} },
  };
}

/** The outbox of a part: the one of this page, or one with what a closed page left unsent. */
export async function outboxOf(part: string): Promise<Outbox> {
  const known = boxes.get(part);
  if (known) return known;
  const left = await leftBehind(part).catch(() => null);
  const meanwhile = boxes.get(part);
  if (meanwhile) return meanwhile;
  const box = new Outbox(part, left?.kept.base ?? 0);
  boxes.set(part, box);
  if (left) {
    box.changes = left.kept.changes;
    await box.keep().then(() => del(left.key, store)); // from now on it is this page's to send
  }
  return box;
}

/** Whether anything of any part is to be sent. */
export const unsent = () => [...boxes.values()].some((box) => !box.empty);

/**
 * What a page that is closed has kept for a part. A page that lives holds a lock of its tab's name, and sends its own.
 */
async function leftBehind(part: string): Promise<{ key: string; kept: Kept } | null> {
  const alive = new Set((await navigator.locks?.query())?.held?.map((lock) => lock.name));
  for (const [key, kept] of await entries<string, Kept>(store)) {
    const [of, tab] = key.split("/");
    if (of === part && !alive.has(tab)) return { key, kept };
  }
  return null;
}

void navigator.locks?.request(TAB, () => new Promise(() => undefined));
window.addEventListener("beforeunload", (event) => {
  if (unsent()) event.preventDefault();
});
