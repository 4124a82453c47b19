import type { Kernel } from "./kernel.ts";
import { JOINED, NEXT, PREVIOUS, STRIDE_BITS } from "./pool.ts";

/**
 * Tokens that wait, in order of joining or of a rank, linked through the tokens themselves: waiting allocates
 * nothing.
 */
export class WaitList {
  head = -1;
  tail = -1;
  length = 0;

  reset(): void {
    this.head = -1;
    this.tail = -1;
    this.length = 0;
  }

  append(kernel: Kernel, token: number): void {
    const { ints, floats } = kernel.pool;
    const base = token << STRIDE_BITS;
    ints[base + NEXT] = -1;
    ints[base + PREVIOUS] = this.tail;
    floats[base + JOINED] = kernel.nextJoin();
    if (this.tail < 0) this.head = token;
    else ints[(this.tail << STRIDE_BITS) + NEXT] = token;
    this.tail = token;
    this.length += 1;
  }

  shift(kernel: Kernel): number {
    const token = this.head;
    const { ints } = kernel.pool;
    this.head = ints[(token << STRIDE_BITS) + NEXT];
    if (this.head < 0) this.tail = -1;
    else ints[(this.head << STRIDE_BITS) + PREVIOUS] = -1;
    this.length -= 1;
    return token;
  }

  /**
   * Puts a token behind all of lower or equal rank; the lowest is first. Only in lists all of whose tokens have
   * ranks.
   */
  insert(kernel: Kernel, token: number, rank: number): void {
    const { ints, floats } = kernel.pool;
    const rankOf = (t: number) => floats[(t << STRIDE_BITS) + JOINED];
    const base = token << STRIDE_BITS;
    floats[base + JOINED] = rank;
    let after = this.tail;
    // Last come, first served joins at the very front: no need to walk there.
    if (this.head >= 0 && rank < rankOf(this.head)) after = -1;
    while (after >= 0 && rankOf(after) > rank) after = ints[(after << STRIDE_BITS) + PREVIOUS];
    const before = after < 0 ? this.head : ints[(after << STRIDE_BITS) + NEXT];
    ints[base + PREVIOUS] = after;
    ints[base + NEXT] = before;
    if (after < 0) this.head = token;
    else ints[(after << STRIDE_BITS) + NEXT] = token;
    if (before < 0) this.tail = token;
    else ints[(before << STRIDE_BITS) + PREVIOUS] = token;
    this.length += 1;
  }

  /** Puts a token before all others, with the rank it had. */
  prepend(kernel: Kernel, token: number, rank: number): void {
    const { ints, floats } = kernel.pool;
    const base = token << STRIDE_BITS;
    floats[base + JOINED] = rank;
    ints[base + PREVIOUS] = -1;
    ints[base + NEXT] = this.head;
    if (this.head < 0) this.tail = token;
    else ints[(this.head << STRIDE_BITS) + PREVIOUS] = token;
    this.head = token;
    this.length += 1;
  }

  /** Gives the tokens in order to `visit`. */
  each(kernel: Kernel, visit: (token: number) => void): void {
    for (let token = this.head; token >= 0; token = kernel.pool.ints[(token << STRIDE_BITS) + NEXT]) visit(token);
  }

  /** Whether a token that was put into this list, and into no other since, still waits in it. */
  holds(kernel: Kernel, token: number): boolean {
    return kernel.pool.ints[(token << STRIDE_BITS) + PREVIOUS] >= 0 || this.head === token;
  }

  /** Takes a token out that waits in this list. */
  remove(kernel: Kernel, token: number): void {
    const { ints } = kernel.pool;
    const base = token << STRIDE_BITS;
    const [previous, next] = [ints[base + PREVIOUS], ints[base + NEXT]];
    if (previous < 0) this.head = next;
    else ints[(previous << STRIDE_BITS) + NEXT] = next;
    if (next < 0) this.tail = previous;
    else ints[(next << STRIDE_BITS) + PREVIOUS] = previous;
    this.length -= 1;
  }
}

/**
 * A counted resource that tokens claim and free one unit of: places in a line,
 * slots of a station, the head of a queue. Whoever frees a unit hands it to the
 * token that has waited longest in any of the lists this resource serves.
 */
export class Claimable {
  free: number;
  readonly own = new WaitList();
  /** Told of a token that is handed a unit it waited for, before it goes on. */
  onGrant: ((token: number) => void) | undefined;
  /** Lists of claims that accept any of several resources, served besides its own. */
  private readonly shared: WaitList[] = [];

  constructor(
    private readonly kernel: Kernel,
    readonly capacity: number,
    /** Number by which a claim among several tells which was granted. */
    readonly index = 0,
  ) {
    this.free = capacity;
  }

  /** All units free, nobody waiting. */
  reset(): void {
    this.free = this.capacity;
    this.own.reset();
  }

  serve(list: WaitList): void {
    this.shared.push(list);
  }

  /** Takes a unit if one is free; otherwise the token joins the line and must suspend. */
  claim(token: number): boolean {
    if (this.free > 0) {
      this.free -= 1;
      return true;
    }
    this.own.append(this.kernel, token);
    return false;
  }

  /** Takes a unit if one is free; never waits. The token counts where units are not alike for all. */
  tryClaim(_token = -1): boolean {
    if (this.free <= 0) return false;
    this.free -= 1;
    return true;
  }

  /**
   * Units come or go: a shift begins, a machine breaks down. Those in use stay so; `free` is below 0 while more are
   * in use than there are.
   */
  adjust(change: number): void {
    if (change < 0) this.free += change;
    else for (let i = 0; i < change; i++) this.release();
  }

  /** Gives a unit back, or straight on to the token that waits longest, which then resumes at this instant. */
  release(): void {
    const token = this.handOver();
    if (token >= 0) this.kernel.resume(token);
  }

  /**
   * Gives a unit back, or straight on to the token that waits longest: returns that token, which the caller must let
   * go on, or -1.
   */
  handOver(): number {
    const { kernel, shared } = this;
    const chosen = shared.length === 0 ? this.own : this.longestWaiting();
    if (chosen.head < 0 || this.free < 0) {
      this.free += 1;
      return -1;
    }
    const token = chosen.shift(kernel);
    if (chosen !== this.own) kernel.pool.setWay(token, this.index);
    if (this.onGrant) this.onGrant(token);
    return token;
  }

  /** The list whose first token has waited longest; its own when all are empty. */
  protected longestWaiting(): WaitList {
    const { floats } = this.kernel.pool;
    const joined = ({ head }: WaitList) => (head < 0 ? Infinity : floats[(head << STRIDE_BITS) + JOINED]);
    let chosen = this.own;
    for (const list of this.shared) if (joined(list) < joined(chosen)) chosen = list;
    return chosen;
  }
}
