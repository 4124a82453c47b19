import type { WaitList } from "../kernel/claims.ts";
import type { Kernel } from "../kernel/kernel.ts";
import { JOINED, STRIDE_BITS } from "../kernel/pool.ts";

/** Where steps put somebody in a line. */
export type LinePlace = "first" | "last" | "in order";

/** A line as steps see it. */
export interface OpenLine {
  /** Gives those who stand in it, in its order, to `visit`; not those who are about to leave it at this instant. */
  each(visit: (token: number) => void): void;
  /** Takes one out of it, who is neither served nor gives up, and does nothing until told to. */
  takeOut(token: number): void;
  move(token: number, to: LinePlace): void;
}

/** Lines of a model, by the index of their element. */
export class Lines {
  private readonly lines = new Map<number, OpenLine>();

  add(element: number, line: OpenLine): void {
    this.lines.set(element, line);
  }

  of(element: number): OpenLine | undefined {
    return this.lines.get(element);
  }
}

/** Puts one who waits in a list elsewhere in it; `rankOf` tells where its order has it, if it has an order. */
export function moveIn(
  kernel: Kernel,
  list: WaitList,
  token: number,
  to: LinePlace,
  rankOf: ((token: number) => number) | undefined,
  /** The rank of who stands before the list. */
  before = 0,
): void {
  if (to === "in order" && !rankOf) return;
  list.remove(kernel, token);
  const rankAt = (end: number) => (end < 0 ? before : kernel.pool.floats[(end << STRIDE_BITS) + JOINED]);
  // Who is put first or last takes the rank of who was, so that the list stays in the order of its ranks.
  if (to === "first") list.prepend(kernel, token, rankAt(list.head));
  else if (to === "last" && !rankOf) list.append(kernel, token);
  else list.insert(kernel, token, to === "last" ? rankAt(list.tail) : rankOf!(token));
}
