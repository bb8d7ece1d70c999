/**
 * The line to the server that an open editor has: what follows a hand goes by it, and it tells how the builds of its
 * part go on.
 *
 * The document goes over once; then asks bring along the steps that differ from it. The line is opened again when it
 * breaks, and what was not answered is asked again.
 */
import { WebSocket as ReconnectingSocket } from "partysocket";
import type { BuildAnswer } from "./client";
import { Refusal, UNREACHED } from "./refusal";
import type { Message, Moved, Part, Step, StepReport, Vec2 } from "./types";
import { WINDOW } from "./window";

const MOST_CHANGED = 3; // steps; of more the whole document is sent
const PATIENCE = 15_000; // ms for an answer
const BUILDING = 130_000; // ms for one that the kernel has to give

interface Heard {
  /** The line stands, for the first time or again: what was said meanwhile is to be asked for. */
  opened: () => void;
  step: (id: string, state: string) => void;
  build: (state: BuildAnswer["state"]) => void;
}

type Said =
  | { event: "step"; id: string; state: string }
  | { event: "build"; state: BuildAnswer["state"] }
  | { event: "picture" }
  | { ask: number; answer?: unknown; error?: Message; dropped?: true };

type Given =
  | { question: "drag"; step: string; item: string; to: Vec2 }
  | { question: "preview"; step: string; moving: boolean; points?: number }
  | { question: "built"; step: string };

/** What each question is answered with, beside the mesh that may come along. */
interface Answers {
  drag: Moved;
  preview: PreviewAnswer;
  built: PreviewAnswer;
}

type PreviewAnswer = Pick<Previewed, "report" | "replaces">;

interface Answer<Json> {
  json: Json;
  mesh: ArrayBuffer | null;
}

interface Ask {
  document: Part;
  given: Given;
  answered: (answer: Answer<unknown> | null) => void;
  failed: (why: Refusal) => void;
}

/**
 * How many points the mesh of a preview may have while a hand moves: fewer where answers take long, by machine or by
 * line.
 */
const LEAST = 1000;
const MOST = 10_000;
const SLOW = 40; // ms
const QUICK = 20;

let budget = MOST;

export function budgetAfter(points: number, took: number): number {
  const next = took > SLOW ? points * Math.max(0.5, SLOW / took) : took < QUICK ? points * 1.25 : points;
  return Math.round(Math.min(MOST, Math.max(LEAST, next)));
}

/** The steps that differ between two documents, told by their identity; null when more differs than steps. */
export function changedSteps(from: Part, to: Part): Step[] | null {
  const { steps: before, ...others } = from;
  const { steps: after, ...same } = to;
  const keys = new Set([...Object.keys(others), ...Object.keys(same)]) as Set<keyof typeof same>;
  if ([...keys].some((k) => others[k] !== same[k])) return null;
  if (before.length !== after.length || before.some((s, i) => s.id !== after[i]!.id)) return null;
  return after.filter((s, i) => s !== before[i]);
}

/** What a message of the line says, and the mesh that comes along. */
function read(data: string | ArrayBuffer): { said: Said; mesh: ArrayBuffer | null } {
  if (typeof data === "string") return { said: JSON.parse(data) as Said, mesh: null };
  const length = new DataView(data).getUint32(0, true);
  const text = new TextDecoder().decode(new Uint8Array(data, 4, length));
  return { said: JSON.parse(text) as Said, mesh: data.slice(4 + length) };
}

export class Line {
  private readonly socket: ReconnectingSocket;
  private readonly asks = new Map<number, Ask>();
  private sent: Part | null = null;
  private serial = 0;

  constructor(
    part: string,
    private readonly heard: Heard,
  ) {
    const address = `${window.location.origin.replace(/^http/, "ws")}/api/parts/${part}/line?window=${WINDOW}`;
    this.socket = new ReconnectingSocket(address, [], { minReconnectionDelay: 300, maxReconnectionDelay: 4000 });
    this.socket.binaryType = "arraybuffer";
    this.socket.addEventListener("open", () => {
      this.sent = null;
      for (const [number, ask] of this.asks) this.send(number, ask);
      heard.opened();
    });
    this.socket.addEventListener("message", (event: MessageEvent<string | ArrayBuffer>) => this.take(event.data));
  }

  close(): void {
    this.socket.close();
    for (const ask of this.asks.values()) ask.answered(null);
    this.asks.clear();
  }

  /**
   * The answer to what is given about a document; null when a newer ask of its kind took its place. Throws `Refusal`.
   */
  ask<Asked extends Given>(document: Part, given: Asked): Promise<Answer<Answers[Asked["question"]]> | null> {
    const number = ++this.serial;
    return new Promise((resolve, reject) => {
      const patience = setTimeout(
        () => this.ended(number)?.failed(new Refusal(UNREACHED, 0)),
        given.question === "built" ? BUILDING : PATIENCE,
      );
      const ask: Ask = {
        document,
        given,
        answered: (answer) => {
          clearTimeout(patience);
          resolve(answer as Answer<Answers[Asked["question"]]> | null); // as the server's line answers this question
        },
        failed: (why) => {
          clearTimeout(patience);
          reject(why);
        },
      };
      this.asks.set(number, ask);
      if (this.socket.readyState === ReconnectingSocket.OPEN) this.send(number, ask);
    });
  }

  private send(number: number, { document, given }: Ask): void {
    let changed = this.sent === null ? null : changedSteps(this.sent, document);
    // a drag goes on where it was as long as its document is the one that was sent
    if (changed === null || changed.length > MOST_CHANGED || (given.question === "drag" && changed.length > 0)) {
      this.sent = document;
      changed = [];
      this.socket.send(JSON.stringify({ part: document }));
    }
    this.socket.send(JSON.stringify({ ask: number, slot: `${given.question} ${given.step}`, changed, given }));
  }

  private take(data: string | ArrayBuffer): void {
    const { said, mesh } = read(data);
    if ("ask" in said) {
      const ask = this.ended(said.ask);
      if (said.error) ask?.failed(new Refusal(said.error, 422));
      else ask?.answered(said.dropped ? null : { json: said.answer, mesh });
    } else if (said.event === "step") this.heard.step(said.id, said.state);
    else if (said.event === "build") this.heard.build(said.state);
  }

  private ended(number: number): Ask | undefined {
    const ask = this.asks.get(number);
    this.asks.delete(number);
    return ask;
  }
}

/** The line of the part that is open. */
let open: Line | null = null;

export function openLine(part: string, heard: Heard): Line {
  open?.close();
  open = new Line(part, heard);
  return open;
}

export function closeLine(): void {
  open?.close();
  open = null;
}

export interface Previewed {
  report: StepReport;
  /** Of all that it becomes with the bodies of the steps that it `replaces`, or of the step alone. */
  mesh: ArrayBuffer | null;
  replaces: string[];
}

/** What is asked many times a second while a hand moves something; null when a newer ask took its place. */
export const hand = {
  drag: async (document: Part, step: string, item: string, to: Vec2) => {
    const answer = (await open?.ask(document, { question: "drag", step, item, to })) ?? null;
    return answer?.json ?? null;
  },
  /** While something is `moving` a preview is only as fine as it takes to be quick. */
  preview: async (document: Part, step: string, moving: boolean): Promise<Previewed | null> => {
    const began = performance.now();
    const given = { question: "preview" as const, step, moving };
    const answer = (await open?.ask(document, moving ? { ...given, points: budget } : given)) ?? null;
    if (moving && answer !== null) budget = budgetAfter(budget, performance.now() - began);
    return previewed(answer);
  },
  /** What a step would be like that only the kernel can tell. */
  built: async (document: Part, step: string): Promise<Previewed | null> =>
    previewed((await open?.ask(document, { question: "built", step })) ?? null),
};

const previewed = (answer: Answer<PreviewAnswer> | null): Previewed | null =>
  answer === null ? null : { ...answer.json, mesh: answer.mesh };
