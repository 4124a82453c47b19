import type { Problem } from "../document/problem.ts";
import { kindOf } from "../elements/index.ts";
import { byLink, type Model, type Node, type Way } from "../model/model.ts";

/** Checks the network of a design: that entities come in, can go everywhere they should, and get out again. */
export function checkStructure(model: Model, designIndex: number): Problem[] {
  const problems: Problem[] = [];
  const { nodes, design } = model;
  const report = (code: string, node: Node, field: string | undefined, message: string, hint: string) =>
    problems.push({
      code,
      severity: "error",
      message,
      hint,
      path: ["designs", designIndex, "elements", node.index, ...(field ? [field] : [])],
      designId: design.id,
      id: node.element.id,
      field,
    });

  if (!nodes.some((n) => n.traits.isSource)) {
    problems.push({
      code: "no-arrivals",
      severity: "error",
      message: "Nothing arrives in this design.",
      hint: "Place Arrivals on the floor and link them to the first place.",
      path: ["designs", designIndex, "elements"],
      designId: design.id,
    });
  }

  const reached = reachable(nodes, model.logic?.sends ?? []);
  for (const node of nodes) {
    const kind = kindOf(node.element);
    const links = node.in.length + everyWay(node).length;
    if (kind.standsAlone && links === 0 && !reached[node.index]) continue;
    if (kind.hasWayOut && node.out.length === 0) {
      report(
        "no-way-out",
        node,
        undefined,
        `${node.element.name} has no way out.`,
        "Drag a link from its edge to the place where entities go next.",
      );
    }
    if (kind.hasWayIn && !reached[node.index]) {
      report(
        "unreachable",
        node,
        undefined,
        `No entity can ever reach ${node.element.name}.`,
        "Link something to it, or delete it.",
      );
    }
    checkWaysOut(node, report);
  }
  problems.push(...timelessLoops(model, designIndex));
  return problems;
}

function reachable(nodes: readonly Node[], sends: NonNullable<Model["logic"]>["sends"]): boolean[] {
  const made = new Set(sends.flatMap(({ to, type }) => (type === undefined ? [] : [to])));
  for (const { element } of nodes) {
    const at = kindOf(element).makes?.(element)?.at;
    for (const node of nodes) if (at !== undefined && node.element.id === at) made.add(node.index);
  }
  const reached = nodes.map((n) => (n.traits.isSource ?? false) || made.has(n.index));
  const open = nodes.filter((n) => reached[n.index]);
  for (let node = open.pop(); node; node = open.pop()) {
    const sent = sends.filter(({ from }) => from === node.index);
    for (const { to } of [...everyWay(node), ...sent]) {
      if (reached[to]) continue;
      reached[to] = true;
      open.push(nodes[to]);
    }
  }
  return reached;
}

const everyWay = ({ out, turnedAway, scrapped, parts }: Node): readonly Way[] => [
  ...out,
  ...[turnedAway, scrapped, parts].filter((way) => way !== undefined),
];

type Report = (code: string, node: Node, field: string | undefined, message: string, hint: string) => void;

function checkWaysOut(node: Node, report: Report): void {
  const { element } = node;
  const links = byLink(node.out);
  const out = links.map(([first]) => first);
  if (!element.wayOut || out.length === 0) return;
  checkMembers(node, links, report);
  if (element.wayOut === "share") {
    const given = out.filter((way) => way.link.share.trim() !== "");
    if (given.length === 0) return;
    const constants = given.map((way) => way.settings.get("share")?.constant);
    if (constants.some((c) => c === undefined)) return; // checked while running
    const sum = constants.reduce<number>((total, c) => total + c!, 0);
    const empty = out.length - given.length;
    const percent = `${Number((sum * 100).toPrecision(10))} %`;
    if (empty > 1) {
      report(
        "shares-sum",
        node,
        "wayOut",
        `${empty} ways out of ${element.name} have no share, while others have.`,
        "Give each a share; one may stay empty and takes the rest.",
      );
    } else if (empty === 1 ? sum > 1 + 1e-9 : Math.abs(sum - 1) > 1e-9) {
      report(
        "shares-sum",
        node,
        "wayOut",
        `The shares of the ways out of ${element.name} come to ${percent}, not to 100 %.`,
        "Change the shares on its links so that they sum to 100 %.",
      );
    }
  }
  if (element.wayOut === "condition") {
    const open = out.filter((way) => way.link.condition.trim() === "").length;
    if (open !== 1 && out.length > 1) {
      report(
        "no-otherwise",
        node,
        "wayOut",
        open === 0
          ? `Every way out of ${element.name} has a condition, so an entity may find none.`
          : `${open} ways out of ${element.name} have no condition.`,
        "Leave the condition of exactly one way empty: it is taken otherwise.",
      );
    }
  }
}

/** Who chooses among the members of a family, the element or the link, is told, and can be done. */
function checkMembers(node: Node, links: readonly (readonly Way[])[], report: Report): void {
  const { element } = node;
  const toFamilies = links.filter((ways) => ways.length > 1);
  if (toFamilies.length === 0 || (links.length === 1 && !["named", "route"].includes(element.wayOut!))) return;
  const looks = ["shortest line", "cheapest", "first free"].includes(element.wayOut!);
  for (const [{ link }] of toFamilies) {
    if (looks && link.among === "named")
      report(
        "member-not-told",
        node,
        "wayOut",
        `${element.name} looks at every member itself (${element.wayOut}), while its link to the family names one.`,
        "Choose another way out, or let the link leave the member open.",
      );
    if (!looks && link.among === "first free")
      report(
        "member-not-told",
        node,
        "wayOut",
        `A link of ${element.name} leads to the first free member of a family, and it has other links too.`,
        "Lead it to a junction, and from there to the family; or let the way out be the first free.",
      );
  }
}

/** Sets of elements that lead only to one another and never take time: entities would go round for ever. */
function timelessLoops(model: Model, designIndex: number): Problem[] {
  const { nodes } = model;
  const timeless = nodes.map((node) => !kindOf(node.element).takesTime(node));
  // Strip elements with some way out of the loop until only closed loops are left.
  const trapped = new Set(nodes.filter((n) => timeless[n.index] && n.out.length > 0).map((n) => n.index));
  for (let changed = true; changed;) {
    changed = false;
    for (const index of trapped) {
      const stays = nodes[index].out.every((way) => trapped.has(way.to) && takesNoTime(way));
      if (!stays) changed = trapped.delete(index) || changed;
    }
  }
  if (trapped.size === 0) return [];
  const names = [...trapped].map((i) => nodes[i].element.name);
  const first = [...trapped][0];
  return [
    {
      code: "timeless-loop",
      severity: "error",
      message: `${names.join(", ")} ${names.length === 1 ? "leads" : "lead"} back to ${names.length === 1 ? "itself" : "each other"} and no time ever passes: entities would go round for ever at one instant.`,
      hint: "Give one of them a time above 0, or a way out of the loop.",
      path: ["designs", designIndex, "elements", first],
      designId: model.design.id,
      id: nodes[first].element.id,
      field: "time",
    },
  ];
}

function takesNoTime({ link, settings, drawnLength, route }: Way): boolean {
  if (link.kind === "direct") return true;
  if (link.kind === "carried" || link.kind === "escorted") return false;
  if (link.kind === "ways") return route !== undefined && route.length === 0;
  if (link.kind === "timed") return settings.get("time")?.constant === 0;
  return (settings.get("length")?.constant ?? drawnLength) === 0;
}
