import type { Point } from "../settings/parts.ts";
import type { Read } from "../expression/index.ts";
import type { Way } from "../model/model.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import type { ChargeSettings } from "./charge.ts";
import type { Counter } from "./counter.ts";
import type { Going } from "./legs.ts";
import type { VehicleHoursSettings } from "./vehicleHours.ts";

/** What a vehicle is doing. */
export const DOING = [
  "idle",
  "empty",
  "loading",
  "loaded",
  "unloading",
  "returning",
  "cruising",
  "heldUp",
  "atStop",
  "refilling",
  "offShift",
  "down",
] as const;
export type Doing = (typeof DOING)[number];

/** From which element to which somebody is to be carried, and the index of the link; -1 where steps ask. */
export type CarryWay = Pick<Way, "from" | "to" | "index">;

/** Somebody who waits to be carried, or is. */
export interface CarryRequest {
  readonly token: number;
  readonly way: CarryWay;
  /** The step with which it goes on when it has been brought. */
  readonly then: number;
  readonly since: number;
  readonly rank: number;
  /** So much of the load limit it takes. */
  readonly takes: number;
  /** When a trip for fewer than those that it waits for may begin with it. */
  readonly due: number;
  /** When a vehicle set out for it; NaN until then. */
  answered: number;
  isOn: boolean;
}

/** Stops that vehicles call at in turn, again and again. */
export interface Tour {
  readonly stops: readonly {
    /** Index of the element. */
    readonly place: number;
    /** For how long it stands there at least. */
    readonly stay: Read;
  }[];
  /** When the first sets out, and the time from that to the next … */
  readonly first: Read;
  readonly between: Read;
  /** … or when each does, in order. */
  readonly listed: readonly number[] | undefined;
}

/** What a vehicle needs before a load that is another than the one before. */
export interface LoadSetup {
  /** Seconds, by what is loaded. */
  readonly time: Read;
  /** It is needed where this differs from the load before; undefined: before each. */
  readonly by: Read | undefined;
}

/** What a fleet is, read. */
export interface FleetSettings extends VehicleHoursSettings {
  /** Has what is read be of one of the vehicles, -1 for none, where each has a row of a table. */
  readonly setRow: ((v: number) => void) | undefined;
  /** Index of the element at which one is at home. */
  readonly home: Read;
  /** What one does that nobody waits for; or the index of the element at which all park. */
  readonly rest: "stays" | "home" | "cruises" | number;
  /** Indices of the elements that one goes round where it cruises. */
  readonly rounds: readonly number[];
  readonly setup: LoadSetup | undefined;
  readonly going: Going;
  /** Metres a second a second, and metres a second in turns; undefined where neither matters. */
  readonly acceleration: number | undefined;
  readonly turning: number | undefined;
  /** What orders requests, the lowest first; undefined where who asks first is next. */
  readonly rankOf: Read | undefined;
  readonly answers: "nearest" | "longest idle" | "least used" | "fixed order" | "least value";
  /** What is least of the one that answers, where it goes by a value: of a vehicle, for who asks. */
  readonly worth: Read;
  readonly speed: Read;
  readonly speedLoaded: Read;
  readonly load: Read;
  readonly unload: Read;
  /** The most that one carries at once, and how much of it an entity takes. */
  readonly limit: Read;
  readonly takes: Read;
  /** Whom a trip is for: those of one way, those who wait at one place, or all. */
  readonly trip: "same way" | "same place" | "several stops";
  /** Which of its places one goes to next. */
  readonly visits: "nearest" | "in order";
  /** A trip begins when so much waits for it, or somebody has for so long. */
  readonly batch: { readonly least: number; readonly patience: Read | undefined } | undefined;
  readonly tour: Tour | undefined;
  readonly charge: ChargeSettings | undefined;
  /** Time from a repair to the next breakdown, and of a repair; undefined where none breaks down. */
  readonly breaks: { readonly every: Read; readonly repair: Read } | undefined;
  /** Id and name of the element, for what fails. */
  readonly id: string;
  readonly name: string;
}

/** One vehicle at an instant, for watching. */
export interface VehicleState {
  readonly number: number;
  readonly doing: Doing;
  /** Indices of the elements between which it drives. */
  readonly from: number;
  readonly to: number;
  /** Index of the link along which it carries; -1 where it carries along none. */
  readonly way: number;
  /** Token of what it has on it, -1 for nothing, and of what else it has. */
  readonly load: number;
  readonly others: readonly number[];
  readonly since: number;
  readonly until: number;
  /** Along its way, where it is and where its stretch ends; undefined where it is at an element. */
  readonly metres: readonly [from: number, to: number] | undefined;
  /** The way it goes, where that may be another than it would be now. */
  readonly points: readonly Point[] | undefined;
}

/** What is measured of a fleet. */
export interface FleetMeters {
  readonly doing: readonly Level[];
  readonly waiting: Level;
  readonly wait: Tally;
  /** Of that: until a vehicle had set out, and while it was on the way. */
  readonly noneFree: Tally;
  readonly onTheWay: Tally;
  readonly breakdowns: Counter;
  readonly refills: Counter;
  readonly trips: Counter;
  readonly brought: Counter;
  readonly metres: Counter;
  readonly metresLoaded: Counter;
}
