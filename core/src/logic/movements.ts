import { SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import type { Lowering } from "../lowering/lowering.ts";

/** How entities come from where steps have them to elements, other than by ways out. */
export class Movements {
  /** By index of the element: the step with which a token that has waited for room there comes in. */
  private readonly arrive = new Map<number, number>();

  constructor(private readonly lowering: Lowering) {}

  /** The same for every element that entities come into, by its index. */
  everywhere(): ReadonlyMap<number, (token: number, from: number) => number> {
    const enterable = this.lowering.model.nodes.filter(({ traits }) => traits.hasWayIn);
    return new Map(enterable.map(({ index }) => [index, this.into(index)]));
  }

  /**
   * What brings a token into an element, once there is room for it: gives the next step, or has the token wait where it
   * is. `from` tells the element that it leaves, -1 for none.
   */
  into(to: number): (token: number, from: number) => number {
    const { kernel, network, presence } = this.lowering;
    const { pool, clock } = kernel;
    let arrive = this.arrive.get(to);
    if (arrive === undefined) {
      arrive = kernel.emit((token) => {
        pool.credit(token, PART.blocked, clock);
        return network.entries[to];
      });
      this.arrive.set(to, arrive);
    }
    const waitAt = arrive;
    const room = () => network.roomOf(to);
    return (token, from) => {
      if (presence.isKept) {
        if (from >= 0) presence.gone(from);
        presence.come(to);
      }
      const claimed = room();
      if (!claimed || claimed.claim(token)) return network.entries[to];
      if (from >= 0) pool.begin(token, this.lowering.places.of({ index: from }, "blocked"), clock);
      pool.setPc(token, waitAt);
      return SUSPEND;
    };
  }
}
