import type { Measure } from "../measures/info.ts";
import { type MeasureSpec, type MeasureSpecs, QUANTILES } from "../measures/spec.ts";
import type { Dimension } from "../quantity/index.ts";
import type { Source } from "./keeping.ts";
import type { Level } from "../statistics/level.ts";
import { mergeTallies, type Tally } from "../statistics/tally.ts";

interface Owner {
  readonly id: string;
  readonly name: string;
}

/** What differs from the measure's own description in one figure. */
interface Particular {
  readonly label?: string;
  readonly dimension?: Dimension;
  readonly part?: string;
  /** Put behind the measure's label, before the part's. */
  readonly of?: string;
  /** The one of several things, such as entity types, that it is for. */
  readonly each?: Owner;
  readonly error?: () => number;
}

/** Declares the figures of one owner, each of a measure that its kind describes. `M` holds those. */
export class Measured<M extends MeasureSpecs> {
  constructor(
    private readonly owner: Owner,
    private readonly ownerKind: string,
    private readonly specs: M,
    private readonly all: Measure[],
    private readonly measuredTime: () => number,
    /** What every observation can be kept of. */
    private readonly sources: Source[] = [],
  ) {}

  add(measure: keyof M & string, read: () => number, more: Particular = {}): void {
    const { owner, ownerKind } = this;
    const spec: MeasureSpec = this.specs[measure];
    const { part, each, error, of = "", dimension = spec.dimension } = more;
    const id = [measure, part, each?.id].filter((name) => name !== undefined).join(".");
    const label = more.label ?? `${spec.label}${of}${part === undefined ? "" : (spec.parts?.[part] ?? "")}`;
    this.all.push({
      key: `${owner.id}/${id}`,
      ownerId: owner.id,
      owner: owner.name,
      ownerKind,
      id,
      measure,
      ...(part === undefined ? {} : { part }),
      ...(each ? { each: each.id } : {}),
      label: each?.name ? `${each.name}: ${label.charAt(0).toLowerCase()}${label.slice(1)}` : label,
      dimension,
      read,
      ...(error ? { error } : {}),
    });
  }

  /** Average, maximum and final value of a level. */
  level(measure: keyof M & string, level: Level, more: Particular = {}): void {
    this.keeps(measure, { levels: [level], read: () => level.value }, more);
    this.add(measure, () => level.integral / this.measuredTime(), { ...more, part: "mean" });
    this.add(measure, () => level.max, { ...more, part: "max" });
    this.add(measure, () => level.value, { ...more, part: "end" });
  }

  /** Has every observation, or every change of a level, to be kept if one asks for it. */
  keeps(measure: keyof M & string, from: Source["from"], { part, each }: Pick<Particular, "part" | "each"> = {}): void {
    const id = `${this.owner.id}/${measure}${each ? `.${each.id}` : ""}`;
    this.sources.push({ id, ...(part === undefined ? {} : { part }), from });
  }

  /** Mean, maximum and quantiles of a tally, or of several as one. */
  tally(measure: keyof M & string, tallies: readonly Tally[], of = ""): void {
    const tally = () => mergeTallies(tallies);
    this.keeps(measure, { tallies: () => tallies });
    this.add(measure, () => tally().mean, { part: "mean", of });
    this.add(measure, () => tally().max, { part: "max", of });
    for (const p of QUANTILES)
      this.add(measure, () => tally().quantile(p / 100).value, {
        part: `p${p}`,
        of,
        error: () => tally().quantile(p / 100).error,
      });
  }
}
