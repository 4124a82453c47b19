import type { Read } from "../expression/index.ts";
import { grown, lengthFor } from "../kernel/grown.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import type { Way } from "../model/model.ts";
import type { Route } from "../movement/network.ts";
import type { Level } from "../statistics/level.ts";
import type { Counter } from "./counter.ts";
import type { Travel } from "./travel.ts";

/**
 * What happens when an entity sets out on its way over those that are drawn: a step for each stretch on which one limit
 * holds, and between two that are followed it may have to wait. How fast it would move is asked once.
 */
export function overWays(
  way: Way,
  { stretches }: Route,
  { passed, underWay, speed }: { readonly passed: Counter; readonly underWay: Level; readonly speed: Read },
  { kernel, entries, presence, places, traffic }: Travel,
): Read {
  const { pool } = kernel;
  const { to, link } = way;
  const tracked = presence.isKept;
  const last = stretches.length;
  const on = stretches.map((stretch) => stretch.on);
  // On a route of one stretch nothing is to be remembered.
  const remembers = last > 1 || on.some((at) => at !== undefined);
  let wanted = new Float64Array(remembers ? 16 : 0);
  const goesOn: number[] = [];
  /** Sets out on a stretch, or waits where the one before it ends; after the last it has arrived. */
  const setOut = (s: number, token: number, metresASecond: number): number => {
    if ((on[s - 1] || on[s]) && !traffic.pass(token, on[s - 1], on[s])) {
      pool.beginUntil(token, heldPlaces[s], resumed[s], kernel.clock);
      return SUSPEND;
    }
    if (s === last) {
      underWay.add(-1);
      return entries[to];
    }
    const { length, limit } = stretches[s];
    pool.beginUntil(token, stretchPlaces[s], goesOn[s], kernel.clock);
    kernel.delay(token, length / Math.min(metresASecond, limit), EventClass.activityEnd, link.id, "kind");
    return SUSPEND;
  };
  const stretchPlaces = stretches.map(({ from, length }) => places.on(way, from, from + length));
  const heldPlaces = on.map((_, s) => places.held(way, stretches[s].from));
  if (last > 0) heldPlaces.push(places.held(way, stretches[last - 1].from + stretches[last - 1].length));
  for (let s = 0; s < last; s++)
    goesOn.push(
      kernel.emit((token) => {
        pool.credit(token, PART.moving, kernel.clock);
        return setOut(s + 1, token, wanted[token]);
      }),
    );
  const resumed = heldPlaces.map((_, s) =>
    kernel.emit((token) => {
      pool.credit(token, PART.blocked, kernel.clock);
      return setOut(s, token, wanted[token]);
    }),
  );
  return (token) => {
    passed.total += 1;
    if (tracked) presence.come(to);
    // Both stand at the same point.
    if (last === 0) return entries[to];
    underWay.add(1);
    const metresASecond = speed(token);
    if (remembers) {
      if (token >= wanted.length) wanted = grown(wanted, lengthFor(token, wanted.length));
      wanted[token] = metresASecond;
    }
    return setOut(0, token, metresASecond);
  };
}
