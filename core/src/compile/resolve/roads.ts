import type { DesignOf } from "../../document/design.ts";
import { type Road, ROAD_SETTINGS } from "../../document/road.ts";
import { type DrawnWay, WayNetwork } from "../../movement/network.ts";
import type { Point } from "../../settings/parts.ts";
import type { Unfolded } from "../families/unfold.ts";
import { checkField } from "./field.ts";
import type { Problems } from "./problems.ts";
import type { Scopes } from "./scopes.ts";

/** The points of a way: its ends are where the elements stand at which it begins and ends. */
export function roadPoints({ points, from, to }: Road, placeOf: (id: string) => Point | undefined): Point[] {
  const drawn = [...points];
  drawn[0] = placeOf(from) ?? drawn[0];
  drawn[drawn.length - 1] = placeOf(to) ?? drawn[drawn.length - 1];
  return drawn;
}

/**
 * The ways of a design, joined; undefined where it has none. An element is on it where a way begins or ends at it, or
 * passes over it; from where one ends at a family all its members are reached straight.
 */
export function readRoads(
  { design, members }: Unfolded,
  document: DesignOf,
  scopes: Scopes,
  problems: Problems,
): WayNetwork | undefined {
  const roads = document.roads ?? [];
  if (roads.length === 0) return undefined;
  const placeOf = new Map(document.elements.map(({ id, at }) => [id, at]));
  const ways: DrawnWay[] = roads.map((road, i) => {
    const limit = checkField(road.limit, ROAD_SETTINGS.limit, scopes, problems, ["roads", i, "limit"], road.id);
    const speed = limit?.constant;
    if (speed !== undefined && !(speed > 0))
      problems.add(
        "bad-value",
        ["roads", i, "limit"],
        { id: road.id, field: "limit" },
        "Speed limit: it must be above 0.",
        "Leave it empty for none.",
      );
    const points = roadPoints(road, (id) => placeOf.get(id));
    return { points, oneWay: road.oneWay, limit: speed !== undefined && speed > 0 ? speed : Infinity };
  });
  const reached = new Set(roads.flatMap(({ from, to }) => [from, to]));
  for (const element of design.elements) {
    const family = members.get(element.id)?.family;
    if (family && reached.has(family.id))
      ways.push({ points: [family.at, element.at], oneWay: false, limit: Infinity });
  }
  return new WayNetwork(
    ways,
    design.elements.map(({ at }) => at),
  );
}
