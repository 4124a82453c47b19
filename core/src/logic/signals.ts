import { WaitList } from "../kernel/claims.ts";
import type { Lowering } from "../lowering/lowering.ts";

interface Signal {
  readonly name: string;
  readonly waiting: WaitList;
  /** The value it was last given with. */
  value: number;
}

/** Signals by their names: who waits for one goes on when it is given next. */
export class Signals {
  private readonly signals = new Map<string, Signal>();

  constructor(private readonly lowering: Lowering) {
    lowering.replication.atStart(() => {
      for (const signal of this.signals.values()) {
        signal.waiting.reset();
        signal.value = 0;
      }
    });
  }

  of(key: string, name: string): Signal {
    let signal = this.signals.get(key);
    if (!signal) this.signals.set(key, (signal = { name, waiting: new WaitList(), value: 0 }));
    return signal;
  }

  /** All who wait for it go on, who came first before the others. */
  give(signal: Signal, value: number): void {
    const { kernel } = this.lowering;
    signal.value = value;
    while (signal.waiting.head >= 0) kernel.resume(signal.waiting.shift(kernel));
  }
}

export type { Signal };
