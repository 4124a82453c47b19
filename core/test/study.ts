import { readStudy, type Study } from "../src/index.ts";

type Loose = Record<string, unknown>;

/** A study of one design from the few settings a test cares about; positions and names fill themselves in. */
export function study(parts: {
  elements: Loose[];
  links: Loose[];
  types?: Loose[];
  run?: Loose;
  design?: Loose;
  more?: Loose;
}): Study {
  const result = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Test",
    run: parts.run ?? {},
    designs: [
      {
        id: "d1",
        name: "Base",
        entityTypes: parts.types ?? [{ id: "t1", name: "Customer" }],
        elements: parts.elements.map((e, i) => ({
          name: String(e.id),
          at: [i * 10, 0],
          ...(e.kind === "arrivals" ? { entityType: "t1" } : {}),
          ...e,
        })),
        links: parts.links.map((l, i) => ({ id: `l${i}`, ...l })),
        ...parts.design,
      },
    ],
    ...parts.more,
  });
  if (!result.ok) throw new Error(JSON.stringify(result.problems, null, 1));
  return result.study;
}

/** Links in a row: chain("a", "b", "c") is a→b, b→c. */
export const chain = (...ids: string[]): Loose[] => ids.slice(1).map((to, i) => ({ from: ids[i], to }));
