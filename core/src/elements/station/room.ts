import type { Model, Node } from "../../model/model.ts";
import type { Station } from "./settings.ts";

/** Room in the station's own line; Infinity without a limit. */
export function roomInLine({ element, settings, in: ways }: Node<Station>, { nodes }: Pick<Model, "nodes">): number {
  if (element.room === "no limit") return Infinity;
  if (element.room === "auto")
    return ways.some(
      ({ from, link }) => nodes[from].traits.isLine || nodes[from].traits.hasSpots || link.kind === "conveyor",
    )
      ? 0
      : Infinity;
  return settings.get("room")?.constant ?? Infinity;
}
