import type { Read } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART, PHASE, placeCode } from "../kernel/pool.ts";
import { streamOf, type Way } from "../model/model.ts";
import { count, level, type MeasureSpecs } from "../measures/spec.ts";
import type { Counter } from "./counter.ts";
import type { Lowering } from "./lowering.ts";

/** What is measured of a link. */
export const LINK_MEASURES = {
  passed: count("Entities that set out", "Entities that set out on the link."),
  underWay: level("Under way", "Entities on the link"),
} as const satisfies MeasureSpecs;

/** What happens when an entity sets out on a link, where `passed` counts it: returns the next step. */
export function settingOut(way: Way, lowering: Lowering, passed: Counter): Read {
  const { kernel, entries, model } = lowering;
  const tracked = lowering.tracksPresence;
  const { pool } = kernel;
  const { to, link } = way;
  const name = `${model.nodes[way.from].element.name} to ${model.nodes[to].element.name}`;
  const measured = lowering.measured({ id: link.id, name }, "link", LINK_MEASURES);
  measured.add("passed", () => passed.n);
  if (link.kind === "direct") {
    return () => {
      passed.total += 1;
      if (tracked) lowering.come(to);
      return entries[to];
    };
  }
  const underWay = lowering.level();
  measured.level("underWay", underWay);
  const [field, duration] = travelTime(way, lowering);
  const place = placeCode(model.nodes.length + way.index, PHASE.moving);
  const arrive = kernel.emit((token) => {
    underWay.add(-1);
    pool.credit(token, PART.moving, kernel.clock);
    return entries[to];
  });
  return (token) => {
    passed.total += 1;
    if (tracked) lowering.come(to);
    underWay.add(1);
    pool.beginUntil(token, place, arrive, kernel.clock);
    kernel.delay(token, duration(token), EventClass.activityEnd, link.id, field);
    return SUSPEND;
  };
}

/** The time under way, and the setting that it comes from. */
function travelTime({ link, settings, drawnLength }: Way, lowering: Lowering): [field: string, duration: Read] {
  const time = settings.get("time");
  if (link.kind === "timed" && time) return ["time", time.compile(lowering.environment(streamOf(link, "time")))];
  const metres = settings.get("length")?.constant ?? drawnLength;
  const speeds = lowering.model.types.map(({ speed, type }) =>
    speed?.compile(lowering.environment(streamOf(type, "speed"))),
  );
  const { pool } = lowering.kernel;
  return ["length", (token) => metres / (speeds[pool.typeOf(token)]?.(token) ?? Number.NaN)];
}
