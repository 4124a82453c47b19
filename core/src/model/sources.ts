import { type Meaning, numberOf, Part, PLAIN, type Read, type Source } from "../expression/index.ts";
import { TIME } from "../quantity/index.ts";
import type { DayClock } from "../timetable/index.ts";
import type { TokenPool } from "../kernel/pool.ts";

/** The clock of a running model, in seconds from the start, and the hours of its days. */
export const CLOCK_PART = new Part<{ readonly clock: Float64Array; readonly days: DayClock }>("clock");
/** Its entities. */
export const ENTITIES = new Part<{ readonly pool: TokenPool; readonly clock: Float64Array }>("entities");
/** What its elements give to be read: a property of the element with an id. */
export const ELEMENTS = new Part<{ readerOf(elementId: string, property: string): Read }>("elements");

/** Its variables, by their places in the study. */
export const VARIABLES = new Part<Float64Array>("variables");

/** The value of a variable now. */
export const variableSource = (slot: number): Source => ({
  reader(running) {
    const values = running.part(VARIABLES);
    return () => values[slot];
  },
});

const timeOfDay: Source = {
  ofTime: true,
  reader(running) {
    const { clock, days } = running.part(CLOCK_PART);
    return () => days.wall(clock[0]) % 86400;
  },
};

const day: Source = {
  ofTime: true,
  reader(running) {
    const { clock, days } = running.part(CLOCK_PART);
    return () => Math.floor(days.wall(clock[0]) / 86400) + 1;
  },
};

/** The clock, with the time and the number of the day. */
export const CLOCK: Meaning = {
  type: numberOf(TIME),
  source: {
    ofTime: true,
    reader(running) {
      const { clock } = running.part(CLOCK_PART);
      return () => clock[0];
    },
  },
  properties: new Map<string, Meaning>([
    ["timeOfDay", { type: numberOf(TIME), source: timeOfDay }],
    ["day", { type: PLAIN, source: day }],
  ]),
};

/** The type of the entity at hand. */
export const entityType: Source = {
  reader(running) {
    const { pool } = running.part(ENTITIES);
    return (token) => pool.typeOf(token);
  },
};

/** Seconds since the entity at hand was born. */
export const entityAge: Source = {
  ofTime: true,
  reader(running) {
    const { pool, clock } = running.part(ENTITIES);
    return (token) => clock[0] - pool.bornAt(token);
  },
};

/** An attribute of the entity at hand, by its column. */
export const attributeSource = (slot: number): Source => ({
  reader(running) {
    const { pool } = running.part(ENTITIES);
    const { attributeCount } = pool;
    return (token) => pool.attributes[token * attributeCount + slot];
  },
});

/** A property of an element, which is found by its id when the expression is lowered. */
export const elementSource = (elementId: string, property: string): Source => ({
  toldBy: [elementId],
  reader: (running) => running.part(ELEMENTS).readerOf(elementId, property),
});
