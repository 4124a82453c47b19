import type { Kernel } from "../kernel/kernel.ts";
import type { Model } from "../model/model.ts";
import type { EntityWalks } from "./entityWalks.ts";
import type { Expressions } from "./expressions.ts";
import type { Fleet } from "./fleet.ts";
import type { Meters } from "./meters.ts";
import type { Places } from "./places.ts";
import type { Presence } from "./presence.ts";
import type { Resources } from "./resources.ts";
import type { Traffic } from "./traffic.ts";

/** What going over a link has to do with. */
export interface Travel {
  readonly model: Model;
  readonly kernel: Kernel;
  readonly meters: Meters;
  readonly expressions: Expressions;
  readonly presence: Presence;
  readonly places: Places;
  readonly entries: Int32Array;
  readonly fleets: ReadonlyMap<string, Fleet>;
  readonly resources: Resources;
  readonly traffic: Traffic;
  readonly walks: EntityWalks;
}
