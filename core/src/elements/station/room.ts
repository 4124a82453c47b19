import type { ElementOf } from "../../document/schema.ts";
import type { Model, Node } from "../../model/model.ts";

/** Room in the station's own line; Infinity without a limit. */
export function roomInLine(
  { element, settings, in: ways }: Node<ElementOf<"station">>,
  { nodes }: Pick<Model, "nodes">,
): number {
  if (element.room === "no limit") return Infinity;
  if (element.room === "auto") return ways.some((way) => nodes[way.from].element.kind === "queue") ? 0 : Infinity;
  return settings.get("room")?.constant ?? Infinity;
}
