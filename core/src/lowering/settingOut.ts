import type { Read } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import { streamOf, type Way } from "../model/model.ts";
import type { Level } from "../statistics/level.ts";
import { count, level, type MeasureSpecs } from "../measures/spec.ts";
import type { Counter } from "./counter.ts";
import type { Fleet } from "./fleet.ts";
import { overWays } from "./overWays.ts";
import type { Pool } from "./need.ts";
import type { Asker } from "./requests.ts";
import { speedOf } from "./speeds.ts";
import type { Travel } from "./travel.ts";

/** What is measured of a link. */
export const LINK_MEASURES = {
  passed: count("Entities that set out", "Entities that set out on the link."),
  underWay: level("Under way", "Entities on the link"),
} as const satisfies MeasureSpecs;

/** What happens when an entity sets out on a link, where `passed` counts it: returns the next step. */
export function settingOut(way: Way, passed: Counter, travel: Travel): Read {
  const { kernel, entries, model, meters, expressions, presence, places } = travel;
  const tracked = presence.isKept;
  const { pool } = kernel;
  const { to, link } = way;
  const name = `${model.nodes[way.from].element.name} to ${model.nodes[to].element.name}`;
  const measured = meters.of({ id: link.id, name }, "link", LINK_MEASURES);
  measured.add("passed", () => passed.n);
  if (link.kind === "direct") {
    return () => {
      passed.total += 1;
      if (tracked) presence.come(to);
      return entries[to];
    };
  }
  const underWay = meters.level();
  measured.level("underWay", underWay);
  const crew = link.kind === "escorted" && travel.resources.of(link.by ?? "");
  if (crew) return escortedBy(way, crew, passed, underWay, travel);
  const fleet = link.kind === "carried" && travel.fleets.get(link.by ?? "");
  if (fleet) return carriedBy(way, fleet, passed, underWay, travel);
  if (way.route && travel.traffic.waysNow.change) return overWaysNow(way, passed, underWay, travel);
  if (way.route)
    return overWays(way, way.route, { passed, underWay, speed: speedOf(model, kernel, expressions) }, travel);
  const [field, duration] = travelTime(way, travel);
  const place = places.on(way);
  const arrive = kernel.emit((token) => {
    underWay.add(-1);
    pool.credit(token, PART.moving, kernel.clock);
    return entries[to];
  });
  return (token) => {
    passed.total += 1;
    if (tracked) presence.come(to);
    underWay.add(1);
    pool.beginUntil(token, place, arrive, kernel.clock);
    kernel.delay(token, duration(token), EventClass.activityEnd, link.id, field);
    return SUSPEND;
  };
}

/** The same over ways of which each time that is taken which counts least then. */
function overWaysNow(way: Way, passed: Counter, underWay: Level, travel: Travel): Read {
  const { kernel, entries, presence, places, model, expressions } = travel;
  const { from, to, link } = way;
  const tracked = presence.isKept;
  const quickestAt = way.settings.get("quickestAt")?.constant;
  const walks = travel.walks.by({ overWays: true, ...(quickestAt === undefined ? {} : { quickestAt }) });
  const speed = speedOf(model, kernel, expressions);
  const [place, heldPlace] = [places.on(way), places.held(way, 0)];
  const arrive = kernel.emit(() => {
    underWay.add(-1);
    return entries[to];
  });
  return (token) => {
    passed.total += 1;
    if (tracked) presence.come(to);
    underWay.add(1);
    const metresASecond = speed(token);
    if (metresASecond > 0) walks.walk(token, { from, to, metresASecond, place, heldPlace }, arrive);
    else kernel.delay(token, way.drawnLength / metresASecond, EventClass.activityEnd, link.id, "kind");
    return SUSPEND;
  };
}

/** The time under way, and the setting that it comes from. */
function travelTime(
  { link, settings, drawnLength }: Way,
  { model, kernel, expressions }: Travel,
): [field: string, duration: Read] {
  const time = settings.get("time");
  if (link.kind === "timed" && time) return ["time", time.compile(expressions.environment(streamOf(link, "time")))];
  const metres = settings.get("length")?.constant ?? drawnLength;
  const speed = speedOf(model, kernel, expressions);
  return ["length", (token) => metres / speed(token)];
}

/** What happens when an entity is to be carried: it waits where the link begins until a vehicle has come for it. */
function carriedBy(way: Way, fleet: Fleet, passed: Counter, underWay: Level, travel: Travel): Read {
  const { kernel, entries, presence, places } = travel;
  const { pool } = kernel;
  const { to } = way;
  const tracked = presence.isKept;
  const waiting = places.before(way);
  const arrive = kernel.emit(() => {
    underWay.add(-1);
    return entries[to];
  });
  return (token) => {
    passed.total += 1;
    if (tracked) presence.come(to);
    underWay.add(1);
    pool.begin(token, waiting, kernel.clock);
    fleet.ask(token, way, arrive);
    return SUSPEND;
  };
}

/**
 * What happens when an entity is to be escorted: it waits where the link begins for a member of the crew, or two who
 * carry it, who walk there, and they go together, as fast as the slowest of them.
 */
function escortedBy(way: Way, crew: Pool, passed: Counter, underWay: Level, travel: Travel): Read {
  const { kernel, entries, model, presence, places, expressions } = travel;
  const { pool } = kernel;
  const { to, link } = way;
  const { requests } = travel.resources;
  const tracked = presence.isKept;
  const speed = speedOf(model, kernel, expressions);
  const [waiting, together] = [places.before(way), places.on(way)];
  const { how = "beside" } = link;
  const bearers = how === "carries" ? 2 : 1;
  const asker: Asker = {
    id: link.id,
    place: way.from,
    needs: [{ anyOf: [crew], count: () => bearers }],
    yields: false,
  };
  const arrive = kernel.emit((token) => {
    underWay.add(-1);
    pool.credit(token, PART.moving, kernel.clock);
    requests.free(token);
    return entries[to];
  });
  const met = kernel.emit((token) => {
    pool.credit(token, PART.waiting, kernel.clock);
    pool.beginUntil(token, together, arrive, kernel.clock);
    // Who is pushed or carried goes as fast as those who do that.
    if (crew.walkers)
      crew.walkers.escort(
        requests.lastOf(token, crew, bearers),
        to,
        how === "beside" ? speed(token) : Number.NaN,
        token,
        how,
      );
    else {
      const metres = way.settings.get("length")?.constant ?? way.drawnLength;
      kernel.delay(token, metres / speed(token), EventClass.activityEnd, link.id, "kind");
    }
    return SUSPEND;
  });
  return (token) => {
    passed.total += 1;
    if (tracked) presence.come(to);
    underWay.add(1);
    pool.beginUntil(token, waiting, met, kernel.clock);
    requests.ask(token, asker, 1, 0);
    return SUSPEND;
  };
}
