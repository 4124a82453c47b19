import type { Node, Way } from "../model/model.ts";

/** What an entity is doing where it is. */
export const PHASES = ["waiting", "working", "moving", "dwelling", "blocked", "needing", "settingUp"] as const;
export type Phase = (typeof PHASES)[number];
/** Phases by their numbers in frames. */
export const PHASE = Object.fromEntries(PHASES.map((phase, i) => [phase, i])) as Readonly<Record<Phase, number>>;

/** The way of what moves: which link, and from where to where on it, in metres along it. */
export interface Path {
  readonly link: number;
  readonly from: number;
  readonly to: number;
}

/** Where an entity is, and what it is doing there. */
export interface Place {
  /** Index of the element, or number of elements plus that of the link. */
  readonly at: number;
  readonly phase: Phase;
  /** What it moves along. */
  readonly path?: Path;
}

/**
 * Where entities can be: tokens hold the number of a place, and all else that is to be known of it stands here. So a
 * phase, or a path, costs nothing while a model runs, and there can be as many as are wanted.
 */
export class Places {
  /** The first is that of entities which are nowhere yet, at the very instant at which they are born. */
  private readonly list: Place[] = [{ at: 0, phase: "waiting" }];
  private readonly numbers = new Map<string, number>();

  constructor(private readonly elements: number) {}

  /** The number of a place at an element. */
  of({ index }: Pick<Node, "index">, phase: Exclude<Phase, "moving">): number {
    return this.number(index, phase);
  }

  /** The number of the place of those under way on a link. */
  on({ index, drawnLength }: Way, from = 0, to = drawnLength): number {
    return this.number(this.elements + index, "moving", { link: index, from, to });
  }

  /** The number of the place of those whom steps have walk to an element. */
  walkingTo(index: number): number {
    return this.number(index, "moving");
  }

  /** The number of the place of those who are held up so many metres along a link. */
  held({ index }: Way, metres: number): number {
    return this.number(this.elements + index, "blocked", { link: index, from: metres, to: metres });
  }

  /** The number of the place of those who wait where a link begins. */
  before({ index }: Way): number {
    return this.number(this.elements + index, "needing");
  }

  get(number: number): Place {
    // What is carried is nowhere by itself.
    return this.list[number] ?? this.list[0];
  }

  private number(at: number, phase: Phase, path?: Path): number {
    const key = `${at}/${phase}/${path?.from ?? 0}`;
    let number = this.numbers.get(key);
    if (number === undefined) {
      number = this.list.push({ at, phase, ...(path ? { path } : {}) }) - 1;
      this.numbers.set(key, number);
    }
    return number;
  }
}
