import type { Model } from "../model/model.ts";

/** The route of each entity type in a sentence: "Dinghy: Moulding, Paint, then Rigging." */
export function routeSentences({ route, types, nodes, families }: Model): string[] {
  if (!route) return [];
  return types.map(({ type, index }) => {
    const places = route.rows[index].map(
      (row) => (nodes[route.next[row]] ?? families.list[route.next[row] - nodes.length])?.element.name ?? "nowhere",
    );
    if (places.length === 0) return `${type.name}: no steps.`;
    const [last] = places.slice(-1);
    return `${type.name}: ${places.length === 1 ? last : `${places.slice(0, -1).join(", ")}, then ${last}`}.`;
  });
}
