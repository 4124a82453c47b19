import { EventEmitter } from "node:events";
import type { NewFigures } from "@busy-harbor/core/contract";
import type { KeptReplication } from "../store/runs.ts";

/** Milliseconds between two tellings of one run. */
const BETWEEN = 200;

/** What is new of runs' figures, told to those who follow them: replications that ended since the last telling. */
export class LiveFigures {
  private readonly events = new EventEmitter();
  private readonly pending = new Map<string, KeptReplication[]>();
  private readonly timers = new Map<string, NodeJS.Timeout>();

  constructor() {
    this.events.setMaxListeners(0);
  }

  /** Calls back with what is new of a run, at most five times a second; returns how to stop that. */
  follow(run: string, listener: (figures: NewFigures) => void): () => void {
    this.events.on(run, listener);
    return () => this.events.off(run, listener);
  }

  add(run: string, replication: KeptReplication): void {
    if (this.events.listenerCount(run) === 0) return;
    const waiting = this.pending.get(run);
    if (waiting) waiting.push(replication);
    else this.pending.set(run, [replication]);
    if (!this.timers.has(run))
      this.timers.set(
        run,
        setTimeout(() => this.tell(run), BETWEEN),
      );
  }

  close(): void {
    for (const timer of this.timers.values()) clearTimeout(timer);
  }

  private tell(run: string): void {
    this.timers.delete(run);
    const ended = this.pending.get(run) ?? [];
    this.pending.delete(run);
    if (ended.length > 0) this.events.emit(run, newFigures(ended));
  }
}

/** Replications that have just been kept, as they are sent. */
export const newFigures = (ended: readonly KeptReplication[]): NewFigures => ({
  replications: ended.map(({ number }) => number),
  values: Buffer.concat(ended.map(({ packed }) => packed)).toString("base64"),
  errors: ended.map(({ errors }) => (errors ? [...errors] : null)),
});
