import { kindOf } from "../elements/index.ts";
import type { TypesOnward } from "../elements/kind.ts";
import { nameKey, type Types, typesByCondition, typesByElement } from "../expression/index.ts";
import { byLink, type Model, type Node, nodesAt, placesOnRoute, type Way } from "../model/model.ts";

/** Which entity types may come where, in a model whose names are resolved. */
export interface TypeFlow {
  /** Those that may be in an element, or carried by it, by its index. */
  readonly at: readonly Types[];
  /** Those that may leave it by the ways of those who are done. */
  readonly leaving: readonly Types[];
  /** Those that may be asked whether they take a link: its condition, its cost, its share. */
  readonly asked: ReadonlyMap<Way, Types>;
  /** Those that may take it. */
  readonly on: ReadonlyMap<Way, Types>;
}

/** What entities of a type may carry, and whether there are any that are not made only to hold others. */
class Held {
  changed = false;
  private readonly inside = new Map<number, Set<number>>();
  private readonly own = new Set<number>();

  put(carrier: number, types: Iterable<number>): void {
    const inside = this.inside.get(carrier) ?? new Set();
    this.inside.set(carrier, inside);
    for (const type of types) this.changed = addTo(inside, type) || this.changed;
  }

  of(carrier: number): Types {
    return this.inside.get(carrier) ?? NO_TYPES;
  }

  /** There are entities of the type that do more than hold others. */
  bear(types: Iterable<number>): void {
    for (const type of types) this.changed = addTo(this.own, type) || this.changed;
  }

  isBorn(type: number): boolean {
    return this.own.has(type);
  }
}

const NO_TYPES: Types = new Set();

function addTo(set: Set<number>, type: number): boolean {
  const before = set.size;
  return set.add(type).size > before;
}

/** Where steps send entities to, by the element that they are sent from; `bear` hears of those that steps make. */
function sentBySteps(
  { logic, nodes, types }: Model,
  bear: (to: number, type: number) => void,
): ReadonlyMap<number, number[]> {
  for (const { element } of nodes) {
    const made = kindOf(element).makes?.(element);
    const to = made ? nodes.findIndex((node) => node.element.id === made.at) : -1;
    const type = types.findIndex((one) => one.type.id === made?.type);
    if (to >= 0 && type >= 0) bear(to, type);
  }
  const sends = new Map<number, number[]>();
  for (const { from, to, type } of logic?.sends ?? [])
    if (type === undefined) sends.set(from, [...(sends.get(from) ?? []), to]);
    else if (type >= 0) bear(to, type);
  return sends;
}

/** Where those come who take a way, by the index of the element: to its end, and on what carries them there. */
function placesAlongWays({ nodes, ways }: Model): ReadonlyMap<Way, readonly number[]> {
  const indexOf = new Map(nodes.map(({ element, index }) => [element.id, index]));
  return new Map(
    ways.map((way) => {
      const carrier = way.link.kind === "carried" ? indexOf.get(way.link.by ?? "") : undefined;
      return [way, carrier === undefined ? [way.to] : [way.to, carrier]];
    }),
  );
}

/**
 * Follows entity types from where they are born along links, through joins and splits, to everywhere they may come.
 * Ways out by condition or by name are followed as far as they go by the type alone; all else lets every type by.
 */
export function followTypes(model: Model): TypeFlow {
  const { nodes, types, ways, route } = model;
  const typeIds = new Map(types.map(({ type, index }) => [type.id, index]));
  const typeNames = new Map(types.map(({ type, index }) => [nameKey(type.name), index]));
  const elementNames = new Map(nodes.map(({ element, index }) => [nameKey(element.name), index]));
  const typeNamed = (name: string) => typeNames.get(nameKey(name));
  const elementNamed = (name: string) => elementNames.get(nameKey(name));
  const indexOf = (id: string) => typeIds.get(id);
  const held = new Held();
  const at = nodes.map(() => new Set<number>());
  const leaving = nodes.map(() => new Set<number>());
  const asked = new Map<Way, Set<number>>(ways.map((way) => [way, new Set()]));
  const on = new Map<Way, Set<number>>(ways.map((way) => [way, new Set()]));
  const waiting = new Set<Node>(nodes);

  const placesAlong = placesAlongWays(model);
  const bring = (to: number, some: Iterable<number>): void => {
    for (const type of some) if (addTo(at[to], type)) waiting.add(nodes[to]);
  };
  const send = (way: Way, some: Iterable<number>): void => {
    for (const type of some) on.get(way)!.add(type);
    for (const place of placesAlong.get(way)!) bring(place, some);
  };
  const ask = (way: Way, some: Iterable<number>): void => {
    for (const type of some) asked.get(way)!.add(type);
  };
  const places = placesOnRoute(model);
  const placesOf = route?.rows.map((rows) => new Set(rows.flatMap((row) => nodesAt(model, route.next[row]))));
  /** A way to a place of its route, or to one that is on no route, as those take who have come to its end. */
  const takesByRoute = ({ to }: Way, type: number): boolean => !places.has(to) || (placesOf?.[type].has(to) ?? false);
  /** Those who are done take their ways out. */
  const sendDone = (node: Node, done: Types): void => {
    const { element, out } = node;
    for (const type of done) leaving[node.index].add(type);
    if (element.wayOut === "condition") {
      let left: Types = done;
      for (const ways of byLink(out)) {
        const [first] = ways;
        if (!first.settings.has("condition")) continue;
        ask(first, left);
        const { yes, no } = typesByCondition(first.link.condition, left, typeNamed);
        for (const way of ways) send(way, yes);
        left = no;
      }
      for (const way of out) if (!way.settings.has("condition")) send(way, left);
      return;
    }
    const named =
      element.wayOut === "named" ? typesByElement(element.destination ?? "", done, typeNamed, elementNamed) : undefined;
    if (element.wayOut === "route" && route) {
      for (const way of out) send(way, new Set([...done].filter((type) => takesByRoute(way, type))));
      return;
    }
    for (const way of out) {
      ask(way, done);
      send(way, named ? (named.get(way.to) ?? NO_TYPES) : done);
    }
  };

  const sends = sentBySteps(model, (to, type) => (at[to].add(type), held.bear([type])));

  while (waiting.size > 0) {
    for (const node of waiting) {
      waiting.delete(node);
      const kind = kindOf(node.element);
      for (const type of kind.bears?.(node, indexOf) ?? []) {
        at[node.index].add(type);
        held.bear([type]);
      }
      const here = at[node.index];
      const { done, parts = NO_TYPES }: TypesOnward = kind.typesOnward?.(node, here, { held, indexOf }) ?? {
        done: here,
      };
      if (node.parts) send(node.parts, parts);
      sendDone(node, new Set(node.parts ? done : [...done, ...parts]));
      for (const way of [node.turnedAway, node.scrapped]) if (way) send(way, here);
      for (const to of sends.get(node.index) ?? []) bring(to, here);
    }
    // What is inside others may come out wherever joins are undone.
    if (held.changed) {
      held.changed = false;
      for (const node of nodes) if (kindOf(node.element).typesOnward) waiting.add(node);
    }
  }
  return { at, leaving, asked, on };
}
