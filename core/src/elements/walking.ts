import { EventClass } from "../kernel/kernel.ts";
import { count, type MeasureSpecs, tally } from "../measures/spec.ts";
import type { Model, Node } from "../model/model.ts";
import { LENGTH } from "../quantity/index.ts";
import { choice, expression, number, reference, speed, type ValuesOf } from "../settings/setting.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { Counter } from "../lowering/counter.ts";
import type { Measured } from "../lowering/measured.ts";
import { UNIT, type UnitState } from "../lowering/units.ts";
import { Walkers } from "../lowering/walkers.ts";
import { WhoGoes } from "../lowering/whoGoes.ts";
import type { ElementBase } from "../document/element.ts";
import type { Phrase } from "./kind.ts";
import type { Pool, ResourcePool } from "./resourcePool.ts";
import { strong } from "./words.ts";

const walk = ({ walks }: Readonly<Record<string, unknown>>): boolean => walks !== "no";

const differ = (of: Readonly<Record<string, unknown>>): boolean => walk(of) || of.table !== "";

const byValue = (of: Readonly<Record<string, unknown>>): boolean => differ(of) && of.chosen === "least value";

/** Who the members are, where they are not all alike. */
export const MEMBERS = {
  table: reference("table", "Rows of", "A table of which each member has a row: known here as row, to needs as who.", {
    none: "no table: all are alike",
  }),
  homeAt: expression(
    "At home",
    "The element at which one begins, such as row.home. Empty: here.",
    { kind: "element" },
    { optional: true, entity: false, steady: true, used: walk },
  ),
  chosen: choice(
    "Who goes",
    "Which of those that are free goes.",
    [
      ["fixed order", "the first in order"],
      ["nearest", "the nearest"],
      ["longest idle", "that idle longest"],
      ["least used", "the least used"],
      ["least value", "that of the least value"],
    ],
    { used: differ },
  ),
  worth: number("Least of", "Any number, asked for each that is free, such as row.wage.", {
    any: "number",
    entity: false,
    draws: 2,
    drawsWhere: byValue,
    used: byValue,
    initial: "1",
  }),
};

/** Whether members walk to where they are needed, and how. */
export const WALKING = {
  walks: choice("Walk to the work", "How members come to where they are needed, and are there only then.", [
    ["no", "no, they are there at once"],
    ["straight", "straight"],
    ["over ways", "over walkways and roads"],
  ]),
  way: choice(
    "Which way",
    "Over walkways and roads: the way of least length, or that of least time at their speed.",
    [
      ["shortest", "the shortest"],
      ["quickest", "the quickest"],
    ],
    { used: ({ walks }) => walks === "over ways" },
  ),
  speed: speed("Speed", "How fast they walk, asked once for each walk.", {
    initial: "1.2 m/s",
    entity: false,
    draws: 1,
    drawsWhere: walk,
    used: walk,
  }),
  next: choice(
    "To whom first",
    "Who is gone to first of those that wait with the highest priority.",
    [
      ["in order", "in the order of the line"],
      ["nearest", "the nearest"],
    ],
    { used: walk },
  ),
  idle: choice(
    "When idle",
    "What one does that nobody waits for.",
    [
      ["stay", "stays where the work was"],
      ["home", "goes home"],
      ["post", "goes to its post"],
    ],
    { used: walk },
  ),
  post: reference("element", "Post", "The element at which one waits that nobody needs.", {
    used: (of) => walk(of) && of.idle === "post",
  }),
};

/** What is measured of members who walk. */
export const WALKING_MEASURES = {
  walks: count("Walks", "Walks to work and home.", { merge: "sum" }),
  distance: count("Distance walked", "Of all members, to work and home.", {
    dimension: LENGTH,
    merge: "sum",
    better: "less",
  }),
  walk: tally("Walk to the work", "From when one is given to who asked until it has come, of those who had to walk.", {
    merge: "pooled",
    better: "less",
  }),
} as const satisfies MeasureSpecs;

type Crew = Pool & ElementBase & ValuesOf<typeof WALKING & typeof MEMBERS>;

/** States that those who walk have besides. */
export const walkingStates = ({ walks }: Pick<Crew, "walks">): readonly UnitState[] =>
  walks === "no" ? [] : [UNIT.walking, UNIT.returning];

/** Tells the members of a crew apart, where they differ or walk. */
export function tellMembers(node: Node<Crew>, lowering: Lowering, pool: ResourcePool): void {
  const { element, rows } = node;
  if (element.walks === "no" && !rows) return;
  const who = new WhoGoes(
    {
      chosen: element.chosen,
      worth: lowering.expressions.readLater(node, "worth", 0),
      setRow: rows && ((unit) => void (rows.at = unit)),
    },
    pool.units,
    lowering.kernel,
  );
  pool.who = who;
  lowering.replication.atStart(() => who.begin());
}

/** Has the members of a crew walk, and measures it, where they are to. */
export function walkMembers(
  node: Node<Crew>,
  lowering: Lowering,
  pool: ResourcePool,
  measured: Measured<typeof WALKING_MEASURES>,
): void {
  const { element } = node;
  const { who } = pool;
  if (element.walks === "no" || !who) return;
  const { meters, kernel, model, resources, expressions } = lowering;
  const of = { walks: meters.counter(), metres: meters.add(new Counter()), walk: meters.tally() };
  measured.add("walks", () => of.walks.n);
  measured.add("distance", () => of.metres.n);
  measured.tally("walk", [of.walk]);
  const { requests } = resources;
  const { rows } = node;
  /** What a setting says of a member, whose row is at hand meanwhile. */
  const ofMember = (field: "speed" | "homeAt") => {
    const read = expressions.readLater(node, field, 0);
    return (unit: number) => {
      if (rows) rows.at = unit;
      return read(-1);
    };
  };
  const walkers = new Walkers(
    {
      home: node.settings.has("homeAt") ? homeOf(node, ofMember("homeAt"), lowering) : () => node.index,
      going: {
        overWays: element.walks === "over ways",
        ...(element.way === "quickest" ? { quickestAt: node.settings.get("speed")?.constant ?? 1 } : {}),
      },
      speed: ofMember("speed"),
      rest:
        element.idle === "stay"
          ? -1
          : element.idle === "home"
            ? "home"
            : (model.nodes.find((one) => one.element.id === element.post)?.index ?? node.index),
      nearestFirst: element.next === "nearest",
      id: element.id,
      name: element.name,
    },
    pool.units,
    who,
    of,
    model,
    kernel,
    lowering.traffic,
    (token) => requests.arrived(token),
    (act) => lowering.replication.atEndOfInstant(EventClass.recheck, act),
  );
  pool.walkers = walkers;
  lowering.replication.atStart(() => walkers.begin());
}

/** At which element a member is at home, by its index. */
function homeOf({ element }: Node, read: (unit: number) => number, { kernel, model }: Lowering) {
  return (unit: number): number => {
    const at = read(unit);
    if (model.nodes[at]) return at;
    kernel.fail({
      code: "step-failed",
      message: `says of member ${unit + 1} no element at which it is at home.`,
      hint: "Name an element in its row.",
      id: element.id,
      field: "homeAt",
    });
    return 0;
  };
}

const GOES = {
  "fixed order": "the first of those that are free",
  nearest: "the nearest that is free",
  "longest idle": "that which has been free longest",
  "least used": "that used least often",
  "least value": "that of the least value",
} as const;

const leastOf = (chosen: string, worth: string): Phrase[] => (chosen === "least value" ? [": ", strong(worth)] : []);

/** How they walk, in words. */
export const walkingWords = (
  { walks, way, speed: metres, chosen, next, idle, post, table, worth }: Crew,
  { nodes }: Pick<Model, "nodes">,
): Phrase[] =>
  walks === "no"
    ? table === ""
      ? []
      : [" Of those who are free ", strong(GOES[chosen]), " goes", ...leastOf(chosen, worth), "."]
    : [
        walks === "straight"
          ? " They walk straight to the work, at "
          : way === "quickest"
            ? " They walk to the work by the quickest of the ways, at "
            : " They walk to the work over the ways, at ",
        strong(metres),
        ": ",
        strong(GOES[chosen]),
        " goes",
        ...leastOf(chosen, worth),
        next === "nearest" ? ", to the nearest first" : "",
        idle === "home"
          ? ", and goes home when nobody waits."
          : idle === "post"
            ? `, and goes to ${nodes.find(({ element }) => element.id === post)?.element.name ?? "no post yet"} when nobody waits.`
            : ", and stays there when nobody waits.",
      ];
