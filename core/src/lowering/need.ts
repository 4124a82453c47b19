import type { Read } from "../expression/index.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Counter } from "./counter.ts";
import type { Units } from "./units.ts";
import type { Walkers } from "./walkers.ts";
import type { WhoGoes } from "./whoGoes.ts";

/** A counted resource: what claims ask of it, and keep in it. */
export interface Pool {
  readonly id: string;
  readonly name: string;
  readonly units: Units;
  /** Number of its first unit among those of all pools. */
  readonly base: number;
  readonly line: Level;
  readonly wait: Tally;
  /** Claims that lost their units to work of higher priority. */
  readonly takenAway: Counter;
  readonly preempts: boolean;
  readonly lastFirst: boolean;
  /** Ends of the line of requests that wait for it. */
  head: number;
  tail: number;
  /** Units spoken for while a claim is being tried. */
  reserved: number;
  /** Those of its units that walk to where they are needed. */
  readonly walkers?: Walkers;
  /** Which of its units goes, where they are not all the same. */
  readonly who?: WhoGoes;
  /** Gives a free unit, that which is named or one of its choosing, to a token at an element by its index; -1: none. */
  take(token: number, place: number, unit?: number): number;
  /** Takes a unit back. */
  giveBack(unit: number): void;
}

/** One row of what work needs: so many of any one of these resources. */
export interface Need {
  /** The preferred first. */
  readonly anyOf: readonly Pool[];
  readonly count: Read;
  /** The one of them that a token needs, by its position, asked once for each claim; without, any will do. */
  readonly which?: Read;
  /** Of several that would do, that for which this is least is taken; without, the first. */
  readonly prefers?: (token: number, pool: Pool) => number;
  /** Whether a unit can do it; without, any can. */
  readonly able?: (token: number, pool: Pool, unit: number) => boolean;
  /** How many times as long work takes with a unit; without, once. */
  readonly times?: (token: number, pool: Pool, unit: number) => number;
}
