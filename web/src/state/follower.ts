/**
 * What a hand moves is asked for as fast as the answers come, the newest place alone; when the hand rests once more,
 * for the whole.
 */

const REST = 300; // ms without a move: a whole answer may take long, and the next move waits for it

export class Follower<T> {
  private next: T | null = null;
  private busy = false;
  private stopped = false;
  private rest: ReturnType<typeof setTimeout> | undefined;
  /** Ends when all that was asked has been answered. */
  done: Promise<void> = Promise.resolve();

  constructor(private readonly ask: (what: T, moving: boolean) => Promise<void>) {}

  to(what: T): void {
    clearTimeout(this.rest);
    this.next = what;
    this.stopped = false;
    if (!this.busy) this.done = this.run();
  }

  /** Nothing more is asked. */
  stop(): void {
    clearTimeout(this.rest);
    this.next = null;
    this.stopped = true;
  }

  /** Once all is answered nothing more is asked. */
  async end(): Promise<void> {
    await this.done;
    this.stop();
  }

  private async run(): Promise<void> {
    this.busy = true;
    let last: T | null = null;
    try {
      while (this.next !== null) {
        last = this.next;
        this.next = null;
        await this.ask(last, true);
      }
    } finally {
      this.busy = false;
    }
    const what = last;
    if (what !== null && !this.stopped) this.rest = setTimeout(() => void this.ask(what, false), REST);
  }
}
