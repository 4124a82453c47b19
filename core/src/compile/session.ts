import type { RunFailure } from "../kernel/failure.ts";
import { DEFAULT_LIMITS, EventClass, Kernel, type Limits, SUSPEND } from "../kernel/kernel.ts";
import type { Read } from "../expression/index.ts";
import { Lowering } from "../lowering/lowering.ts";
import { kindOf, prepareNode } from "../elements/index.ts";
import { measureCustom, measureTogether } from "../elements/custom.ts";
import { inOrder, RUN_MEASURES } from "../elements/measures.ts";
import { followedBy, Logic, type StepWatcher, type Wrote } from "../logic/logic.ts";
import { measureRecorded } from "../logic/recorded.ts";
import { PART, STRIDE_BITS } from "../kernel/pool.ts";
import { MEASURED } from "../model/sources.ts";
import type { Model } from "../model/model.ts";
import type { Observe } from "./observations.ts";
import { withPlace } from "./failureWords.ts";
import { type Frame, frameOf } from "./frame.ts";
import { openStreams, type OwnStreams } from "../random/streams.ts";
import { type Keep, Keeping, type Source } from "../lowering/keeping.ts";
import type { Measure, MeasureInfo } from "../measures/info.ts";

export interface SessionOptions {
  readonly seed: number;
  /** Number of the replication, counted from 1; it selects the substream. */
  readonly replication: number;
  /** Whether it is the antithetic one: every draw is 1 - u where that of the replication is u. */
  readonly mirrored?: boolean;
  /** Seconds; the program's own unless given. */
  readonly length?: number;
  readonly warmUp?: number;
  readonly limits?: Partial<Limits>;
  /** Told of each entity that leaves after the warm-up. */
  readonly observe?: Observe;
  /** Told of every observation and change of what the run's settings keep, after the warm-up. */
  readonly keep?: Keep;
  /** Told of each row that steps write, those of the warm-up left out. */
  readonly wrote?: Wrote;
}

export interface ReplicationResult {
  readonly replication: number;
  /** One value a measure, in the order of the program's measures, SI units; NaN where undefined. */
  readonly values: readonly number[];
  /** By how much values may be off, by the measure's position: of those alone that are not exact. */
  readonly errors?: ReadonlyArray<readonly [measure: number, error: number]>;
  readonly events: number;
  /** Seconds from the start to which it ran. */
  readonly until: number;
  /** Why it stopped early, if it did; `values` then hold what was measured up to there. */
  readonly failure?: RunFailure;
}

/**
 * One replication in progress: advance it, look at it, read its results. The
 * model is lowered once; `begin` starts another replication with the same steps,
 * which saves that work and lets the engine keep what it learnt of them.
 */
export class Session {
  readonly measures: readonly Measure[];
  /** Seconds from the start at which it ends. */
  length = 0;
  private readonly kernel: Kernel;
  private readonly lowering: Lowering;
  /** The instant it has been advanced to; the clock between events. */
  private reached = 0;
  /** Seconds from the start at which measuring begins. */
  warmUp = 0;

  /** What is kept of, in the order of their positions. */
  readonly kept: readonly Source[];
  private readonly keeping: Keeping | undefined;
  private readonly logic: Logic | undefined;
  private replication = 0;
  private readers: Read[] | undefined;
  private readonly discard: number;

  constructor(
    private readonly model: Model,
    options: SessionOptions,
  ) {
    const { nodes, ways } = model;
    const describe = (at: number) => {
      if (at < nodes.length) return { name: nodes[at].element.name, id: nodes[at].element.id };
      const way = ways[at - nodes.length];
      return {
        name: `the link from ${nodes[way.from].element.name} to ${nodes[way.to].element.name}`,
        id: way.link.id,
      };
    };
    const kernel = new Kernel(model.attributeCount, describe, (place) => this.lowering.places.get(place).at);
    this.kernel = kernel;
    const followed = [
      model.stop.condition,
      ...model.custom.map(({ value }) => value),
      ...nodes.map((node) => kindOf(node.element).follows?.(node)),
      ...(model.logic ? followedBy(model.logic) : []),
      ...ways.map(({ settings }) => settings.get("beltStands")),
      ...model.followed.map(({ closedWhile }) => closedWhile),
    ];
    this.lowering = new Lowering(
      model,
      kernel,
      openStreams(options.seed, options.replication, ownStreams(model)),
      followed.filter((checked) => checked !== undefined),
    );

    this.discard = kernel.emit((token) => {
      this.lowering.meters.restart();
      kernel.pool.release(token);
      return SUSPEND;
    });
    // Rules say what they listen to before elements are made.
    this.logic = model.logic && new Logic(model.logic, this.lowering);
    const lowerAll = nodes.map((node) => prepareNode(node, this.lowering));
    lowerAll.forEach((lower, index) => {
      kernel.emittingFor = index;
      lower();
    });
    kernel.emittingFor = -1;
    for (const custom of model.custom)
      if (custom.measure.kind === "recorded") measureRecorded(custom, this.lowering, this.logic);
    this.logic?.lower();
    if (model.stop.count !== undefined || model.stop.condition) {
      this.lowering.meters.of({ id: "run", name: "Run" }, "run", RUN_MEASURES).add("length", () => kernel.now);
    }
    this.lowering.expressions.provide(MEASURED, {
      of: (id) => {
        const figures = this.lowering.meters.figures.filter(({ ownerId }) => ownerId === id);
        return (figures.find((f) => f.id === "sum") ?? figures[0])?.read ?? (() => Number.NaN);
      },
    });
    for (const custom of model.custom) measureCustom(custom, this.lowering);
    for (const { element, members } of model.families.list) measureTogether(element, "family", members, this.lowering);
    this.lowering.finish();
    const { meters } = this.lowering;
    this.measures = inOrder(meters.figures);
    const wanted = new Set(model.settings.kept);
    this.kept = meters.sources.filter(({ id }) => wanted.has(id));
    if (this.kept.length > 0) this.keeping = new Keeping(this.kept, kernel.clock);
    meters.onRestart = () => this.keeping?.restart();
    this.begin(options);
  }

  /** Begins a replication; what ran before leaves no trace in it. */
  begin(options: SessionOptions): void {
    const { seed, replication, mirrored, length = this.model.length, warmUp = this.model.warmUp, limits } = options;
    const { kernel } = this;
    this.length = length;
    this.warmUp = warmUp;
    this.replication = replication;
    this.reached = 0;
    const { mostEntities, mostEvents } = this.model.settings;
    kernel.reset({ ...DEFAULT_LIMITS, entities: mostEntities, events: mostEvents, ...limits });
    if (this.logic)
      this.logic.wrote =
        options.wrote && ((table, at, values) => (at < this.warmUp ? undefined : options.wrote!(table, at, values)));
    this.lowering.population.departing = options.observe && this.observing(options.observe);
    if (warmUp > 0) kernel.startProcess(this.discard, warmUp, EventClass.capacityChange);
    this.lowering.begin(seed, replication, mirrored);
    this.keeping?.begin(options.keep, warmUp);
  }

  /** Tells somebody of entities that leave; those of the warm-up are left out. */
  private observing(observe: Observe): (token: number, node: number) => void {
    const { pool, clock } = this.kernel;
    const { attributeCount } = pool;
    const part = (token: number, which: number) => pool.floats[(token << STRIDE_BITS) + which];
    return (token, node) => {
      if (clock[0] < this.warmUp) return;
      observe({
        at: clock[0],
        node,
        type: pool.typeOf(token),
        timeInSystem: clock[0] - pool.bornAt(token),
        waiting: part(token, PART.waiting),
        worked: part(token, PART.worked),
        attributes: pool.attributes.subarray(token * attributeCount, (token + 1) * attributeCount),
      });
    };
  }

  /** Has somebody told of what steps do: of what they log, and where watching stops. */
  watchSteps(watcher: StepWatcher): void {
    if (this.logic) this.logic.watcher = watcher;
  }

  /** Seconds from the start. */
  get time(): number {
    return this.kernel.ended ? this.kernel.now : Math.max(this.reached, this.kernel.now);
  }

  get ended(): boolean {
    return this.kernel.ended;
  }

  get events(): number {
    return this.kernel.events;
  }

  get failure(): RunFailure | undefined {
    return this.kernel.failure;
  }

  /**
   * Runs all events up to and at `time`. Stops early after `most` events;
   * returns whether it got there. Where it stops has no influence on results.
   */
  advanceTo(time: number, most = Infinity): boolean {
    return this.advance(time, Math.min(time, this.length), most);
  }

  /** Runs all events before `time`, which lies before the end, as `advanceTo` does those up to it. */
  advanceUpTo(time: number, most = Infinity): boolean {
    return this.advance(time, before(time), most);
  }

  private advance(time: number, lastEvent: number, most: number): boolean {
    const { kernel } = this;
    const stopped = kernel.run(lastEvent, Math.min(most, kernel.eventsLeft));
    // Events at the very end of the run still happen; then it is over.
    if (!stopped && lastEvent >= this.length) kernel.end(this.length);
    if (stopped && kernel.eventsLeft <= 0 && !kernel.ended) {
      kernel.fail({
        code: "event-budget",
        message: `The replication used up its budget of ${kernel.events} events.`,
        hint: "Shorten the run, or look for something that happens far too often.",
      });
    }
    if (stopped && !kernel.ended) this.reached = kernel.now;
    else this.reached = Math.min(time, this.length);
    return !stopped || kernel.ended;
  }

  /** Runs one event and all that follows from it at its instant. */
  step(): void {
    if (!this.kernel.run(this.length, 1) && this.kernel.nextTime > this.length) this.kernel.end(this.length);
    this.reached = this.kernel.now;
  }

  /** Runs events until the condition holds after one, or the end. True if it came to hold. */
  advanceUntil(condition: (session: Session) => boolean): boolean {
    while (!this.ended) {
      this.step();
      if (condition(this)) return true;
    }
    return false;
  }

  /** The measures as they stand now. */
  values(): number[] {
    return this.measures.map((measure) => measure.read());
  }

  result(): ReplicationResult {
    this.keeping?.end();
    const { failure } = this.kernel;
    const errors = this.measures.flatMap(({ error }, i): [number, number][] => {
      const off = error?.() ?? 0;
      return off > 0 ? [[i, off]] : [];
    });
    return {
      replication: this.replication,
      values: this.values(),
      ...(errors.length > 0 ? { errors } : {}),
      events: this.kernel.events,
      until: this.kernel.now,
      ...(failure ? { failure: withPlace(failure, this.model) } : {}),
    };
  }

  /**
   * What was measured up to the instant it has been advanced to, as the `number`-th piece; from there on
   * everything is measured anew, and goes on as it is.
   */
  cut(number: number): ReplicationResult {
    this.kernel.waitUntil(this.reached);
    const result = { ...this.result(), replication: number };
    this.lowering.meters.restart();
    return result;
  }

  /** What the displays show now, all their values in order; NaN where one cannot be read. Reads only. */
  shown(): Float64Array {
    return Float64Array.from(this.shownReaders, (read) => read(-1));
  }

  /** One of the values that `shown` gives. */
  shownAt(position: number): number {
    return this.shownReaders[position](-1);
  }

  private get shownReaders(): readonly Read[] {
    return (this.readers ??= this.model.displays.flatMap(({ values }) =>
      values.map((checked) => checked?.compile(this.lowering.expressions.environment(0)) ?? (() => Number.NaN)),
    ));
  }

  /** What is counted beside an element's symbol now, as a frame has it. */
  countAt(element: number): number {
    return this.lowering.shown.countOf(this.model.nodes[element]);
  }

  /**
   * How many random numbers each stream of the document has given in this replication; those of the members of a
   * family are its own.
   */
  draws(): ReadonlyMap<number, number> {
    const each = this.lowering.expressions.draws();
    if (this.model.families.none) return each;
    const found = new Map(each);
    const counted = new Set<number>();
    eachMembersStream(this.model, (stream, of) => {
      if (stream === of || counted.has(stream)) return;
      counted.add(stream);
      found.set(of, (found.get(of) ?? 0) + (each.get(stream) ?? 0));
    });
    return found;
  }

  /** A picture of the instant, for watching. Reads only: it changes nothing of the run. */
  frame(): Frame {
    return frameOf(this.lowering, this.time, this.ended);
  }
}

/** The last number before one above 0. */
function before(time: number): number {
  const cell = new BigInt64Array(new Float64Array([time]).buffer);
  cell[0] -= 1n;
  return new Float64Array(cell.buffer)[0];
}

/** What the measures of a design are, without their values. */
export const measureInfos = (measures: readonly Measure[]): MeasureInfo[] =>
  measures.map(({ read: _, error: __, ...info }) => info);

/** Streams that are set apart; what is said of a family's holds for that of each member. */
function ownStreams(model: Model): OwnStreams {
  const own = new Map(model.study.streams.map((of) => [of.stream, of]));
  if (own.size === 0 || model.families.none) return own;
  const found = new Map<number, (typeof model.study.streams)[number]>(own);
  eachMembersStream(model, (stream, of) => {
    const said = own.get(of);
    if (said) found.set(stream, said);
  });
  return found;
}

/** Goes through the streams of all settings, with that of the document which each stands for. */
function eachMembersStream(
  { document, design, families }: Model,
  visit: (stream: number, ofDocument: number) => void,
): void {
  const inherit = (streams: Streamed["streams"], of: Streamed["streams"]) => {
    for (const [setting, stream] of Object.entries(streams)) visit(stream, of[setting]);
  };
  design.entityTypes.forEach(({ streams }, i) => inherit(streams, document.entityTypes[families.typeAt(i)].streams));
  design.elements.forEach(({ streams }, i) => inherit(streams, document.elements[families.elementAt(i)].streams));
  design.links.forEach(({ streams }, i) => inherit(streams, document.links[families.linkAt(i)].streams));
}

type Streamed = { readonly streams: Readonly<Record<string, number>> };
