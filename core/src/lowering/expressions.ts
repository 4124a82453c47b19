import type { Checked, Environment, Part, Read, Running, Write } from "../expression/index.ts";
import type { Kernel } from "../kernel/kernel.ts";
import { type Model, type Node, streamOf } from "../model/model.ts";
import { CHANGES, CLOCK_PART, ELEMENTS, ENTITIES, GONE } from "../model/sources.ts";
import type { Streams } from "../random/streams.ts";
import type { Replication } from "./replication.ts";
import type { Watching } from "./watching.ts";

/** What expressions read and draw from: the parts of the running model, and its random streams. */
export class Expressions implements Running {
  private readonly parts = new Map<Part<unknown>, unknown>();
  private readonly writers = new Map<string, Write>();
  private readonly properties = new Map<string, Map<string, Read>>();

  constructor(
    { days }: Pick<Model, "days">,
    private readonly kernel: Kernel,
    private readonly streams: Streams,
    private readonly replication: Replication,
    private readonly watching: Watching,
  ) {
    const { clock, pool } = kernel;
    this.provide(CLOCK_PART, { clock, days });
    this.provide(ENTITIES, { pool, clock });
    this.provide(GONE, () =>
      kernel.fail({
        code: "step-failed",
        message: "An entity is asked for that is no longer there.",
        hint: "It has left, or was removed, since it was given a name.",
      }),
    );
    this.provide(CHANGES, { teller: (id) => this.watching.teller(id) });
    this.provide(ELEMENTS, {
      readerOf: (id, property) => this.readerOf(id, property),
      writerOf: (id, property) => this.writers.get(`${id} ${property}`)!,
    });
  }

  /** Has sources find a part of the running model. */
  provide<T>(part: Part<T>, value: T): void {
    this.parts.set(part as Part<unknown>, value);
  }

  part<T>(part: Part<T>): T {
    if (!this.parts.has(part as Part<unknown>)) throw new Error(`The running model has no ${part.name}.`);
    return this.parts.get(part as Part<unknown>) as T;
  }

  /** Declares what expressions read as `Element.property`, and what sets it. */
  property({ element }: Node, name: string, read: Read, write?: Write): void {
    if (write) this.writers.set(`${element.id} ${name}`, write);
    const known = this.properties.get(element.id);
    if (known) known.set(name, read);
    else this.properties.set(element.id, new Map([[name, read]]));
  }

  private readerOf(elementId: string, property: string): Read {
    const read = this.properties.get(elementId)?.get(property);
    if (!read) throw new Error(`No reader for ${property} of element ${elementId}`);
    return read;
  }

  /**
   * The closure of a setting, drawing from the setting's own stream; `fallback` where the setting is empty or a word.
   */
  read(node: Node, field: string, fallback: number): Read {
    const checked = node.settings.get(field);
    if (!checked) return () => fallback;
    return checked.compile(this.environment(streamOf(node.element, field), node.element.id, field));
  }

  /** The same for what is made while other elements are not, whose properties it may read: compiled when first used. */
  readLater(node: Node, field: string, fallback: number): Read {
    const constant = node.settings.get(field)?.constant;
    if (constant !== undefined) return () => constant;
    let read: Read | undefined;
    return (token) => (read ??= this.read(node, field, fallback))(token);
  }

  /** The same as `read`; undefined where the setting is empty or a word. */
  optional(node: Node, field: string): Read | undefined {
    return node.settings.has(field) ? this.read(node, field, 0) : undefined;
  }

  /** Draws from 0 to 1 of a stream. */
  uniform(stream: number): () => number {
    return this.streams.stream(stream).uniform();
  }

  /** Exponential draws of mean 1 of a stream. */
  exponential(stream: number): () => number {
    return this.streams.stream(stream).exponential(1);
  }

  /** Where an expression is evaluated, drawing from a stream; what it finds wrong is told of a setting of a thing. */
  environment(stream: number, id?: string, field?: string): Environment {
    return {
      running: this,
      random: () => this.streams.stream(stream),
      fault: (fault) => this.kernel.fail({ ...fault, id, field }),
    };
  }

  /**
   * Has `act` done whenever the value of an expression that is followed may have changed, when all else at that
   * instant is done, and at the start, as long as it is `wanted`. Returns what asks for it besides.
   */
  onChangeOf(checked: Checked, act: () => void, wanted: () => boolean = () => true): () => void {
    const { ask, start } = this.watching.onChangeOf(checked, act, wanted);
    this.replication.atStart(start);
    return ask;
  }

  /** How many numbers each stream has given in this replication. */
  draws(): ReadonlyMap<number, number> {
    return this.streams.draws();
  }

  begin(seed: number, replication: number, mirrored: boolean): void {
    this.streams.begin(seed, replication, mirrored);
  }
}
