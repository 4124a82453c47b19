import type { DesignOf } from "../../document/design.ts";
import { isFollowed, type Road, ROAD_SETTINGS } from "../../document/road.ts";
import type { StudyOf } from "../../document/study.ts";
import type { FollowedRoad } from "../../model/model.ts";
import { type DrawnWay, WayNetwork } from "../../movement/network.ts";
import type { Point } from "../../settings/parts.ts";
import type { Unfolded } from "../families/unfold.ts";
import type { ExpressionSetting } from "../../settings/setting.ts";
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
 * passes over it; from where one ends at a family all its members are reached straight. Told besides: the ways on which
 * others count, or that are open by hours or a condition.
 */
export function readRoads(
  { design, members }: Unfolded,
  document: DesignOf,
  scopes: Scopes,
  calendars: StudyOf["calendars"],
  problems: Problems,
): { readonly roads: WayNetwork | undefined; readonly followed: readonly FollowedRoad[] } {
  const roads = document.roads ?? [];
  const followed: FollowedRoad[] = [];
  if (roads.length === 0) return { roads: undefined, followed };
  const placeOf = new Map(document.elements.map(({ id, at }) => [id, at]));
  const ways: DrawnWay[] = roads.map((road, i) => {
    const read = (text: string | undefined, setting: ExpressionSetting) =>
      checkField(text ?? "", setting, scopes, problems, ["roads", i, setting.name], road.id);
    const speed = read(road.limit, ROAD_SETTINGS.limit)?.constant;
    const room = read(road.room, ROAD_SETTINGS.room)?.constant ?? Infinity;
    const factor = read(road.factor, ROAD_SETTINGS.factor)?.constant ?? 1;
    const closedWhile = read(road.closedWhile, ROAD_SETTINGS.closedWhile);
    if (road.calendar && !calendars.some(({ id, gives }) => id === road.calendar && gives === "capacity"))
      problems.add(
        "missing-calendar",
        ["roads", i, "calendar"],
        { id: road.id, field: "calendar" },
        "The calendar by which it is open does not exist.",
        "Choose another on its card.",
      );
    if (speed !== undefined && !(speed > 0))
      problems.add(
        "bad-value",
        ["roads", i, "limit"],
        { id: road.id, field: "limit" },
        "Speed limit: it must be above 0.",
        "Leave it empty for none.",
      );
    const points = roadPoints(road, (id) => placeOf.get(id));
    const way = { points, oneWay: road.oneWay, limit: speed !== undefined && speed > 0 ? speed : Infinity, factor };
    if (!isFollowed(road)) return way;
    followed.push({ road, room, closedWhile });
    return { ...way, followed: followed.length - 1, keepsOrder: road.keepsOrder === true };
  });
  const reached = new Set(roads.flatMap(({ from, to }) => [from, to]));
  for (const element of design.elements) {
    const family = members.get(element.id)?.family;
    if (family && reached.has(family.id))
      ways.push({ points: [family.at, element.at], oneWay: false, limit: Infinity });
  }
  const network = new WayNetwork(
    ways,
    design.elements.map(({ at }) => at),
  );
  return { roads: network, followed };
}
