import type { ElementBase } from "../document/element.ts";
import type { Node } from "../model/model.ts";
import { arrivals } from "./arrivals/index.ts";
import { crew, equipment } from "./resource.ts";
import { departures } from "./departures.ts";
import { dwell } from "./dwell.ts";
import type { ElementKind, Phrase, ReadModel } from "./kind.ts";
import type { EventSpecs } from "../lowering/events.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { COMES_IN, GOES_ON, IS_BLOCKED } from "../lowering/network.ts";
import { place } from "./place.ts";
import { queue } from "./queue.ts";
import { gate } from "./gate.ts";
import { join } from "./join.ts";
import { junction } from "./junction.ts";
import { split } from "./split.ts";
import { stock } from "./stock/index.ts";
import { vehicle } from "./vehicle.ts";
import { station } from "./station/index.ts";

/** Every kind of element, in the order of the dock. Adding a kind adds a line here. */
export const elementKinds = {
  arrivals,
  queue,
  station,
  dwell,
  gate,
  join,
  split,
  junction,
  stock,
  departures,
  crew,
  equipment,
  place,
  vehicle,
} as const;

export type ElementKindName = keyof typeof elementKinds;
export type ElementOf<K extends ElementKindName> =
  (typeof elementKinds)[K] extends ElementKind<infer E, infer _P, infer _M, infer _S> ? E : never;
/** An element of any kind. */
export type Element = { [K in ElementKindName]: ElementOf<K> }[ElementKindName];

/** The kind of an element, seen without its settings' type. */
export const kindOf = (element: Pick<ElementBase, "kind">): ElementKind =>
  elementKinds[element.kind as ElementKindName] as unknown as ElementKind;

/** Whether it may be named where resources are: crews and equipment, and places, whose spots are given out. */
export function isClaimable(element: Pick<ElementBase, "kind">): boolean {
  const { group, hasSpots = false } = kindOf(element);
  return group === "resources" || hasSpots;
}

export const allKinds: readonly ElementKind[] = Object.values(elementKinds) as unknown as ElementKind[];

export const prepareNode = (node: Node, lowering: Lowering): (() => void) => {
  const kind = kindOf(node.element);
  const measured = lowering.meters.of(node.element, kind.kind, kind.measures);
  const { readers, writers = {}, lower } = lowering.prepare(node, () => kind.prepare(node, lowering, measured));
  const changed = lowering.changeTeller(node);
  for (const [name, read] of Object.entries(readers)) {
    const write = writers[name];
    const telling: typeof write =
      write && changed
        ? (token, value) => {
            write(token, value);
            changed();
          }
        : write;
    lowering.expressions.property(node, name, read, telling);
  }
  return lower;
};

/** Events at elements of a kind, by name. */
export const eventsOf = ({ hasWayIn, hasWayOut, events }: ElementKind): EventSpecs => ({
  ...(hasWayIn ? { [COMES_IN]: { label: "An entity comes in", of: "entity", holds: true } as const } : {}),
  ...events,
  ...(hasWayOut
    ? {
        [IS_BLOCKED]: { label: "An entity is blocked, as there is no room ahead", of: "entity" } as const,
        [GOES_ON]: { label: "An entity goes on", of: "entity" } as const,
      }
    : {}),
});

/** What an element does, in words. */
export const readBack = (node: Node, model: ReadModel): Phrase[] => kindOf(node.element).readBack(node, model);

export const phraseText = (phrases: readonly Phrase[]): string =>
  phrases.map((p) => (typeof p === "string" ? p : p.strong)).join("");

export type { ElementKind, Phrase, Section } from "./kind.ts";
export { WORK_PHASES } from "./station/settings.ts";
export { UNIT, UNIT_KEYS, UNIT_WORDS, type UnitState } from "../lowering/units.ts";
export { freshName } from "./words.ts";
