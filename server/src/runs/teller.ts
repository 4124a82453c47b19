import type { Logger } from "pino";

/** Milliseconds between two tellings of one run. */
const BETWEEN = 200;

/** Tells of changes of runs: at once, and then of each run at most every so often, the last change always. */
export class Teller {
  private readonly timers = new Map<string, NodeJS.Timeout>();
  private readonly changed = new Set<string>();
  private readonly going = new Set<Promise<void>>();

  constructor(
    private readonly send: (id: string) => Promise<void>,
    private readonly log: Logger,
  ) {}

  /** `atOnce` where it is the last that there is to tell: nobody waits for the end of a run that is over. */
  tell(id: string, atOnce = false): void {
    if (this.timers.has(id) && !atOnce) {
      this.changed.add(id);
      return;
    }
    const sent: Promise<void> = this.send(id)
      .catch((error: unknown) => this.log.error({ err: error, run: id }, "a change of a run could not be told"))
      .finally(() => this.going.delete(sent));
    this.going.add(sent);
    clearTimeout(this.timers.get(id));
    this.changed.delete(id);
    this.timers.set(
      id,
      setTimeout(() => {
        this.timers.delete(id);
        if (this.changed.delete(id)) this.tell(id);
      }, BETWEEN),
    );
  }

  async close(): Promise<void> {
    for (const timer of this.timers.values()) clearTimeout(timer);
    await Promise.all(this.going);
  }
}
