import type { Kernel } from "../kernel/kernel.ts";
import type { Measure } from "../measures/info.ts";
import type { MeasureSpec, MeasureSpecs } from "../measures/spec.ts";
import type { Node } from "../model/model.ts";
import type { Level } from "../statistics/level.ts";
import { Tally } from "../statistics/tally.ts";
import type { Counter } from "./counter.ts";
import type { Source } from "./keeping.ts";
import { Measured } from "./measured.ts";
import type { Watching } from "./watching.ts";

/** Something measured: set back when the warm-up ends, and when a replication begins. */
interface Meter {
  /** Forgets the past at the end of the warm-up; what is so now stays. */
  restart(): void;
  /** Forgets everything; where it is missing, that is what `restart` does. */
  reset?(): void;
}

/** What is measured: meters, and the figures that are read from them. */
export class Meters {
  /** Figures in the order in which they were declared. */
  readonly figures: Measure[] = [];
  /** Of what every observation can be kept. */
  readonly sources: Source[] = [];
  /** Told when the past is forgotten at the end of the warm-up. */
  onRestart: (() => void) | undefined;
  private readonly meters: Meter[] = [];
  private readonly waits = new Map<number, Tally[]>();
  private measuredFrom = 0;

  constructor(
    private readonly kernel: Kernel,
    private readonly watching: Watching,
  ) {}

  /** Seconds measured so far: since the start, or since the warm-up ended. */
  get time(): number {
    return this.kernel.now - this.measuredFrom;
  }

  level(): Level {
    return this.add(this.watching.level());
  }

  tally(): Tally {
    return this.add(new Tally());
  }

  counter(): Counter {
    return this.add(this.watching.counter());
  }

  add<M extends Meter>(meter: M): M {
    this.meters.push(meter);
    return meter;
  }

  /** What declares the figures of an owner, of measures that its kind describes. */
  of<M extends MeasureSpecs>(owner: { readonly id: string; readonly name: string }, kind: string, specs: M) {
    return new Measured(owner, kind, specs, this.figures, () => this.time, this.sources);
  }

  throughput(measured: Measured<{ throughput: MeasureSpec }>, done: Counter): void {
    measured.add("throughput", () => done.n / this.time);
  }

  /** Declares a tally of waits at the element that is being prepared, for groups that merge them. */
  showWaits(tally: Tally): void {
    const list = this.waits.get(this.watching.element);
    if (list) list.push(tally);
    else this.waits.set(this.watching.element, [tally]);
  }

  waitsOf(node: Node): Tally[] {
    return this.waits.get(node.index) ?? [];
  }

  /** Begins a replication. */
  reset(): void {
    this.measuredFrom = 0;
    for (const meter of this.meters) {
      if (meter.reset) meter.reset();
      else meter.restart();
    }
  }

  /** Discards everything measured so far. */
  restart(): void {
    this.measuredFrom = this.kernel.now;
    for (const meter of this.meters) meter.restart();
    this.onRestart?.();
  }
}
