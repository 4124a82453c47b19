export const NONE_LEFT = -1;

/** A line of requests, the next to be served first. */
export interface RequestLine {
  head: number;
  tail: number;
}

/**
 * Lines of requests in which one token may stand several times, once in each: linked lists
 * over arrays that are used again, so that waiting allocates nothing in the steady state.
 * The order is the highest priority, then the lowest order.
 */
export class RequestList<L extends RequestLine> {
  private readonly token: number[] = [];
  private readonly line: (L | undefined)[] = [];
  private readonly next: number[] = [];
  private readonly previous: number[] = [];
  private readonly nextOfToken: number[] = [];
  private readonly priority: number[] = [];
  private readonly order: number[] = [];
  private readonly firstOfToken: number[] = [];
  private free = NONE_LEFT;

  reset(): void {
    // Lines are told apart by identity; those of a past replication must not be found full.
    for (const line of this.line) if (line) line.head = line.tail = NONE_LEFT;
    this.token.length = this.line.length = this.next.length = this.previous.length = 0;
    this.nextOfToken.length = this.priority.length = this.order.length = this.firstOfToken.length = 0;
    this.free = NONE_LEFT;
  }

  tokenOf(node: number): number {
    return this.token[node];
  }

  lineOf(node: number): L | undefined {
    return this.line[node];
  }

  after(node: number): number {
    return this.next[node];
  }

  /** The first of the requests of a token, or `NONE_LEFT`. */
  firstOf(token: number): number {
    return this.firstOfToken[token] ?? NONE_LEFT;
  }

  /** The next of the requests of the same token, or `NONE_LEFT`. */
  nextOf(node: number): number {
    return this.nextOfToken[node];
  }

  join(line: L, token: number, priority: number, order: number): void {
    let node = this.free;
    if (node === NONE_LEFT) node = this.token.length;
    else this.free = this.next[node];
    while (this.firstOfToken.length <= token) this.firstOfToken.push(NONE_LEFT);
    this.token[node] = token;
    this.line[node] = line;
    this.priority[node] = priority;
    this.order[node] = order;
    this.nextOfToken[node] = this.firstOfToken[token];
    this.firstOfToken[token] = node;
    let before = line.tail;
    while (before !== NONE_LEFT && this.isAfter(before, priority, order)) before = this.previous[before];
    const behind = before === NONE_LEFT ? line.head : this.next[before];
    this.previous[node] = before;
    this.next[node] = behind;
    if (before === NONE_LEFT) line.head = node;
    else this.next[before] = node;
    if (behind === NONE_LEFT) line.tail = node;
    else this.previous[behind] = node;
  }

  /** Whether one request is served before another, which may stand in another line. */
  isBefore(node: number, other: number): boolean {
    return this.isAfter(other, this.priority[node], this.order[node]);
  }

  /** Takes the first request of its token out of its line. */
  leave(node: number): void {
    const line = this.line[node]!;
    const [previous, next] = [this.previous[node], this.next[node]];
    if (previous === NONE_LEFT) line.head = next;
    else this.next[previous] = next;
    if (next === NONE_LEFT) line.tail = previous;
    else this.previous[next] = previous;
    this.firstOfToken[this.token[node]] = this.nextOfToken[node];
    this.line[node] = undefined;
    this.next[node] = this.free;
    this.free = node;
  }

  private isAfter(node: number, priority: number, order: number): boolean {
    return this.priority[node] < priority || (this.priority[node] === priority && this.order[node] > order);
  }
}
