import { NEXT, STRIDE_BITS, type TokenPool } from "../../kernel/pool.ts";
import type { Claimable } from "../../kernel/claims.ts";
import type { Work } from "../../kernel/work.ts";
import type { Replication } from "../../lowering/replication.ts";
import { UNIT, type Units } from "../../lowering/units.ts";

/**
 * Who is in each slot of a station: one entity, or a batch, whose members follow the first of them by `NEXT`; and how
 * far the work on them is.
 */
export class Slots {
  /** By slot: entities in it. */
  readonly inside: Int32Array;
  /** By slot: the phase of its work. */
  readonly phases: Int32Array;
  /** By slot: the time of its setup. */
  readonly setupTimes: Float64Array;

  constructor(
    private readonly pool: TokenPool,
    private readonly work: Work,
    private readonly units: Units,
    private readonly room: Claimable | undefined,
    private readonly batched: boolean,
    replication: Replication,
  ) {
    const { count } = units;
    this.inside = new Int32Array(count);
    this.phases = new Int32Array(count);
    this.setupTimes = new Float64Array(count);
    replication.atStart(() => this.inside.fill(0));
  }

  of(token: number): number {
    return this.work.unitOf(token);
  }

  /** Gives all that are worked on together with `leader` to `act`, itself first. */
  eachMember(leader: number, act: (token: number) => void): void {
    const { pool } = this;
    if (!this.batched) {
      act(leader);
      return;
    }
    for (let token = leader, left = this.inside[this.of(leader)]; left > 0; left--) {
      const next = pool.ints[(token << STRIDE_BITS) + NEXT];
      act(token);
      token = next;
    }
  }

  /** Gives a slot to the first of a batch of `size`, whose members follow it. */
  seize(leader: number, size: number): void {
    const { work, pool } = this;
    work.clear(leader);
    const slot = this.units.occupy(leader, UNIT.busy);
    this.inside[slot] = size;
    for (let token = leader, left = size; left > 0; left--) {
      work.setUnit(token, slot);
      token = pool.ints[(token << STRIDE_BITS) + NEXT];
    }
  }

  /** One of those in a slot leaves it; the last gives it back. */
  leave(slot: number): void {
    if (--this.inside[slot] === 0) this.units.vacate(slot);
    this.room?.release();
  }
}
