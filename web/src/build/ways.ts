import { type Design, type Element, type Escort, kindOf, type Link, type WAYS_OUT } from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";

export const WAY_OUT_LABELS: Readonly<Record<(typeof WAYS_OUT)[number], string>> = {
  share: "by share",
  "shortest line": "shortest line",
  "in turn": "in turn",
  "first free": "first with room",
  condition: "by condition",
  cheapest: "least cost",
  named: "the one named",
  route: "along its route",
};

/** How somebody is escorted along a link, in words. */
export const ESCORT_WORDS = [
  ["beside", "one beside it"],
  ["pushes", "pushed by one"],
  ["carries", "carried by two"],
] as const satisfies readonly (readonly [Escort, string])[];

/** What is set on the links out, for each way to choose among them. */
export const WAY_FIELDS = {
  share: ["share", "even, or the rest"],
  condition: ["condition", "otherwise"],
  cheapest: ["cost", "such as Crane.queue.length"],
} as const;

export const wayField = (element: Element) =>
  "wayOut" in element && element.wayOut in WAY_FIELDS
    ? WAY_FIELDS[element.wayOut as keyof typeof WAY_FIELDS]
    : undefined;

export const TAKES: Readonly<Record<Link["takes"], string>> = {
  done: "those who are done",
  "turned away": "those turned away",
  scrapped: "those scrapped",
  parts: "parts or copies",
};

/** Who may take links from an element besides those who are done. */
export const asideOf = (element: Element) => Object.keys(kindOf(element).aside ?? {}) as Link["takes"][];

export const linkName = (design: Design, link: Link) => {
  const name = (id: string) => design.elements.find((e) => e.id === id)?.name ?? "nowhere";
  return `${name(link.from)} to ${name(link.to)}`;
};

/** Whether the order of its ways says which is taken. */
export const ordersWays = (element: Element): boolean =>
  "wayOut" in element && ["condition", "first free", "in turn"].includes(element.wayOut);

export const wayName = ({ links, elements }: Design, id: string): string => {
  const to = links.find((l) => l.id === id)?.to;
  return `the way to ${elements.find((e) => e.id === to)?.name ?? "nowhere"}`;
};

/** Puts a link in another's place among those of the design, which is the order in which ways are looked at. */
export function reorderWays(from: string, to: string): void {
  useStudy.getState().changeDesign("Change order of ways", (d) => {
    const [a, b] = [from, to].map((id) => d.links.findIndex((l) => l.id === id));
    if (a >= 0 && b >= 0) d.links.splice(b, 0, ...d.links.splice(a, 1));
  });
}

/** Those that may carry, or escort, along a link of a kind. */
export const takersAlong = ({ elements }: Design, kind: Link["kind"]): readonly Element[] =>
  elements.filter((e) => (kind === "escorted" ? e.kind === "crew" : kindOf(e).group === "transport"));
