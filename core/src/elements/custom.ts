import type { Read } from "../expression/index.ts";
import type { Measure } from "../measures/info.ts";
import { type MeasureSpec, type MeasureSpecs, ratio } from "../measures/spec.ts";
import type { CustomModel, Node } from "../model/model.ts";
import { type Dimension, NUMBER } from "../quantity/index.ts";
import { mergeTallies, type Tally } from "../statistics/tally.ts";
import { rangeLabel, RECORDED_MEASURES } from "../logic/recorded.ts";
import { allKinds } from "./index.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Measured } from "../lowering/measured.ts";

/** What is measured of an expression that an engineer writes. */
export const CUSTOM_MEASURES = {
  mean: ratio("Average over time", "Integral over time divided by the measured time.", "(1/T) ∫ x(t) dt", {
    keeps: true,
  }),
  max: ratio("Most", "The largest value.", "max x(t)"),
  end: ratio("At the end", "The value when the run ends.", "x(T)"),
  share: ratio(
    "Share of time in which it holds",
    "Time in which the condition holds, divided by the measured time.",
    "(1/T) ∫ [holds] dt",
    { keeps: true },
  ),
  range: ratio(
    "Share of time in a range",
    "Time in which the value lies in the range, divided by the measured time.",
    "(1/T) ∫ [from ≤ x(t) < to] dt",
    { each: "range" },
  ),
  value: ratio("Value", "Worked out of the figures of other measures of your own, as they stand.", "as it is written"),
  ...RECORDED_MEASURES,
} as const satisfies MeasureSpecs;

/** What is merged over the elements of a group: whatever any kind says can be. */
export const GROUP_MEASURES: MeasureSpecs = Object.fromEntries(
  [...allKinds].reverse().flatMap(({ measures }) => Object.entries(measures).filter(([, { merge }]) => merge)),
);

/**
 * Declares a custom measure. Levels follow their expressions exactly: they change when what is read changes, at the
 * end of that instant.
 */
export function measureCustom(custom: CustomModel, lowering: Lowering): void {
  const { measure, value } = custom;
  if (measure.kind === "group") {
    measureTogether(measure, "group", custom.elements, lowering);
    return;
  }
  if (!value || measure.kind === "recorded") return;
  if (measure.kind === "derived") {
    const derived = value.compile(lowering.expressions.environment(0, measure.id, "value"));
    const dimension = value.type.kind === "number" ? value.type.dimension : NUMBER;
    lowering.meters.of(measure, "custom", CUSTOM_MEASURES).add("value", () => derived(-1), { dimension });
    return;
  }
  const measured = lowering.meters.of(measure, "custom", CUSTOM_MEASURES);
  const read = value.compile(lowering.expressions.environment(0));
  if (measure.kind === "ranges") {
    measureRanges(custom, read, lowering, measured);
    return;
  }
  const level = lowering.meters.level();
  const share = () => level.integral / lowering.meters.time;
  measured.keeps(measure.kind === "condition" ? "share" : "mean", { levels: [level], read: () => level.value });
  if (measure.kind === "condition") measured.add("share", share);
  else {
    const dimension: Dimension = value.type.kind === "number" ? value.type.dimension : NUMBER;
    measured.add("mean", share, { dimension });
    measured.add("max", () => level.max, { dimension });
    measured.add("end", () => level.value, { dimension });
  }
  lowering.expressions.onChangeOf(value, () => level.add(read(-1) - level.value));
}

/** Declares what elements have in common, merged, as figures of one owner: a group, or a family. */
export const measureTogether = (
  owner: { readonly id: string; readonly name: string },
  ownerKind: "group" | "family",
  elements: readonly number[],
  lowering: Lowering,
): void => new Group(owner, ownerKind, elements, lowering).declare();

/** Shares of time below the first bound, between each two, and from the last on. */
function measureRanges(
  { measure, value, bounds }: CustomModel,
  read: Read,
  lowering: Lowering,
  measured: Measured<typeof CUSTOM_MEASURES>,
): void {
  if (measure.kind !== "ranges" || !value) return;
  const levels = [lowering.meters.level(), ...bounds.map(() => lowering.meters.level())];
  levels.forEach((level, i) => {
    const label = rangeLabel("Share of time", measure.bounds[i - 1], measure.bounds[i]);
    measured.add("range", () => level.integral / lowering.meters.time, { each: { id: String(i), name: "" }, label });
  });
  let at = -1;
  lowering.replication.atStart(() => (at = -1));
  lowering.expressions.onChangeOf(value, () => {
    const now = read(-1);
    let range = 0;
    while (range < bounds.length && now >= bounds[range]) range += 1;
    if (range === at) return;
    if (at >= 0) levels[at].add(-1);
    levels[range].add(1);
    at = range;
  });
}

interface Member {
  readonly node: Node;
  /** Slots or units, by which its shares weigh. */
  readonly units: number;
  readonly figures: ReadonlyMap<string, Measure>;
}

/**
 * What elements of a group have in common, merged as each measure says: lines and counts are summed, waits are pooled,
 * shares are weighed by slots or units.
 */
class Group {
  private readonly members: readonly Member[];
  private readonly measured: Measured<MeasureSpecs>;

  constructor(
    owner: { readonly id: string; readonly name: string },
    ownerKind: "group" | "family",
    elements: readonly number[],
    private readonly lowering: Lowering,
  ) {
    this.measured = lowering.meters.of(owner, ownerKind, GROUP_MEASURES);
    const byOwner = new Map<string, Map<string, Measure>>();
    for (const figure of lowering.meters.figures) {
      const list = byOwner.get(figure.ownerId);
      if (list) list.set(figure.id, figure);
      else byOwner.set(figure.ownerId, new Map([[figure.id, figure]]));
    }
    this.members = elements.map((index): Member => {
      const node = lowering.model.nodes[index];
      const { units } = node.traits;
      return {
        node,
        units: (units === undefined ? undefined : node.settings.get(units)?.constant) ?? 1,
        figures: byOwner.get(node.element.id) ?? new Map(),
      };
    });
  }

  declare(): void {
    for (const [id, { merge, statistic }] of Object.entries(GROUP_MEASURES))
      if (merge === "sum") this.sum(id, statistic === "level" ? "mean" : undefined);
    this.shares();
    this.waits();
  }

  /** Figures of all members that have them, added up. */
  private sum(measure: string, part: string | undefined): void {
    const id = part === undefined ? measure : `${measure}.${part}`;
    const parts = this.members.flatMap(({ figures }) => figures.get(id) ?? []);
    if (parts.length === 0) return;
    const [{ label, dimension }] = parts;
    const { sources } = this.lowering.meters;
    const levels = this.members.flatMap(({ node }) =>
      sources.flatMap((one) => (one.id === `${node.element.id}/${measure}` && "levels" in one.from ? one.from : [])),
    );
    if (levels.length > 0)
      this.measured.keeps(measure, {
        levels: levels.flatMap((of) => of.levels),
        read: () => levels.reduce((sum, { read }) => sum + read(), 0),
      });
    this.measured.add(measure, () => parts.reduce((sum, m) => sum + m.read(), 0), {
      label: `${label}, together`,
      dimension,
      part,
    });
  }

  /** Shares of time of all slots and units, and the utilization that follows from them. */
  private shares(): void {
    const states = new Map<string, Measure>();
    for (const { figures } of this.members)
      for (const figure of figures.values()) if (figure.measure === "state") states.set(figure.id, figure);
    if (states.size === 0) return;
    const inOrder = this.lowering.meters.figures.filter((m) => states.get(m.id) !== undefined).map((m) => m.id);
    const busy = this.weighed((figures) => figures.get("state.busy")?.read);
    const off = this.shareOf("state.offShift");
    this.measured.add("utilization", () => busy() / (1 - off()), {
      label: `${(GROUP_MEASURES.utilization as MeasureSpec).label}, together`,
    });
    for (const id of new Set(inOrder)) this.measured.add("state", this.shareOf(id), { part: states.get(id)!.part });
  }

  /** A share that an element does not have is 0 there: it still weighs. */
  private shareOf(id: string): () => number {
    return this.weighed((figures) => (figures.has("state.busy") ? (figures.get(id)?.read ?? (() => 0)) : undefined));
  }

  private weighed(read: (figures: Member["figures"]) => (() => number) | undefined): () => number {
    const parts = this.members.flatMap(({ figures, units }) => {
      const found = read(figures);
      return found ? [{ read: found, units }] : [];
    });
    const whole = parts.reduce((sum, p) => sum + p.units, 0);
    return () => parts.reduce((sum, p) => sum + p.units * p.read(), 0) / whole;
  }

  /** Waits of all members, each of which counts once. */
  private waits(): void {
    const waits = this.members.flatMap(({ node }): Tally[] => this.lowering.meters.waitsOf(node));
    if (waits.length === 0) return;
    const merged = () => mergeTallies(waits);
    this.measured.tally("wait", waits, ", of all together");
    const read = () => {
      const all = merged();
      return all.sum / all.positive;
    };
    this.measured.add("waited", read, { part: "mean", of: ", of all together" });
  }
}
