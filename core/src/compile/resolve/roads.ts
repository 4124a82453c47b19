import type { DesignOf } from "../../document/design.ts";
import { isFollowed, type Road, ROAD_SETTINGS } from "../../document/road.ts";
import type { StudyOf } from "../../document/study.ts";
import { type Scope, within } from "../../expression/index.ts";
import type { FollowedRoad } from "../../model/model.ts";
import { ofWay } from "../../model/sources.ts";
import { type DrawnWay, WayNetwork } from "../../movement/network.ts";
import type { Point } from "../../settings/parts.ts";
import type { Unfolded } from "../families/unfold.ts";
import type { ExpressionSetting } from "../../settings/setting.ts";
import { rounded } from "../../movement/rounded.ts";
import { radiusOf } from "../geometry.ts";
import { checkField } from "./field.ts";
import type { Problems } from "./problems.ts";
import type { Scopes } from "./scopes.ts";

/** Names where something is said of a way: the way itself. */
export const withinWay = (scope: Scope, road: string): Scope =>
  within(scope, new Map([["way", { type: { kind: "element" }, properties: ofWay(road) }]]));

/** The points of a way: its ends are where the elements stand at which it begins and ends. */
export function roadPoints({ points, from, to }: Road, placeOf: (id: string) => Point | undefined): Point[] {
  const drawn = [...points];
  drawn[0] = placeOf(from) ?? drawn[0];
  drawn[drawn.length - 1] = placeOf(to) ?? drawn[drawn.length - 1];
  return drawn;
}

/** The same, its corners rounded where it has curves; `joints` are the points at which other things may join it. */
export function curvedRoad(
  road: Road,
  placeOf: (id: string) => Point | undefined,
  joints: () => readonly Point[],
): Point[] {
  const points = roadPoints(road, placeOf);
  const radius = radiusOf(road.radius);
  if (!(radius > 0) || points.length < 3) return points;
  const [left, right] = [Math.min(...points.map(([x]) => x)) - 1, Math.max(...points.map(([x]) => x)) + 1];
  const [top, bottom] = [Math.min(...points.map(([, y]) => y)) - 1, Math.max(...points.map(([, y]) => y)) + 1];
  const near = joints().filter(([x, y]) => x > left && x < right && y > top && y < bottom);
  return rounded(points, radius, near);
}

/** The points at which something may join a way: those of all others, and where elements stand. */
export function jointsFor(road: Road, { roads = [], elements }: DesignOf): Point[] {
  const placeOf = new Map(elements.map(({ id, at }) => [id, at]));
  return [
    ...roads.flatMap((other) => (other === road ? [] : roadPoints(other, (id) => placeOf.get(id)))),
    ...elements.map(({ at }) => at),
  ];
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
    const counts = checkField(
      road.factor ?? "",
      ROAD_SETTINGS.factor,
      { ...scopes, withoutEntity: withinWay(scopes.withoutEntity, road.id) },
      problems,
      ["roads", i, "factor"],
      road.id,
    );
    const factor = counts?.constant ?? 1;
    const closedWhile = read(road.closedWhile, ROAD_SETTINGS.closedWhile);
    read(road.radius, ROAD_SETTINGS.radius);
    const every = read(road.every, ROAD_SETTINGS.every);
    const repair = every && read(road.repair, { ...ROAD_SETTINGS.repair, optional: false });
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
    const points = curvedRoad(
      road,
      (id) => placeOf.get(id),
      () => jointsFor(road, document),
    );
    const way = { points, oneWay: road.oneWay, limit: speed !== undefined && speed > 0 ? speed : Infinity, factor };
    const changes = counts !== undefined && counts.constant === undefined;
    if (!isFollowed(road) && !changes) return way;
    followed.push({
      road,
      room,
      closedWhile,
      counts: changes ? counts : undefined,
      breaks: every && repair && { every, repair },
    });
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
