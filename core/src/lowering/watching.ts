import type { Checked } from "../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Node } from "../model/model.ts";
import { Level } from "../statistics/level.ts";
import { Counter } from "./counter.ts";

/** A level that tells when it changes, and a counter that does: made only for elements that are watched. */
class WatchedLevel extends Level {
  constructor(
    clock: Float64Array,
    private readonly changed: () => void,
  ) {
    super(clock);
  }
  override add(change: number): void {
    super.add(change);
    if (change !== 0) this.changed();
  }
}

class WatchedCounter extends Counter {
  private count = 0;
  constructor(private readonly changed: () => void) {
    super();
    // The field of the class above would hide these.
    Object.defineProperty(this, "total", {
      get: () => this.count,
      set: (count: number) => {
        this.count = count;
        this.changed?.();
      },
    });
  }
}

/**
 * Who follows expressions, and is told at the end of an instant at which something changed that they read: gates, the
 * condition that ends a run, custom measures. Only elements that are read get levels and counters that tell; all
 * others stay plain.
 */
export class Watching {
  /** Nobody is told while a replication is being set up. */
  quiet = false;
  /** The element whose meters are being made; -1 for none. */
  element = -1;
  /** By index of the element that is read: whom to tell. */
  private readonly watchers = new Map<number, (() => void)[]>();
  /** By the id of anything else that is read. */
  private readonly others = new Map<string, (() => void)[]>();
  /** Several, where the steps of one rule are there for each of its elements. */
  private readonly askers = new Map<Checked, (() => void)[]>();

  constructor(
    private readonly kernel: Kernel,
    nodes: readonly Node[],
    followed: readonly Checked[],
  ) {
    const indexOf = new Map(nodes.map(({ element, index }) => [element.id, index]));
    for (const checked of new Set(followed)) {
      const read = new Set(checked.sources.flatMap(({ toldBy = [] }) => toldBy.flatMap((id) => indexOf.get(id) ?? [])));
      const asking: (() => void)[] = [];
      this.askers.set(checked, asking);
      const tell = () => {
        for (const ask of asking) ask();
      };
      for (const id of new Set(checked.sources.flatMap(({ toldBy = [] }) => toldBy))) {
        if (indexOf.has(id)) continue;
        const list = this.others.get(id);
        if (list) list.push(tell);
        else this.others.set(id, [tell]);
      }
      for (const index of read) {
        const list = this.watchers.get(index);
        if (list) list.push(tell);
        else this.watchers.set(index, [tell]);
      }
    }
  }

  /** Tells those who follow something that is no element that it has changed; undefined where nobody does. */
  teller(id: string): (() => void) | undefined {
    const list = this.others.get(id);
    return (
      list &&
      (() => {
        if (!this.quiet) for (const tell of list) tell();
      })
    );
  }

  level(): Level {
    const { clock } = this.kernel;
    const changed = this.tellsChanges();
    return changed ? new WatchedLevel(clock, changed) : new Level(clock);
  }

  counter(): Counter {
    const changed = this.tellsChanges();
    return changed ? new WatchedCounter(changed) : new Counter();
  }

  /**
   * Has `act` done whenever the value of a followed expression may have changed, when all else at that instant is done,
   * as long as it is `wanted`. Gives what asks for it besides, and what begins a replication.
   */
  onChangeOf(
    checked: Checked,
    act: () => void,
    wanted: () => boolean,
  ): { readonly ask: () => void; readonly start: () => void } {
    const { kernel } = this;
    let process = -1;
    const step = kernel.emit(() => {
      act();
      return SUSPEND;
    });
    const ask = (): void => {
      if (process >= 0 && wanted() && Number.isNaN(kernel.calendar.timeOf(process)))
        kernel.schedule(process, 0, EventClass.recheck);
    };
    this.askers.get(checked)?.push(ask);
    const start = (): void => {
      process = kernel.pool.take(NO_TYPE, step, kernel.clock);
      ask();
    };
    return { ask, start };
  }

  private tellsChanges(): (() => void) | undefined {
    return this.changeTeller(this.element);
  }

  /** Tells those who follow an element, by its index, that something of it has changed; undefined where nobody does. */
  changeTeller(element: number): (() => void) | undefined {
    const list = this.watchers.get(element);
    return (
      list &&
      (() => {
        if (!this.quiet) for (const tell of list) tell();
      })
    );
  }
}
