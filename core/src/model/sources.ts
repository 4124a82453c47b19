import {
  type Meaning,
  numberOf,
  Part,
  PLAIN,
  type Read,
  type Source,
  type Write,
  YES_NO,
} from "../expression/index.ts";
import { TIME } from "../quantity/index.ts";
import type { DayClock } from "../timetable/index.ts";
import type { TokenPool } from "../kernel/pool.ts";

/** The clock of a running model, in seconds from the start, and the hours of its days. */
export const CLOCK_PART = new Part<{ readonly clock: Float64Array; readonly days: DayClock }>("clock");
/** Its entities. */
export const ENTITIES = new Part<{ readonly pool: TokenPool; readonly clock: Float64Array }>("entities");
/** What its elements give to be read: a property of the element with an id. */
export const ELEMENTS = new Part<{
  readerOf(elementId: string, property: string): Read;
  writerOf(elementId: string, property: string): Write;
}>("elements");

/** Its ways that are followed, by their ids: who is on one, who waits to come onto it, and whether it is closed. */
export const WAYS = new Part<{
  on(road: string): number;
  waiting(road: string): number;
  closed(road: string): number;
}>("ways");

/** What a way that is drawn can say of itself. */
export const ofWay = (road: string): ReadonlyMap<string, Meaning> => {
  const source = (what: "on" | "waiting" | "closed"): Source => ({
    reader(running) {
      const ways = running.part(WAYS);
      return () => ways[what](road);
    },
  });
  return new Map<string, Meaning>([
    ["on", { type: PLAIN, source: source("on") }],
    ["waiting", { type: PLAIN, source: source("waiting") }],
    ["closed", { type: YES_NO, source: source("closed") }],
  ]);
};

/** Its variables, by their places in the study. */
export const VARIABLES = new Part<Float64Array>("variables");

/** The value of a variable now. */
export const variableSource = (slot: number, id?: string): Source => ({
  ...(id === undefined ? {} : { toldBy: [id] }),
  reader(running) {
    const values = running.part(VARIABLES);
    return () => values[slot];
  },
  writer(running) {
    const values = running.part(VARIABLES);
    const changed = id === undefined ? undefined : running.part(CHANGES).teller(id);
    return (_, value) => {
      if (values[slot] === value) return;
      values[slot] = value;
      if (changed) changed();
    };
  },
});

/** Attributes of its elements, in the order of the model's. */
export const ELEMENT_ATTRIBUTES = new Part<Float64Array>("attributes of elements");

/** The value of an attribute of an element now; `id` is that by which those who follow it are told. */
export const elementAttributeSource = (slot: number, id: string): Source => ({
  toldBy: [id],
  reader(running) {
    const values = running.part(ELEMENT_ATTRIBUTES);
    return () => values[slot];
  },
  writer(running) {
    const values = running.part(ELEMENT_ATTRIBUTES);
    const changed = running.part(CHANGES).teller(id);
    return (_, value) => {
      if (values[slot] === value) return;
      values[slot] = value;
      if (changed) changed();
    };
  },
});

/** Measures of one's own, by their ids, as they stand now: the figure that each stands for in others. */
export const MEASURED = new Part<{ of(id: string): () => number }>("measures");

/** The value that a measure of one's own has now. */
export const measureSource = (id: string): Source => ({
  reader(running) {
    const read = running.part(MEASURED).of(id);
    return () => read();
  },
});

/** Whom to tell that something else than an element has changed, by its id; undefined where nobody follows it. */
export const CHANGES = new Part<{ teller(id: string): (() => void) | undefined }>("changes");

/** What procedures call by names of their own: the values of each token's present call. */
export const LOCALS = new Part<{
  read(token: number, slot: number): number;
  write(token: number, slot: number, value: number): void;
}>("locals");

/** A value that a procedure has given a name, by its place among those of a call. */
export const localSource = (slot: number): Source => ({
  reader(running) {
    const locals = running.part(LOCALS);
    return (token) => locals.read(token, slot);
  },
  writer(running) {
    const locals = running.part(LOCALS);
    return (token, value) => locals.write(token, slot, value);
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

/** Tokens below this number have handles. */
const MOST_TOKENS = 2 ** 22;

/** An entity as a value: its token, and its number, by which it is known to be the same one still. */
export const handleOf = (pool: TokenPool, token: number): number => pool.serial[token] * MOST_TOKENS + token;

/** The number of an entity that is a value. */
export const serialOf = (handle: number): number => Math.floor(handle / MOST_TOKENS);

/** The token of an entity that is a value; -1 where it is no longer there. */
export function tokenOf(pool: TokenPool, handle: number): number {
  const token = handle % MOST_TOKENS;
  const isThere = pool.typeOf(token) >= 0 && pool.serial[token] === serialOf(handle);
  return isThere ? token : -1;
}

/** The entity at hand, as a value. */
export const entityHandle: Source = {
  reader(running) {
    const { pool } = running.part(ENTITIES);
    return (token) => handleOf(pool, token);
  },
};

/** Ends the replication: an entity is asked for that is no longer there. */
export const GONE = new Part<() => void>("entities that are gone");

/** What is read of another entity than the one at hand. */
export const ofAnother = (source: Source, handle: Source): Source => ({
  ...source,
  reader(running) {
    const { pool } = running.part(ENTITIES);
    const [read, which, gone] = [source.reader(running), handle.reader(running), running.part(GONE)];
    return (token) => {
      const other = tokenOf(pool, which(token));
      if (other >= 0) return read(other);
      gone();
      return Number.NaN;
    };
  },
  ...(source.writer
    ? {
        writer(running) {
          const { pool } = running.part(ENTITIES);
          const [write, which, gone] = [source.writer!(running), handle.reader(running), running.part(GONE)];
          return (token: number, value: number) => {
            const other = tokenOf(pool, which(token));
            if (other >= 0) write(other, value);
            else gone();
          };
        },
      }
    : {}),
});

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
  writer(running) {
    const { pool } = running.part(ENTITIES);
    const { attributeCount } = pool;
    return (token, value) => void (pool.attributes[token * attributeCount + slot] = value);
  },
});

/** A property of an element, which is found by its id when the expression is lowered. */
export const elementSource = (elementId: string, property: string, isSettable: boolean): Source => ({
  toldBy: [elementId],
  reader: (running) => running.part(ELEMENTS).readerOf(elementId, property),
  ...(isSettable ? { writer: (running) => running.part(ELEMENTS).writerOf(elementId, property) } : {}),
});
