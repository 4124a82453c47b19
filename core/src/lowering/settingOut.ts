import type { Read } from "../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import { type Model, streamOf, type Way } from "../model/model.ts";
import { count, level, type MeasureSpecs } from "../measures/spec.ts";
import type { Counter } from "./counter.ts";
import type { Expressions } from "./expressions.ts";
import type { Meters } from "./meters.ts";
import type { Places } from "./places.ts";
import type { Presence } from "./presence.ts";

/** What going over a link has to do with. */
interface Travel {
  readonly model: Model;
  readonly kernel: Kernel;
  readonly meters: Meters;
  readonly expressions: Expressions;
  readonly presence: Presence;
  readonly places: Places;
  readonly entries: Int32Array;
}

/** What is measured of a link. */
export const LINK_MEASURES = {
  passed: count("Entities that set out", "Entities that set out on the link."),
  underWay: level("Under way", "Entities on the link"),
} as const satisfies MeasureSpecs;

/** What happens when an entity sets out on a link, where `passed` counts it: returns the next step. */
export function settingOut(way: Way, passed: Counter, travel: Travel): Read {
  const { kernel, entries, model, meters, presence, places } = travel;
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

/** The time under way, and the setting that it comes from. */
function travelTime(
  { link, settings, drawnLength }: Way,
  { model, kernel, expressions }: Travel,
): [field: string, duration: Read] {
  const time = settings.get("time");
  if (link.kind === "timed" && time) return ["time", time.compile(expressions.environment(streamOf(link, "time")))];
  const metres = settings.get("length")?.constant ?? drawnLength;
  const speeds = model.types.map(({ speed, type }) => speed?.compile(expressions.environment(streamOf(type, "speed"))));
  const { pool } = kernel;
  return ["length", (token) => metres / (speeds[pool.typeOf(token)]?.(token) ?? Number.NaN)];
}
