import type { EntityType } from "../document/entityType.ts";
import { count, level, meanTime, type MeasureSpec, type MeasureSpecs, ratio, tally } from "../measures/spec.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Contents } from "./contents.ts";
import type { Transport } from "./transport.ts";
import type { Standing } from "./standing.ts";
import type { Kernel } from "../kernel/kernel.ts";
import type { Model } from "../model/model.ts";
import type { Meters } from "./meters.ts";
import type { Measured } from "./measured.ts";
import { FIRST_PART, PART, PARTS, STRIDE_BITS, type TokenPool } from "../kernel/pool.ts";

/** A part of the time in system: of all, and by the departure they leave by, where there are several. */
const part = (label: string, of: string, more: Partial<MeasureSpec> = {}): MeasureSpec =>
  meanTime(label, `Part of the time in system ${of}`, { each: "exit", ...more });

/** What is measured of each entity type. */
export const TYPE_MEASURES = {
  created: count("Created", "Entities that arrived after the warm-up."),
  departed: count("Departed", "Entities that left by a departure after the warm-up.", { better: "more" }),
  lost: count("Lost", "Entities that left unserved for want of room.", { better: "less" }),
  "lost.share": ratio(
    "Lost, share of those that ended",
    "Lost, divided by all that ended: departed, lost, or ended in a join or a cut.",
    "lost / (departed + lost + consumed)",
    { better: "less" },
  ),
  consumed: count(
    "Ended in a join or a cut",
    "Entities that became part of another for good, were cut into pieces, or had only held others.",
  ),
  inSystem: level("In system", "Entities in the system", { better: "less" }),
  timeInSystem: tally("Time in system", "From arrival to departure, over entities that departed after the warm-up.", {
    better: "less",
  }),
  waiting: part("Time waiting in lines", "spent in lines, over departed entities.", { better: "less" }),
  worked: part(
    "Time worked on",
    "spent being worked on, but for time in which the work stood still, over departed entities.",
  ),
  moving: part("Time moving", "spent on links, over departed entities.", { better: "less" }),
  dwelling: part("Time dwelling", "spent in dwells, over departed entities."),
  blocked: part("Time blocked", "spent with work done but no room ahead, over departed entities.", { better: "less" }),
  held: part("Time held inside another", "spent inside another entity, over departed entities."),
  waitingForVehicle: part("Time waiting for a vehicle", "spent waiting to be carried, over departed entities.", {
    better: "less",
  }),
  carried: part("Time carried", "spent being loaded, carried and unloaded, over departed entities."),
  stood: part(
    "Time standing still while worked on",
    "in which work on the entity stood still, off shift or down, over departed entities.",
    { better: "less" },
  ),
} as const satisfies MeasureSpecs;

type TimePart = keyof typeof PART | "held" | "stood" | "waitingForVehicle" | "carried";

/** Sums of the parts of time in the system over departed entities. */
class PartSums {
  readonly sums = new Float64Array(PARTS);
  /** Time inside others. */
  held = 0;
  /** Time in which the work on them stood still. */
  stood = 0;
  waitingForVehicle = 0;
  carried = 0;
  restart(): void {
    this.waitingForVehicle = 0;
    this.carried = 0;
    this.sums.fill(0);
    this.held = 0;
    this.stood = 0;
  }
}

/** A departure, with the parts of time of those of a type who leave by it. */
interface Exit {
  readonly of: { readonly id: string; readonly name: string };
  readonly times: Tally;
  readonly parts: PartSums;
}

/** Exits of all types together of which parts of time are told: of more nobody reads them. */
const MOST_EXITS = 200;

/** What is measured of each entity type, with no set-up. */
export class EntityTypeMeter {
  /** Told of each that is born, with all that it has at birth, and of each that leaves; where somebody listens. */
  onBirth: ((token: number) => void) | undefined;
  onLeave: ((token: number) => void) | undefined;
  private readonly inSystem;
  private readonly created;
  private readonly lost;
  private readonly consumed;
  /** Times in the system by exit; merged for the type as a whole. */
  private readonly times: Tally[] = [];
  private readonly parts: PartSums;
  /** The same by exit, where there are several. */
  private readonly byExit: Exit[] = [];

  private readonly pool: TokenPool;
  private readonly carries: boolean;

  private standing: Standing | undefined;
  private transport: Transport | undefined;
  private readonly measured: Measured<typeof TYPE_MEASURES>;

  constructor(
    type: EntityType,
    private readonly meters: Meters,
    model: Model,
    { pool }: Kernel,
  ) {
    this.pool = pool;
    this.carries = model.carries;
    this.inSystem = meters.level();
    this.created = meters.counter();
    this.lost = meters.counter();
    this.consumed = meters.counter();
    this.parts = meters.add(new PartSums());
    this.measured = meters.of(type, "entity type", TYPE_MEASURES);
    const { measured } = this;
    measured.add("created", () => this.created.n);
    measured.add("departed", () => this.departed);
    measured.add("lost", () => this.lost.n);
    measured.add("lost.share", () => this.lost.n / (this.departed + this.lost.n + this.consumed.n));
    if (model.nodes.some(({ traits }) => traits.consumes)) measured.add("consumed", () => this.consumed.n);
    measured.level("inSystem", this.inSystem);
    measured.tally("timeInSystem", this.times);
    for (const part of Object.keys(PART) as (keyof typeof PART)[])
      measured.add(part, () => this.parts.sums[PART[part] - FIRST_PART] / this.departed, { part: "mean" });
    if (model.carries) measured.add("held", () => this.parts.held / this.departed, { part: "mean" });
  }

  /** Declares the time in which work stood still as a part of its own; where nothing ever stops work, there is none. */
  countStanding(standing: Standing): void {
    this.standing = standing;
    this.measured.add("stood", () => this.parts.stood / this.departed, { part: "mean" });
  }

  /** Declares the times of waiting for a vehicle and of being carried as parts of their own. */
  countTransport(transport: Transport): void {
    this.transport = transport;
    for (const part of ["waitingForVehicle", "carried"] as const)
      this.measured.add(part, () => this.parts[part] / this.departed, { part: "mean" });
  }

  enter(): void {
    this.created.total += 1;
    this.inSystem.add(1);
  }

  lose(token: number): void {
    if (this.onLeave) this.onLeave(token);
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
    const tally = this.meters.tally();
    this.times.push(tally);
    return tally;
  }

  /** A departure by which entities leave: the tally of their times, and the number by which to tell that they do. */
  exitBy(of: Exit["of"]): { readonly times: Tally; readonly by: number } {
    const times = this.exit();
    this.byExit.push({ of, times, parts: this.meters.add(new PartSums()) });
    return { times, by: this.byExit.length - 1 };
  }

  /** Declares the parts of time by exit, all exits being known. */
  finish(types: number): void {
    if (this.byExit.length * types > MOST_EXITS) this.byExit.length = 0;
    if (this.byExit.length < 2) return;
    for (const { of: each, times, parts } of this.byExit) {
      const add = (part: TimePart, sum: () => number) =>
        this.measured.add(part, () => sum() / times.count, { each, part: "mean" });
      for (const part of Object.keys(PART) as (keyof typeof PART)[])
        add(part, () => parts.sums[PART[part] - FIRST_PART]);
      if (this.carries) add("held", () => parts.held);
      if (this.standing) add("stood", () => parts.stood);
      if (this.transport) {
        add("waitingForVehicle", () => parts.waitingForVehicle);
        add("carried", () => parts.carried);
      }
    }
  }

  /** An entity leaves by a departure, which has a number where it is an element of its own. */
  depart(token: number, contents?: Contents, by = -1): void {
    if (this.onLeave) this.onLeave(token);
    this.inSystem.add(-1);
    this.addParts(this.parts, token, contents);
    if (by >= 0 && this.byExit.length > 1) this.addParts(this.byExit[by].parts, token, contents);
  }

  private addParts(parts: PartSums, token: number, contents: Contents | undefined): void {
    if (contents) parts.held += contents.heldTime(token);
    if (this.standing) parts.stood += this.standing.of(token);
    if (this.transport) {
      parts.waitingForVehicle += this.transport.waitedOf(token);
      parts.carried += this.transport.carriedOf(token);
    }
    const { sums } = parts;
    const { floats } = this.pool;
    const base = (token << STRIDE_BITS) + FIRST_PART;
    sums[0] += floats[base];
    sums[1] += floats[base + 1];
    if (!this.pool.hasRareParts) return;
    sums[2] += floats[base + 2];
    sums[3] += floats[base + 3];
    sums[4] += floats[base + 4];
  }
}
