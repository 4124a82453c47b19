import type { Element, ElementKindName } from "../document/schema.ts";
import type { Model, Node } from "../model/model.ts";
import { arrivals } from "./arrivals.ts";
import { crew, equipment } from "./resource.ts";
import { departures } from "./departures.ts";
import { dwell } from "./dwell.ts";
import type { ElementKind, Phrase } from "./kind.ts";
import type { Lowering } from "./lowering.ts";
import { queue } from "./queue.ts";
import { gate } from "./gate.ts";
import { join } from "./join.ts";
import { junction } from "./junction.ts";
import { split } from "./split.ts";
import { station } from "./station/index.ts";

/** Every kind of element, in the order of the dock. Adding a kind adds a line here. */
export const elementKinds: { readonly [K in ElementKindName]: ElementKind<K> } = {
  arrivals,
  queue,
  station,
  dwell,
  gate,
  join,
  split,
  junction,
  departures,
  crew,
  equipment,
};

/** The kind of an element, seen without its settings' type. */
export const kindOf = (element: Pick<Element, "kind">): ElementKind =>
  elementKinds[element.kind] as unknown as ElementKind;

export const prepareNode = (node: Node, lowering: Lowering): (() => void) => {
  const { readers, lower } = lowering.prepare(node, () => kindOf(node.element).prepare(node, lowering));
  for (const [name, read] of Object.entries(readers)) lowering.property(node, name, read);
  return lower;
};

/** What an element does, in words. */
export const readBack = (node: Node, model: Pick<Model, "nodes" | "types" | "study">): Phrase[] =>
  kindOf(node.element).readBack(node, model);

export const phraseText = (phrases: readonly Phrase[]): string =>
  phrases.map((p) => (typeof p === "string" ? p : p.strong)).join("");

export * from "./kind.ts";
export * from "./fields.ts";
export * from "./settings.ts";
export { usesResource } from "./resource.ts";
export { UNIT, UNIT_KEYS, UNIT_WORDS } from "./units.ts";
export { freshName } from "./words.ts";
