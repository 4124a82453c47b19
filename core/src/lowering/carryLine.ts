import type { CarryRequest } from "./carrying.ts";

/** Requests that have been answered and are still held: taking each off the list would take time by its length. */
const MOST_ANSWERED = 256;

/** Rounding keeps out nobody who just fits. */
const SLACK = 1e-9;

/** Those who wait to be carried, in the order in which they are served: the lowest rank first, then who asked first. */
export class CarryLine {
  private queue: CarryRequest[] = [];
  /** Those before it have been answered. */
  private head = 0;

  clear(): void {
    this.queue = [];
    this.head = 0;
  }

  get length(): number {
    return this.queue.length - this.head;
  }

  at(i: number): CarryRequest {
    return this.queue[this.head + i];
  }

  add(request: CarryRequest): void {
    const place = this.placeOf(request.rank);
    if (place === this.queue.length) this.queue.push(request);
    else this.queue.splice(place, 0, request);
  }

  take(i: number): CarryRequest {
    const request = this.at(i);
    if (i > 0) {
      this.queue.splice(this.head + i, 1);
      return request;
    }
    this.head += 1;
    if (this.head > MOST_ANSWERED && 2 * this.head > this.queue.length) {
      this.queue = this.queue.slice(this.head);
      this.head = 0;
    }
    return request;
  }

  remove(request: CarryRequest): void {
    this.take(this.queue.indexOf(request, this.head) - this.head);
  }

  /** Takes those out who fit under a load limit besides these who are on already, in their order. */
  takeFitting(
    limit: number,
    on: readonly CarryRequest[],
    may: (request: CarryRequest) => boolean,
  ): readonly CarryRequest[] {
    let left = limit;
    for (const { takes } of on) left -= takes;
    const found: CarryRequest[] = [];
    for (let i = 0; i < this.length && left > SLACK;) {
      const request = this.at(i);
      if (may(request) && request.takes <= left + SLACK) {
        left -= request.takes;
        found.push(this.take(i));
      } else i += 1;
    }
    return found;
  }

  /** How much those take who may come along, be it more than fits. */
  load(may: (request: CarryRequest) => boolean): number {
    let load = 0;
    for (let i = 0; i < this.length; i++) if (may(this.at(i))) load += this.at(i).takes;
    return load;
  }

  /** Where in the queue a rank comes: behind all that are as low. */
  private placeOf(rank: number): number {
    const { queue } = this;
    let [low, high] = [this.head, queue.length];
    // Most come last.
    if (low === high || queue[high - 1].rank <= rank) return high;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (queue[middle].rank <= rank) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}
