import type { EntityType } from "../document/schema.ts";
import { NUMBER, TIME } from "../quantity/index.ts";
import { mergeTallies, type Tally } from "../statistics/tally.ts";
import type { Contents } from "./contents.ts";
import type { Standing } from "./standing.ts";
import type { Lowering } from "./lowering.ts";
import { FIRST_PART, PART, PARTS, STRIDE_BITS, type TokenPool } from "../kernel/pool.ts";

const PART_LABELS: Readonly<Record<keyof typeof PART, string>> = {
  waiting: "Time waiting in lines",
  worked: "Time worked on",
  moving: "Time moving",
  dwelling: "Time dwelling",
  blocked: "Time blocked",
};

/** Sums of the parts of time in the system over departed entities. */
class PartSums {
  readonly sums = new Float64Array(PARTS);
  /** Time inside others. */
  held = 0;
  /** Time in which the work on them stood still. */
  stood = 0;
  restart(): void {
    this.sums.fill(0);
    this.held = 0;
    this.stood = 0;
  }
}

/** What is measured of each entity type, with no set-up. */
export class EntityTypeMeter {
  private readonly inSystem;
  private readonly created;
  private readonly lost;
  private readonly consumed;
  /** Times in the system by exit; merged for the type as a whole. */
  private readonly times: Tally[] = [];
  private readonly parts: PartSums;

  private readonly pool: TokenPool;

  private standing: Standing | undefined;

  constructor(
    private readonly type: EntityType,
    private readonly lowering: Lowering,
  ) {
    this.pool = lowering.kernel.pool;
    this.inSystem = lowering.level();
    this.created = lowering.counter();
    this.lost = lowering.counter();
    this.consumed = lowering.counter();
    this.parts = lowering.meter(new PartSums());
    const add = lowering.measuresOf(type, "entity type");
    add("created", "Created", NUMBER, () => this.created.n);
    add("departed", "Departed", NUMBER, () => this.departed);
    add("lost", "Lost", NUMBER, () => this.lost.n);
    add(
      "lost.share",
      "Lost, share of those that ended",
      NUMBER,
      () => this.lost.n / (this.departed + this.lost.n + this.consumed.n),
    );
    if (lowering.model.nodes.some(({ element: { kind } }) => kind === "join" || kind === "split"))
      add("consumed", "Ended in a join or a cut", NUMBER, () => this.consumed.n);
    lowering.levelMeasures(add, "inSystem", "In system", this.inSystem);
    lowering.tallyMeasures(add, "timeInSystem", "Time in system", () => mergeTallies(this.times));
    for (const part of Object.keys(PART) as (keyof typeof PART)[]) {
      add(
        `${part}.mean`,
        `${PART_LABELS[part]}, mean`,
        TIME,
        () => this.parts.sums[PART[part] - FIRST_PART] / this.departed,
      );
    }
    if (lowering.keepsContents)
      add("held.mean", "Time held inside another, mean", TIME, () => this.parts.held / this.departed);
  }

  /** Declares the time in which work stood still as a part of its own; where nothing ever stops work, there is none. */
  countStanding(standing: Standing): void {
    this.standing = standing;
    this.lowering.measuresOf(this.type, "entity type")(
      "stood.mean",
      "Time standing still while worked on, mean",
      TIME,
      () => this.parts.stood / this.departed,
    );
  }

  enter(): void {
    this.created.total += 1;
    this.inSystem.add(1);
  }

  lose(): void {
    this.lost.total += 1;
    this.inSystem.add(-1);
  }

  /** It becomes part of another entity for good, or is cut into pieces. */
  consume(): void {
    this.consumed.total += 1;
    this.inSystem.add(-1);
  }

  private get departed(): number {
    return this.times.reduce((sum, tally) => sum + tally.count, 0);
  }

  /** A tally of times in the system of this type by one more exit. */
  exit(): Tally {
    const tally = this.lowering.tally();
    this.times.push(tally);
    return tally;
  }

  /** An entity leaves by a departure. */
  depart(token: number, contents?: Contents): void {
    if (contents) this.parts.held += contents.heldTime(token);
    if (this.standing) this.parts.stood += this.standing.of(token);
    this.inSystem.add(-1);
    const { sums } = this.parts;
    const { floats } = this.pool;
    const base = (token << STRIDE_BITS) + FIRST_PART;
    sums[0] += floats[base];
    sums[1] += floats[base + 1];
    sums[2] += floats[base + 2];
    sums[3] += floats[base + 3];
    sums[4] += floats[base + 4];
  }
}
