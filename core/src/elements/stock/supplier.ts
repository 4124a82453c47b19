import { grown, lengthFor } from "../../kernel/grown.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Shelf } from "../../lowering/shelf.ts";
import type { Node } from "../../model/model.ts";
import type { Stock } from "./settings.ts";

/**
 * Orders are entities that begin at the supplier and bring their units when they come in here. Gives what asks whether
 * an entity that comes in is such an order, and takes its units if so.
 */
export function supplyFrom({ element }: Node<Stock>, lowering: Lowering, shelf: Shelf): (token: number) => boolean {
  const { kernel, model, network, population, presence, replication } = lowering;
  const to = model.nodes.findIndex((n) => n.element.id === element.supplier);
  const bear = population.birth(model.types.findIndex(({ type }) => type.id === element.orderType));
  /** By token: the units that it brings, and the number of the entity that does. */
  let amounts = new Float64Array(256);
  let serials = new Float64Array(256);
  replication.atStart(() => serials.fill(0));
  const begin = kernel.emit((token) => {
    presence.come(to);
    const room = network.roomOf(to);
    return !room || room.claim(token) ? network.entries[to] : waitForRoom(token);
  });
  const enter = kernel.emit(() => network.entries[to]);
  const waitForRoom = (token: number): number => {
    kernel.pool.setPc(token, enter);
    return -1;
  };
  shelf.supply = (amount) => {
    const token = bear(begin);
    if (token < 0) return;
    if (token >= amounts.length) {
      const size = lengthFor(token, amounts.length);
      amounts = grown(amounts, size);
      serials = grown(serials, size);
    }
    amounts[token] = amount;
    serials[token] = kernel.pool.serial[token];
  };
  return (token) => {
    if (token >= serials.length || serials[token] !== kernel.pool.serial[token]) return false;
    serials[token] = 0;
    shelf.deliver(amounts[token]);
    return true;
  };
}
