import type { TableSource } from "../../expression/tables.ts";
import { readFromTo } from "../../model/fromTo.ts";
import type { Node } from "../../model/model.ts";
import type { WayNetwork } from "../../movement/network.ts";
import type { Problems } from "./problems.ts";

/** What goes by a from-to table needs one, and finds in it, or among drawn ways, the way along each link. */
export function checkFromTo(
  nodes: readonly Node[],
  tables: readonly TableSource[],
  texts: readonly string[],
  roads: WayNetwork | undefined,
  problems: Problems,
): void {
  nodes.forEach(({ element }, index) => {
    const { over, fromTo } = element as unknown as { readonly over?: string; readonly fromTo?: string };
    if (over !== "table") return;
    const report = (message: string, hint: string) =>
      problems.add("no-from-to", ["elements", index, "fromTo"], { id: element.id, field: "fromTo" }, message, hint);
    const table = tables.find(({ id }) => id === fromTo);
    const ways = table && readFromTo({ nodes, texts }, table);
    if (!ways) {
      report(
        table
          ? `${element.name} cannot go by ${table.name}: it is no matrix whose cells are all times or all lengths.`
          : `It is not said by which table ${element.name} go.`,
        "Take a matrix whose rows and columns are elements by their names, such as sailing times in min.",
      );
      return;
    }
    const { range = "" } = element as unknown as { readonly range?: string };
    if (ways.of === "seconds" && range.trim() !== "")
      problems.add(
        "range-unknown",
        ["elements", index, "range"],
        { id: element.id, field: "range" },
        `How far ${element.name} go is not known: ${table!.name} tells times.`,
        "Leave the range empty, or take a table of lengths.",
      );
    for (const { link, from, to } of nodes.flatMap(({ out }) => out)) {
      if (link.kind !== "carried" || link.by !== element.id) continue;
      if (from === to || ways.between(from, to) !== undefined) continue;
      const [a, b] = [nodes[from].element, nodes[to].element];
      if (roads?.route(a.at, b.at)) continue;
      report(`${table.name} says nothing of the way from ${a.name} to ${b.name}.`, "Fill its cell, or draw a way.");
      return;
    }
  });
}
