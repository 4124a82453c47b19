import type { Kernel } from "../kernel/kernel.ts";
import type { Model } from "../model/model.ts";
import { partedAtTurns } from "../movement/motion.ts";
import type { Route, Stretch } from "../movement/network.ts";
import type { FromTo } from "../model/fromTo.ts";
import type { Point } from "../settings/parts.ts";
import type { WaysNow } from "./waysNow.ts";

/** How far it is from one element to another, and what limits hold on the way. */
export interface Leg {
  /** Metres; Infinity where no way leads there. */
  readonly length: number;
  readonly stretches: readonly Stretch[];
  /** Of each stretch, its length in metres and its limit in metres a second: read at every step of whoever moves. */
  readonly lengths: Float64Array;
  readonly limits: Float64Array;
  /** How long it takes at any speed, where that is what is known, and its length is not; NaN elsewhere. */
  readonly seconds: number;
  /** Where it bends, both ends among them, where the next may be another; undefined where that is known of old. */
  readonly points?: readonly Point[];
}

/** How what moves gets from one element to another. */
export interface Going {
  readonly overWays: boolean;
  /** Over the ways by the quickest way at so many metres a second; by the shortest unless told. */
  readonly quickestAt?: number;
  /** What a table says goes before; where it says nothing it is straight, or over the ways that lead there. */
  readonly fromTo?: FromTo | undefined;
  /** It slows down where the way turns. */
  readonly mindsTurns?: boolean;
}

/** The ways between elements, straight or over those that are drawn, each looked up when it is first gone. */
export class Legs {
  private readonly known = new Map<number, Leg>();
  /** Where ways count otherwise now and then: since which time that is known. */
  private readonly now: WaysNow | undefined;
  private version = -1;

  constructor(
    private readonly model: Pick<Model, "nodes" | "roads">,
    private readonly going: Going,
    { waysNow }: { readonly waysNow: WaysNow },
  ) {
    if (waysNow.change && (going.overWays || going.fromTo)) this.now = waysNow;
  }

  /** By the indices of the elements, as the ways count now. */
  between(from: number, to: number): Leg {
    if (this.now) this.lookAnew(this.now);
    const key = from * this.model.nodes.length + to;
    let leg = this.known.get(key);
    if (!leg) this.known.set(key, (leg = this.look(from, to)));
    return leg;
  }

  /** How far it is, for what takes the nearest: in seconds where that is what is known, else in metres. */
  far(from: number, to: number): number {
    const { length, seconds } = this.between(from, to);
    return Number.isNaN(seconds) ? length : seconds;
  }

  /** Nothing leads from one element to another: that ends the run. */
  failNoRoute(kernel: Kernel, from: number, to: number, id: string): void {
    const { nodes } = this.model;
    const [a, b] = [nodes[from].element.name, nodes[to].element.name];
    kernel.fail({
      code: "no-route",
      message: this.going.fromTo
        ? `The table says nothing of the way from ${a} to ${b}, and none is drawn.`
        : `No way leads from ${a} to ${b} over the walkways and roads.`,
      hint: this.going.fromTo
        ? "Fill its cell, or draw a way that leads there."
        : "Draw one that begins, ends or passes there, or have them go straight.",
      ...(id === "" ? {} : { id }),
    });
  }

  private lookAnew(now: WaysNow): void {
    now.look();
    if (this.version === now.version) return;
    this.version = now.version;
    this.known.clear();
  }

  private look(from: number, to: number): Leg {
    const { nodes, roads } = this.model;
    const { overWays, quickestAt, mindsTurns, fromTo } = this.going;
    if (from === to) return legOf(0, []);
    const [a, b] = [nodes[from].element.at, nodes[to].element.at];
    const said = fromTo?.between(from, to);
    if (said !== undefined) {
      // Where a time is known, the way is drawn straight, and nobody counts its metres.
      const plan = Math.sqrt((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2);
      const stretch = { from: 0, length: fromTo!.of === "metres" ? said : plan, limit: Infinity };
      return legOf(stretch.length, [stretch], fromTo!.of === "seconds" ? said : Number.NaN);
    }
    if (fromTo) {
      // Drawn ways fill the gaps of the table.
      const route = roads?.route(a, b, undefined, this.now?.look());
      return route ? this.over(route, route.stretches) : legOf(Infinity, []);
    }
    if (overWays) {
      const route = roads?.route(a, b, quickestAt, this.now?.look());
      if (!route) return legOf(Infinity, []);
      return this.over(route, mindsTurns ? partedAtTurns(route.stretches, route.points) : route.stretches);
    }
    const length = Math.sqrt((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2);
    return legOf(length, length > 0 ? [{ from: 0, length, limit: Infinity }] : []);
  }

  private over({ length, points }: Route, stretches: readonly Stretch[]): Leg {
    const leg = legOf(length, stretches);
    return this.now ? { ...leg, points } : leg;
  }
}

const legOf = (length: number, stretches: readonly Stretch[], seconds = Number.NaN): Leg => ({
  length,
  stretches,
  lengths: Float64Array.from(stretches, (stretch) => stretch.length),
  limits: Float64Array.from(stretches, ({ limit }) => limit),
  seconds,
});
