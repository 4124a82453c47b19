import { EventClass } from "../kernel/kernel.ts";
import { count, type MeasureSpecs, tally } from "../measures/spec.ts";
import type { Model, Node } from "../model/model.ts";
import { LENGTH } from "../quantity/index.ts";
import { choice, reference, speed, type ValuesOf } from "../settings/setting.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { Counter } from "../lowering/counter.ts";
import type { Measured } from "../lowering/measured.ts";
import { UNIT, type UnitState } from "../lowering/units.ts";
import { Walkers } from "../lowering/walkers.ts";
import type { ElementBase } from "../document/element.ts";
import type { Phrase } from "./kind.ts";
import type { Pool, ResourcePool } from "./resourcePool.ts";
import { strong } from "./words.ts";

const walk = ({ walks }: Readonly<Record<string, unknown>>): boolean => walks !== "no";

/** Whether members walk to where they are needed, and how. */
export const WALKING = {
  walks: choice("Walk to the work", "How members come to where they are needed, and are there only then.", [
    ["no", "no, they are there at once"],
    ["straight", "straight"],
    ["over ways", "over walkways and roads"],
  ]),
  speed: speed("Speed", "How fast they walk, asked once for each walk.", {
    initial: "1.2 m/s",
    entity: false,
    draws: 1,
    drawsWhere: walk,
    used: walk,
  }),
  chosen: choice(
    "Who goes",
    "Which of those that are free goes.",
    [
      ["fixed order", "the first in order"],
      ["nearest", "the nearest"],
      ["longest idle", "that idle longest"],
      ["least used", "the least used"],
    ],
    { used: walk },
  ),
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

type Crew = Pool & ElementBase & ValuesOf<typeof WALKING>;

/** States that those who walk have besides. */
export const walkingStates = ({ walks }: Pick<Crew, "walks">): readonly UnitState[] =>
  walks === "no" ? [] : [UNIT.walking, UNIT.returning];

/** Has the members of a crew walk, and measures it, where they are to. */
export function walkMembers(
  node: Node<Crew>,
  lowering: Lowering,
  pool: ResourcePool,
  measured: Measured<typeof WALKING_MEASURES>,
): void {
  const { element } = node;
  if (element.walks === "no") return;
  const { meters, kernel, model, resources, expressions } = lowering;
  const of = { walks: meters.counter(), metres: meters.add(new Counter()), walk: meters.tally() };
  measured.add("walks", () => of.walks.n);
  measured.add("distance", () => of.metres.n);
  measured.tally("walk", [of.walk]);
  const { requests } = resources;
  const walkers = new Walkers(
    {
      home: node.index,
      going: { overWays: element.walks === "over ways" },
      speed: expressions.readLater(node, "speed", 0),
      chosen: element.chosen,
      rest:
        element.idle === "stay"
          ? -1
          : element.idle === "home"
            ? node.index
            : (model.nodes.find((one) => one.element.id === element.post)?.index ?? node.index),
      nearestFirst: element.next === "nearest",
      id: element.id,
      name: element.name,
    },
    pool.units,
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

const GOES = {
  "fixed order": "the first of those that are free",
  nearest: "the nearest that is free",
  "longest idle": "that which has been free longest",
  "least used": "that used least often",
} as const;

/** How they walk, in words. */
export const walkingWords = (
  { walks, speed: metres, chosen, next, idle, post }: Crew,
  { nodes }: Pick<Model, "nodes">,
): Phrase[] =>
  walks === "no"
    ? []
    : [
        walks === "straight" ? " They walk straight to the work, at " : " They walk to the work over the ways, at ",
        strong(metres),
        ": ",
        strong(GOES[chosen]),
        " goes",
        next === "nearest" ? ", to the nearest first" : "",
        idle === "home"
          ? ", and goes home when nobody waits."
          : idle === "post"
            ? `, and goes to ${nodes.find(({ element }) => element.id === post)?.element.name ?? "no post yet"} when nobody waits.`
            : ", and stays there when nobody waits.",
      ];
