import { type Design, LAST_STREAM, type Study } from "./schema.ts";

/**
 * The settings of each kind that may draw random numbers, and so have a stream of their own; those in rows of lists
 * by the list.
 */
const DRAWING_SETTINGS: Readonly<Record<string, readonly string[]>> = {
  arrivals: ["between", "first", "group", "wayOut", "profile", "mix", "destination"],
  queue: ["wayOut", "rank", "balk", "patience", "destination"],
  station: [
    "time",
    "wayOut",
    "rank",
    "balk",
    "patience",
    "setup",
    "teardown",
    "priority",
    "batchWait",
    "rework",
    "destination",
  ],
  dwell: ["time", "wayOut", "destination"],
  gate: ["wayOut", "destination"],
  join: ["match", "wayOut", "destination"],
  split: ["count", "wayOut", "destination"],
  junction: ["wayOut", "destination"],
  departures: [],
  crew: [],
  equipment: [],
  link: ["time", "condition", "cost"],
  entityType: ["speed"],
};
const DRAWING_LISTS: Readonly<Record<string, readonly string[]>> = {
  breakdowns: ["every", "jobs", "repair"],
  changeovers: ["time"],
  sets: ["value"],
  mix: ["share"],
};

/** Settings in rows of lists that may draw: `breakdowns.b1.repair`. */
const inLists = (element: object): string[] =>
  Object.entries(DRAWING_LISTS).flatMap(([list, settings]) => {
    const rows = (element as Record<string, readonly { readonly id: string }[] | undefined>)[list] ?? [];
    return rows.flatMap((row) => settings.map((setting) => `${list}.${row.id}.${setting}`));
  });

interface Drawer {
  readonly streams: Record<string, number>;
}

function* drawers(design: Design): Generator<readonly [Drawer, readonly string[]]> {
  for (const type of design.entityTypes)
    yield [type, [...DRAWING_SETTINGS.entityType, ...type.attributes.map((a) => `attribute ${a.name}`)]];
  for (const element of design.elements) yield [element, [...DRAWING_SETTINGS[element.kind], ...inLists(element)]];
  for (const link of design.links) yield [link, DRAWING_SETTINGS.link];
}

/**
 * Gives every place that may draw a random stream of its own, where it has none.
 * Numbers already given stay; an element that a copied design shares by its id
 * takes the number it has in the other design, so the designs meet the same
 * randomness. Returns the study itself when nothing was missing.
 */
export function assignStreams(study: Study): Study {
  const taken = new Set<number>();
  let next = 1;
  let missing = false;
  const known = new Map<string, number>();
  for (const design of study.designs) {
    for (const [drawer, settings] of drawers(design)) {
      const owner = "id" in drawer ? String(drawer.id) : "";
      for (const setting of settings) {
        const stream = drawer.streams[setting];
        if (stream === undefined) missing = true;
        else if (!known.has(`${owner}/${setting}`)) known.set(`${owner}/${setting}`, stream);
      }
      for (const stream of Object.values(drawer.streams)) {
        taken.add(stream);
        next = Math.max(next, stream + 1);
      }
    }
  }
  if (!missing) return study;
  /** After the largest; where that is the largest there is, whatever is free. */
  const give = (): number => {
    if (next > LAST_STREAM) next = 1;
    while (taken.has(next)) next += 1;
    taken.add(next);
    return next++;
  };
  const copy = JSON.parse(JSON.stringify(study)) as Study;
  for (const design of copy.designs) {
    for (const [drawer, settings] of drawers(design)) {
      const owner = "id" in drawer ? String(drawer.id) : "";
      for (const setting of settings) {
        if (drawer.streams[setting] !== undefined) continue;
        const key = `${owner}/${setting}`;
        if (!known.has(key)) known.set(key, give());
        drawer.streams[setting] = known.get(key)!;
      }
    }
  }
  return copy;
}
