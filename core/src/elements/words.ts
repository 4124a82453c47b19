import { type Among, CONVEYOR_DEFAULTS } from "../document/link.ts";
import type { StudyOf } from "../document/study.ts";
import type { TableSource } from "../expression/tables.ts";
import { byLink, nameOfNode, type Node, type Way } from "../model/model.ts";
import type { Phrase } from "./kind.ts";

const NUMBER_WORDS = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];

export const countWord = (n: number): string => NUMBER_WORDS[n] ?? String(n);

export const strong = (text: string): Phrase => ({ strong: text });

/** What a row of a table is called: by its key, else by its number. */
export const nameOfRow = (table: TableSource, row: number): string =>
  table.key && !Number.isNaN(table.key.values[row])
    ? table.say(table.key.values[row]).replace(/^"|"$/g, "")
    : `Row ${row + 1}`;

/** What a table is called that a thing names. */
export const tableName = ({ tables }: Pick<StudyOf, "tables">, id: string): string =>
  tables.find((table) => table.id === id)?.name ?? "no table yet";

/** Names in a list: "A", "A and B", "A, B and C", or with "or". */
export function listed(names: readonly string[], last: " and " | " or " = " and "): Phrase[] {
  return names.flatMap((name, i) => {
    const before = i === 0 ? [] : [i === names.length - 1 ? last : ", "];
    return [...before, strong(name)];
  });
}

const AMONG_WORDS: Readonly<Record<Among, string>> = {
  "shortest line": "with the fewest in it or on the way to it",
  "first free": "that has room first",
  "in turn": "whose turn it is",
  "at random": "drawn at random",
  named: "that the link names",
  same: "with the same key",
};

/** Which member of a family entities take, in words, where the element does not look at each itself. */
function whichMember({ element }: Node, links: readonly (readonly Way[])[], nodes: readonly Node[]): Phrase[] {
  const looks = links.length > 1 && ["shortest line", "cheapest", "first free"].includes(element.wayOut ?? "");
  if (looks) return [];
  return links.flatMap(([{ link, to }, ...more]): Phrase[] =>
    more.length === 0 && link.among !== "same"
      ? []
      : nodes[to].member
        ? [" Of ", strong(nameOfNode(nodes[to])), ` it is the one ${AMONG_WORDS[link.among ?? "shortest line"]}.`]
        : [],
  );
}

/** Where entities come from, in words. */
export function fromWhere(node: Node, nodes: readonly Node[]): Phrase[] {
  const names = [...new Set(node.in.map((way) => nameOfNode(nodes[way.from])))];
  return names.length === 0 ? ["nowhere yet"] : listed(names);
}

/** Where entities go next, and how they choose, in words. */
export function whereTo(node: Node, nodes: readonly Node[]): Phrase[] {
  const links = byLink(node.out);
  const first = { ...node, out: links.map(([way]) => way) };
  return [
    ...waysOn(first, nodes),
    ...whichMember(node, links, nodes),
    ...first.out.flatMap((way) => howTo(way, nodes, first.out.length > 1)),
  ];
}

/** How entities come along a link to the next element, where somebody or something brings them. */
function howTo({ link, to }: Way, nodes: readonly Node[], isOneOfSeveral: boolean): Phrase[] {
  const where: Phrase[] = isOneOfSeveral ? [" To ", strong(nameOfNode(nodes[to])), " they "] : [" They "];
  const by = strong(nodes.find(({ element }) => element.id === link.by)?.element.name ?? "nobody yet");
  if (link.kind === "carried") return [...where, "are carried there by ", by, "."];
  if (link.kind === "escorted") return [...where, "are escorted there by one of ", by, "."];
  if (link.kind !== "conveyor") return [];
  const { beltSpeed = CONVEYOR_DEFAULTS.beltSpeed, beltRoom = CONVEYOR_DEFAULTS.beltRoom } = link;
  return [
    ...where,
    "go over a conveyor at ",
    strong(beltSpeed),
    ", each taking ",
    strong(beltRoom),
    link.accumulates === false
      ? ", which stands while one at its end waits."
      : ", and close up behind one that waits at its end.",
  ];
}

function waysOn(node: Node, nodes: readonly Node[]): Phrase[] {
  const { element, out } = node;
  if (!element.wayOut) return [];
  if (out.length === 0) return [" Then ", strong("nowhere yet"), "."];
  const names = out.map((way) => nameOfNode(nodes[way.to]));
  if (element.wayOut === "route")
    return [" Then along its route, of which ", ...listed(names, " or "), " may be next."];
  if (out.length === 1) return [" Then on to ", strong(names[0]), "."];
  switch (element.wayOut) {
    case "share": {
      const given = out.map((way) => way.link.share);
      const even = given.every((share) => share === "");
      if (even) return [" Then to ", ...listed(names), " in even shares."];
      return [
        " Then ",
        ...out.flatMap((_, i): Phrase[] => [
          i === 0 ? "" : ", ",
          strong(given[i] || "the rest"),
          " to ",
          strong(names[i]),
        ]),
        ".",
      ];
    }
    case "shortest line":
      return [" Then to whichever of ", ...listed(names), " has the fewest in it or on the way to it."];
    case "in turn":
      return [" Then to ", ...listed(names), " in turn."];
    case "first free":
      return [" Then to the first of ", ...listed(names), " with room."];
    case "cheapest":
      return [" Then to whichever of ", ...listed(names), " costs least."];
    case "named":
      return [" Then to the element named by ", strong(element.destination?.trim() || "nothing yet"), "."];
    case "condition":
      return [
        " Then ",
        ...out.flatMap((way, i): Phrase[] => [
          i === 0 ? "" : "; ",
          ...(way.link.condition ? ["if ", strong(way.link.condition), " "] : ["otherwise "]),
          "to ",
          strong(names[i]),
        ]),
        ".",
      ];
  }
}

/** A default name for a new element: the label, with a number where it is taken. */
export function freshName(label: string, taken: readonly { readonly name: string }[]): string {
  const used = new Set(taken.map((t) => t.name.toLowerCase()));
  if (!used.has(label.toLowerCase())) return label;
  let n = 2;
  while (used.has(`${label} ${n}`.toLowerCase())) n += 1;
  return `${label} ${n}`;
}
