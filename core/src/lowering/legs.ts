import type { Model } from "../model/model.ts";
import type { Stretch } from "../movement/network.ts";

/** How far it is from one element to another, and what limits hold on the way. */
export interface Leg {
  /** Metres; Infinity where no way leads there. */
  readonly length: number;
  readonly stretches: readonly Stretch[];
}

/** The ways between elements, straight or over those that are drawn, each looked up when it is first gone. */
export class Legs {
  private readonly known = new Map<number, Leg>();

  constructor(
    private readonly model: Pick<Model, "nodes" | "roads">,
    private readonly overWays: boolean,
  ) {}

  /** By the indices of the elements. */
  between(from: number, to: number): Leg {
    const { nodes, roads } = this.model;
    const key = from * nodes.length + to;
    let leg = this.known.get(key);
    if (leg) return leg;
    const [a, b] = [nodes[from].element.at, nodes[to].element.at];
    if (this.overWays) leg = from === to ? { length: 0, stretches: [] } : roads?.route(a, b);
    else {
      const length = Math.sqrt((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2);
      leg = { length, stretches: length > 0 ? [{ from: 0, length, limit: Infinity }] : [] };
    }
    leg ??= { length: Infinity, stretches: [] };
    this.known.set(key, leg);
    return leg;
  }
}
