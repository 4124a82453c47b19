import type { Node } from "../../model/model.ts";
import type { WayNetwork } from "../../movement/network.ts";
import type { Problems } from "./problems.ts";

/**
 * Crews that walk over the ways that are drawn come from home to where they are needed, and back. Where each member has
 * a home of its own, that is known when the run starts.
 */
export function checkWalkers(nodes: readonly Node[], roads: WayNetwork | undefined, problems: Problems): void {
  for (const { element: crew } of nodes) {
    if (!("walks" in crew) || crew.walks !== "over ways") continue;
    if ("homeAt" in crew && String(crew.homeAt).trim() !== "") continue;
    nodes.forEach(({ element, resources }, index) => {
      const { idle, post } = crew as unknown as { readonly idle?: string; readonly post?: string };
      const isPost = idle === "post" && post === element.id;
      if (!resources.includes(crew.id) && !isPost) return;
      for (const [from, to] of [
        [crew, element],
        [element, crew],
      ]) {
        if (roads?.route(from.at, to.at)) continue;
        const off = [from, to].find(({ at }) => !roads?.has(at));
        problems.add(
          "no-route",
          ["elements", index],
          { id: element.id },
          off
            ? `No walkway or road comes to ${off.name}, where ${crew.name} walk.`
            : `No way leads ${crew.name} from ${from.name} to ${to.name} over the walkways and roads.`,
          off ? "Draw one that begins, ends or passes there." : "Join them: ways meet where they share a point.",
        );
        return;
      }
    });
  }
}
