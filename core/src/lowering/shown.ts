import { grown, lengthFor } from "../kernel/grown.ts";
import type { Node } from "../model/model.ts";
import type { Units } from "./units.ts";

/** What is shown of elements while watching: kinds declare it, frames read it. */
export class Shown {
  private readonly counts = new Map<number, () => number>();
  private readonly orders = new Map<number, (visit: (token: number) => void) => void>();
  private readonly unitsOfNodes = new Map<number, Units>();

  /** By token: the look that steps gave to an entity, and the number of that entity; a token is used again. */
  private looks: Uint8Array | undefined;
  private wearers = new Float64Array(0);

  /** Gives an entity a look, by its number from 1. */
  dress(token: number, serial: number, look: number): void {
    if (!this.looks || token >= this.looks.length) {
      const size = lengthFor(token, this.looks?.length ?? 256);
      this.looks = grown(this.looks ?? new Uint8Array(256), size);
      this.wearers = grown(this.wearers.length > 0 ? this.wearers : new Float64Array(256), size);
    }
    this.looks[token] = look;
    this.wearers[token] = serial;
  }

  /** The look of an entity; 0: its type's own. */
  lookOf(token: number, serial: number): number {
    return this.looks && this.wearers[token] === serial ? this.looks[token] : 0;
  }

  /** Declares how many have passed, or are inside, for the count beside the symbol. */
  count(node: Node, read: () => number): void {
    this.counts.set(node.index, read);
  }

  countOf(node: Node): number {
    return this.counts.get(node.index)?.() ?? 0;
  }

  /** Declares how to go through those in line at an element, the next first, where that is not the order of coming. */
  order(node: Node, walk: (visit: (token: number) => void) => void): void {
    this.orders.set(node.index, walk);
  }

  /** Goes through all lines that are not in the order of coming. */
  eachInOrder(visit: (token: number, position: number) => void): void {
    for (const walk of this.orders.values()) {
      let position = 0;
      walk((token) => visit(token, position++));
    }
  }

  /** Declares the slots or units whose states are shown. */
  units(node: Node, units: Units): void {
    this.unitsOfNodes.set(node.index, units);
  }

  unitsOf(node: Node): Units | undefined {
    return this.unitsOfNodes.get(node.index);
  }
}
