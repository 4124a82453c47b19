import type { Level } from "../statistics/level.ts";
import type { SignedTally } from "../statistics/signedTally.ts";
import type { Tally } from "../statistics/tally.ts";

/** A measure of which every observation, or every change of a level, can be kept. */
export interface Source {
  /** The owner's id and the measure's name, as figures of it have them, such as `dock/wait`. */
  readonly id: string;
  /** Which of several, where a measure is of several levels at once: the state that units are in. */
  readonly part?: string;
  readonly from: Observed;
}

/** What is looked at: observations, one by one; or what is read of levels, whenever one of them changes. */
type Observed =
  | { readonly tallies: () => readonly (Tally | SignedTally)[] }
  | { readonly levels: readonly Level[]; readonly read: () => number };

/** Told of an observation, or of the value of a level from an instant on: by the source's position, in SI units. */
export type Keep = (source: number, at: number, value: number) => void;

/**
 * Tells of every observation and of every change of a level of some sources. Only those it looks at are slowed, and
 * only in a program whose settings ask for them.
 */
export class Keeping {
  private keep: Keep | undefined;
  /** Who is told once the warm-up is over. */
  private waiting: Keep | undefined;
  private readonly levels: LevelKept[] = [];

  constructor(
    sources: readonly Source[],
    private readonly clock: Float64Array,
  ) {
    sources.forEach(({ from }, position) => {
      if ("levels" in from) this.levels.push(this.follow(from.levels, from.read, position));
      else for (const tally of from.tallies()) this.listen(tally, position);
    });
  }

  /** A replication begins, with all set up; of one with a warm-up nothing is told before `restart`. */
  begin(keep: Keep | undefined, warmUp: number): void {
    this.keep = warmUp > 0 ? undefined : keep;
    this.waiting = warmUp > 0 ? keep : undefined;
    for (const level of this.levels) level.start();
  }

  /** The warm-up is over, or the piece of a long run. */
  restart(): void {
    this.keep ??= this.waiting;
    for (const level of this.levels) level.start();
  }

  /** Tells what levels are at the end. */
  end(): void {
    for (const level of this.levels) level.end();
  }

  private listen(tally: Tally | SignedTally, position: number): void {
    const add = tally.add.bind(tally);
    tally.add = (value) => {
      add(value);
      this.keep?.(position, this.clock[0], value);
    };
    if (!("addZero" in tally)) return;
    const addZero = tally.addZero.bind(tally);
    tally.addZero = () => {
      addZero();
      this.keep?.(position, this.clock[0], 0);
    };
  }

  private follow(levels: readonly Level[], read: () => number, position: number): LevelKept {
    const kept = new LevelKept(read, this.clock, (at, value) => this.keep?.(position, at, value));
    for (const level of levels) {
      const add = level.add.bind(level);
      level.add = (change) => {
        add(change);
        kept.changed();
      };
    }
    return kept;
  }
}

/** A level as it is told: what it passes through within an instant is no value it had. */
class LevelKept {
  private at = 0;
  private value = 0;
  private told = Number.NaN;

  constructor(
    private readonly read: () => number,
    private readonly clock: Float64Array,
    private readonly tell: (at: number, value: number) => void,
  ) {}

  start(): void {
    this.at = this.clock[0];
    this.value = this.read();
    this.told = Number.NaN;
  }

  changed(): void {
    const now = this.clock[0];
    if (now > this.at) this.flush();
    this.at = now;
    this.value = this.read();
  }

  end(): void {
    this.flush();
    if (!(this.clock[0] > this.at)) return;
    this.at = this.clock[0];
    this.tell(this.at, this.value);
  }

  private flush(): void {
    if (Object.is(this.value, this.told)) return;
    this.told = this.value;
    this.tell(this.at, this.value);
  }
}
