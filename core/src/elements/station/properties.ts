import { PLAIN } from "../../expression/index.ts";

/** What expressions read of a station, whichever way it is lowered. */
export const STATION_PROPERTIES = {
  busy: PLAIN,
  free: PLAIN,
  capacity: PLAIN,
  blocked: PLAIN,
  down: PLAIN,
  offShift: PLAIN,
  "queue.length": PLAIN,
};

export type StationProperty = keyof typeof STATION_PROPERTIES;
