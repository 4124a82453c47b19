import { SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import { numberOf, PLAIN, type Read } from "../../expression/index.ts";
import { SPEED } from "../../quantity/index.ts";
import type { StepModel } from "../../model/logic.ts";
import { choice, expression, resources, settings } from "../../settings/setting.ts";
import type { Pool } from "../../lowering/need.ts";
import { speedOf } from "../../lowering/speeds.ts";
import { skillsOf } from "../../lowering/skills.ts";
import { whoCan } from "../../settings/needs.ts";
import { asking } from "../asking.ts";
import type { Emitting } from "../emitting.ts";
import { anElement, stepTime } from "../fields.ts";
import { stepKind } from "../kind.ts";

export const TO = anElement("To", "An element, or an expression that gives one, such as entity.berth.");
export const OVER = choice("Over", "Straight, or over the walkways and roads that are drawn.", [
  ["straight", "straight"],
  ["over ways", "over the ways"],
]);
export const PACE = expression("Pace", "How fast. Empty: the speed of its type.", numberOf(SPEED), {
  optional: true,
  entity: true,
  above: 0,
  draws: 390,
});
const PATIENCE = stepTime("For at most", "How long it waits. Empty: for ever.", { optional: true, draws: 391 });
const PRIORITY = expression("Priority", "Who is served first: the highest number. Empty: 0.", PLAIN, {
  optional: true,
  entity: true,
  draws: 392,
});

/** The element to which a step leads, for a token; -1 where what it names is none, which is told. */
export function targetOf(step: StepModel, { read, fail, lowering }: Emitting): (token: number) => number {
  const to = read(step, "to");
  return (token) => {
    const target = to(token);
    if (lowering.model.nodes[target]) return target;
    fail(step, "to", "step-failed", "named no element.", "Name one, or a member of a family.", target);
    return -1;
  };
}

/** The element at which a token is, that to which it is under way among them. */
const whereIs = ({ nodeOf, lowering: { model } }: Emitting, token: number): number => {
  const at = nodeOf(token);
  return at < model.nodes.length ? at : model.ways[at - model.nodes.length].to;
};

/** How fast tokens move at a step: as it says, or as their types do. */
const paceOf = (step: StepModel, { optional, lowering: { model, kernel, expressions } }: Emitting): Read =>
  optional(step, "pace") ?? speedOf(model, kernel, expressions);

/**
 * Sends tokens walking to an element, after which they go on with a step: who asks for it says the pace, if that is
 * said; false where it has none, which is told.
 */
export function sending(step: StepModel, at: Emitting, arrived: number) {
  const { lowering, fail, optional } = at;
  const { kernel, model, expressions, places } = lowering;
  const { over } = step.step as unknown as { over: string };
  const walks = lowering.walks.by({ overWays: over === "over ways" });
  const said = optional(step, "pace");
  const own = speedOf(model, kernel, expressions);
  return (token: number, target: number, asks = token): boolean => {
    const speed = said ? said(asks) : own(token);
    if (!(speed > 0)) {
      const type = model.types[kernel.pool.typeOf(token)]?.type.name ?? "It";
      fail(step, "pace", "step-failed", `${type} has no speed to walk at.`, "Give its type one, or the step.", speed);
      return false;
    }
    const [place, heldPlace] = [places.walkingTo(target), places.of({ index: target }, "blocked")];
    walks.walk(token, { from: whereIs(at, token), to: target, metresASecond: speed, place, heldPlace }, arrived);
    return true;
  };
}

/** Has tokens walk to an element, where they are then, and go on with a step. */
function walking(step: StepModel, at: Emitting, next: number) {
  const { kernel, places } = at.lowering;
  const arrived = kernel.emit((token) => {
    kernel.pool.begin(token, places.of({ index: whereIs(at, token) }, "dwelling"), kernel.clock);
    return next;
  });
  const send = sending(step, at, arrived);
  return (token: number, target: number): number => {
    send(token, target);
    return SUSPEND;
  };
}

/** The entity walks to an element, where its steps go on. */
export const walk = stepKind({
  kind: "walk to",
  label: "Walk to",
  group: "entities",
  help: "The entity walks to an element, straight or over the ways that are drawn, and its steps go on there. It does not enter the element: the step Send does that.",
  example: "Walk to Notice board",
  sentence: "Walk to {to}, {over}(, at {pace})",
  settings: settings({ to: TO, over: OVER, pace: PACE }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, at) {
    const target = targetOf(step, at);
    const go = walking(step, at, at.next);
    return at.lowering.kernel.emit((token) => {
      const to = target(token);
      return to < 0 ? SUSPEND : go(token, to);
    });
  },
});

/** The entity takes a free spot of a place, and walks there. */
export const takeSpot = stepKind({
  kind: "take a spot",
  label: "Take a spot",
  group: "resources",
  help: "The entity waits for a free spot of one of the places named, or of any where people are so, and walks there; it keeps the spot until it is freed. Where it waits for a time at most, an Otherwise behind it is for when that is over.",
  example: "Take a spot for sitting, the nearest, at any place",
  sentence:
    "Take a spot for {posture}, {chosen}, at {places}, {over}(, at {pace})(, with priority {priority})(, for at most {patience})",
  settings: settings({
    posture: choice("For", "How people are there; places that are named are taken only if they are so.", [
      ["any", "anything"],
      ["sitting", "sitting"],
      ["standing", "standing"],
      ["lying", "lying"],
      ["typing", "typing, at a desk"],
    ]),
    chosen: choice("Which", "Which of the places that have a free spot.", [
      ["nearest", "the nearest"],
      ["first", "the first of those named"],
      ["emptiest", "that with the most free"],
    ]),
    places: resources("Places", "Which; none named: any place of the model, also those that are added later.", {
      none: "any place",
      places: true,
    }),
    over: OVER,
    pace: PACE,
    priority: PRIORITY,
    patience: PATIENCE,
  }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next, claims, id } = at;
    const { kernel, model } = lowering;
    const { posture, chosen, places } = step.step as unknown as { posture: string; chosen: string; places: string[] };
    const named = claims.named(places);
    const found = model.nodes.filter(
      ({ element, traits }) =>
        traits.hasSpots &&
        (named.length === 0 || named.includes(element.id)) &&
        (posture === "any" || (element as unknown as { posture: string }).posture === posture),
    );
    if (chosen === "first") found.sort((a, b) => named.indexOf(a.element.id) - named.indexOf(b.element.id));
    const indexOf = new Map(found.map(({ element, index }) => [element.id, index]));
    const metres = (token: number, { id: of }: Pool) => lowering.metresBetween(whereIs(at, token), indexOf.get(of)!);
    const prefers =
      chosen === "nearest" ? metres : chosen === "emptiest" ? (_: number, { units }: Pool) => -units.free : undefined;
    /** By token: the place that it was given a spot of. */
    const given = new Map<number, number>();
    lowering.replication.atStart(() => given.clear());
    const asker = claims.asker(
      id,
      [{ anyOf: found.map(({ element }) => element.id), count: () => 1, ...(prefers ? { prefers } : {}) }],
      (token, { id: of }) => void given.set(token, indexOf.get(of)!),
    );
    const go = walking(step, at, next);
    const ask = asking(step, at, asker, (token) => {
      const target = given.get(token)!;
      given.delete(token);
      return go(token, target);
    });
    return kernel.emit((token) => {
      if (found.length > 0) return ask(token);
      const of = posture === "any" ? "" : ` for ${posture}`;
      at.fail(step, "places", "step-failed", `found no place${of}.`, "Add one, or name others.");
      return SUSPEND;
    });
  },
});

/** One of a crew comes for the entity, and goes with it to an element. */
export const escort = stepKind({
  kind: "be escorted",
  label: "Be escorted to",
  group: "entities",
  help: "The entity waits until one of a crew has come, and they go together to an element, where its steps go on. Who goes beside it goes no faster than the entity; who pushes it, or carries it with another, goes at a pace of their own.",
  example: "Be escorted by Stewards to Coach, pushed",
  sentence: "Be escorted by {crew} to {to}, {how}(, by one where {can})(, at {pace})(, with priority {priority})",
  settings: settings({
    crew: resources("By", "The crew, or crews, any one of which will do.", { required: true }),
    to: TO,
    how: choice("How", "How they go with it, and how many of them.", [
      ["beside", "one beside it"],
      ["pushes", "pushed by one"],
      ["carries", "carried by two"],
    ]),
    can: whoCan({}),
    pace: PACE,
    priority: PRIORITY,
  }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next, claims, id } = at;
    const { kernel, places, resources: pools } = lowering;
    const { pool } = kernel;
    const crew = claims.named((step.step as unknown as { crew: string[] }).crew);
    const target = targetOf(step, at);
    const said = at.optional(step, "pace");
    const pace = paceOf(step, at);
    const goals = new Map<number, number>();
    lowering.replication.atStart(() => goals.clear());
    const there = kernel.emit((token) => {
      claims.free(token, crew, bearers);
      return next;
    });
    const come = kernel.emit((token) => {
      pool.credit(token, PART.moving, kernel.clock);
      pool.begin(token, places.of({ index: whereIs(at, token) }, "dwelling"), kernel.clock);
      return there;
    });
    // Of a crew that does not walk one is there at once, and goes as the entity does.
    const alone = walking(step, at, there);
    const { how } = step.step as unknown as { how: "beside" | "pushes" | "carries" };
    const bearers = how === "carries" ? 2 : 1;
    const asker = claims.asker(id, [
      { anyOf: crew, count: () => bearers, ...skillsOf(step.who, at.optional(step, "can")) },
    ]);
    const ask = asking(step, at, asker, (token) => {
      const to = goals.get(token)!;
      goals.delete(token);
      for (const of of crew.flatMap((one) => pools.of(one) ?? [])) {
        const units = pools.requests.lastOf(token, of, bearers);
        if (units.length === 0 || !of.walkers) continue;
        pool.beginUntil(token, places.walkingTo(to), come, kernel.clock);
        of.walkers.escort(units, to, how === "beside" ? pace(token) : (said?.(token) ?? Number.NaN), token, how);
        return SUSPEND;
      }
      return alone(token, to);
    });
    return kernel.emit((token) => {
      const to = target(token);
      if (to < 0) return SUSPEND;
      goals.set(token, to);
      return ask(token);
    });
  },
});

/** A vehicle carries the entity to an element. */
export const ride = stepKind({
  kind: "ride to",
  label: "Ride to",
  group: "entities",
  help: "The entity waits until a vehicle has come, and is carried to an element, where its steps go on.",
  example: "Ride with Shuttles to Hotel",
  sentence: "Ride with {by} to {to}",
  settings: settings({
    by: anElement("With", "The vehicles."),
    to: TO,
  }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next, read, fail, standingAt } = at;
    const { kernel, places, fleets, model } = lowering;
    const by = read(step, "by");
    const target = targetOf(step, at);
    const stand = standingAt("needing");
    const goals = new Map<number, number>();
    lowering.replication.atStart(() => goals.clear());
    lowering.population.keepTransport();
    const arrived = kernel.emit((token) => {
      const to = goals.get(token)!;
      goals.delete(token);
      kernel.pool.begin(token, places.of({ index: to }, "dwelling"), kernel.clock);
      return next;
    });
    return kernel.emit((token) => {
      const to = target(token);
      if (to < 0) return SUSPEND;
      const named = by(token);
      const fleet = fleets.get(model.nodes[named]?.element.id ?? "");
      if (!fleet) {
        fail(step, "by", "step-failed", "named no vehicles.", "Name an element that is vehicles.", named);
        return SUSPEND;
      }
      const from = whereIs(at, token);
      goals.set(token, to);
      stand(token);
      fleet.ask(token, { from, to, index: -1 }, arrived);
      return SUSPEND;
    });
  },
});
