import type { Read } from "../expression/index.ts";
import { byLink, type Model, type Node, placesOnRoute, streamOf, type Way } from "../model/model.ts";
import type { Kernel } from "../kernel/kernel.ts";
import type { Expressions } from "./expressions.ts";
import type { Replication } from "./replication.ts";

/** What choosing goes by. */
export interface Choosing {
  readonly model: Model;
  readonly kernel: Kernel;
  readonly expressions: Expressions;
  readonly replication: Replication;
  /** Entities in an element or on the way to it, by its index, where some way out asks for the shortest line. */
  readonly present: Int32Array;
}

/** How an entity picks a way: returns the position among `node.out`, or -1 after a failure. */
export function chooser(node: Node, choosing: Choosing): Read {
  const { out, element } = node;
  const links = byLink(out);
  if (!element.wayOut) return () => 0;
  if (links.length === out.length) return amongWays(node, choosing);
  // Where a link leads to a family, a rule that looks at places looks at every member. Any other chooses a link, and
  // the link a member.
  if (LOOKS_AT_PLACES.has(element.wayOut) && links.length > 1) return amongWays(node, choosing);
  const members = links.map((ways) => memberChooser(node, ways, choosing));
  if (element.wayOut === "named") return namedChooser(node, choosing, members);
  if (element.wayOut === "route") return routeChooser(node, choosing, members);
  const [only] = members;
  if (members.length === 1) return only;
  const link = amongWays({ ...node, out: links.map(([first]) => first) }, choosing);
  return (token) => {
    const chosen = link(token);
    return chosen < 0 ? chosen : members[chosen](token);
  };
}

const LOOKS_AT_PLACES: ReadonlySet<string> = new Set(["shortest line", "cheapest", "first free"]);

/** The member of a family to which a link leads, as the position of the way there among `node.out`. */
function memberChooser({ out, element }: Node, ways: readonly Way[], choosing: Choosing): Read {
  const at = ways.map((way) => out.indexOf(way));
  const [{ link, settings }] = ways;
  if (at.length === 1) return () => at[0];
  const { replication, present, expressions, model, kernel } = choosing;
  switch (link.among) {
    case "in turn": {
      let last = -1;
      replication.atStart(() => (last = -1));
      return () => at[(last = (last + 1) % at.length)];
    }
    case "at random": {
      const uniform = expressions.uniform(streamOf(link, "member"));
      return () => at[Math.floor(uniform() * at.length)];
    }
    case "named": {
      const read = settings
        .get("member")!
        .compile(expressions.environment(streamOf(link, "member"), link.id, "member"));
      const wayTo = new Map(at.map((position) => [out[position].to, position]));
      return (token) => {
        const target = read(token);
        const way = wayTo.get(target) ?? -1;
        if (way < 0)
          kernel.fail({
            code: "no-such-way",
            message: `An entity at ${element.name} is to go to ${model.nodes[target]?.element.name ?? "no element"}, which is no member that the link leads to.`,
            hint: "Change which member the link names.",
            id: link.id,
            field: "member",
          });
        return way;
      };
    }
    default:
      return () => {
        let best = at[0];
        for (const way of at) if (present[out[way].to] < present[out[best].to]) best = way;
        return best;
      };
  }
}

/** Picks among the ways one by one, by the element's own rule. */
function amongWays(node: Node, choosing: Choosing): Read {
  const { expressions, replication, present } = choosing;
  const { out, element } = node;
  if (out.length === 1 && !["named", "route"].includes(element.wayOut!)) return () => 0;
  switch (element.wayOut) {
    case "shortest line":
      return () => {
        let best = 0;
        for (let i = 1; i < out.length; i++) if (present[out[i].to] < present[out[best].to]) best = i;
        return best;
      };
    case "in turn": {
      let last = -1;
      replication.atStart(() => (last = -1));
      return () => (last = (last + 1) % out.length);
    }
    case "cheapest": {
      const costs = out.map(
        (way) => way.settings.get("cost")?.compile(expressions.environment(streamOf(way.link, "cost"))) ?? (() => 0),
      );
      return (token) => {
        let best = 0;
        let least = Infinity;
        for (let i = 0; i < costs.length; i++) {
          const cost = costs[i](token);
          if (cost < least) [best, least] = [i, cost];
        }
        return best;
      };
    }
    case "named":
      return namedChooser(node, choosing);
    case "route":
      return routeChooser(node, choosing);
    case "condition": {
      const conditions = out.map((way) =>
        way.settings.get("condition")?.compile(expressions.environment(streamOf(way.link, "condition"))),
      );
      const otherwise = conditions.findIndex((c) => c === undefined);
      return (token) => {
        for (let i = 0; i < conditions.length; i++) {
          const condition = conditions[i];
          if (condition && condition(token) !== 0) return i;
        }
        return otherwise;
      };
    }
    default:
      return shareChooser(node, choosing);
  }
}

/**
 * By index of an element, or of a family as a whole, the position of the way there; -1 where none leads there. A
 * family has that of `members`, one a link.
 */
function waysTo(
  { out }: Node,
  { nodes, families }: Model,
  members: readonly Read[] = [],
): (target: number, token: number) => number {
  const wayTo = new Int32Array(nodes.length).fill(-1);
  for (let i = out.length - 1; i >= 0; i--) wayTo[out[i].to] = i;
  const links = byLink(out);
  const chooserTo = families.list.map(({ members: of }) => {
    const link = links.findIndex((ways) => ways.some(({ to }) => of.includes(to)));
    return members[link];
  });
  return (target, token) => {
    if (!(target >= nodes.length)) return wayTo[target] ?? -1;
    const choose = chooserTo[target - nodes.length];
    return choose ? choose(token) : -1;
  };
}

/** The way to the element that an expression names. */
function namedChooser(node: Node, choosing: Choosing, members?: readonly Read[]): Read {
  const { kernel, model, expressions } = choosing;
  const { element } = node;
  const destination = expressions.read(node, "destination", -1);
  const wayTo = waysTo(node, model, members);
  return (token) => {
    const target = destination(token);
    const way = wayTo(target, token);
    if (way < 0) {
      kernel.fail({
        code: "no-such-way",
        message: `An entity at ${element.name} is to go to ${nameAt(model, target)}, but no link leads there.`,
        hint: "Draw that link, or change where entities go.",
        id: element.id,
        field: "destination",
      });
    }
    return way;
  };
}

/** The way to the next step of an entity's route; after the last, the way to where no route leads. */
function routeChooser(node: Node, { kernel, model }: Choosing, members?: readonly Read[]): Read {
  const { out, element } = node;
  const { route, types, attributeCount } = model;
  if (!route) return () => -1;
  const { pool } = kernel;
  const wayTo = waysTo(node, model, members);
  const places = placesOnRoute(model);
  const onward = out.findIndex((way) => !places.has(way.to));
  const fail = (message: string, hint: string): number => {
    kernel.fail({ code: "no-such-way", message, hint, id: element.id, field: "wayOut" });
    return -1;
  };
  return (token) => {
    const type = pool.typeOf(token);
    const at = token * attributeCount;
    const step = pool.attributes[at + route.stepSlot];
    const row = route.rows[type][step];
    const { name } = types[type].type;
    if (row === undefined) {
      if (onward >= 0) return onward;
      return fail(
        `A ${name} at ${element.name} has come to the end of its route, and no link leads on from there.`,
        "Draw a link to an element that is on no route, such as departures.",
      );
    }
    pool.attributes[at + route.stepSlot] = step + 1;
    pool.attributes[at + route.rowSlot] = row;
    const target = route.next[row];
    const way = wayTo(target, token);
    if (way >= 0) return way;
    return fail(
      `A ${name} at ${element.name} goes to ${nameAt(model, target)} by its route, but no link leads there.`,
      "Draw that link, or change the route.",
    );
  };
}

/** The name of an element, or of a family as a whole, by its index. */
const nameAt = ({ nodes, families }: Model, index: number): string =>
  (nodes[index] ?? families.list[index - nodes.length])?.element.name ?? "no element";

/** By chance, by the shares of the links. */
function shareChooser(node: Node, { kernel, expressions }: Choosing): Read {
  const { out, element } = node;
  const stream = streamOf(element, "wayOut");
  const environment = expressions.environment(stream);
  const uniform = expressions.uniform(stream);
  const given = out.map((way) => way.settings.get("share"));
  const none = given.every((share) => share === undefined);
  const shares = given.map((share) => (none ? () => 1 / out.length : share?.compile(environment)));
  const rest = shares.findIndex((share) => share === undefined);
  const weights = new Float64Array(out.length);
  return (token) => {
    let total = 0;
    for (let i = 0; i < weights.length; i++) {
      const share = shares[i];
      weights[i] = share ? share(token) : 0;
      total += weights[i];
    }
    if (rest >= 0) {
      weights[rest] = 1 - total;
      total = 1;
    }
    if (!(Math.abs(total - 1) < 1e-6) || weights.some((w) => !(w >= 0))) {
      kernel.fail({
        code: "bad-share",
        message: `The shares of the ways out of ${element.name} came to ${total}, not to 1.`,
        hint: "Make the shares sum to 100 % for every entity.",
        id: element.id,
        field: "wayOut",
        value: total,
      });
      return -1;
    }
    const u = uniform();
    let sum = 0;
    for (let i = 0; i < weights.length - 1; i++) {
      sum += weights[i];
      if (u < sum) return i;
    }
    return weights.length - 1;
  };
}
