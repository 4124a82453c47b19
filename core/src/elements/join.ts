import { PLAIN } from "../expression/index.ts";
import { WaitList } from "../kernel/claims.ts";
import { type Kernel, SUSPEND } from "../kernel/kernel.ts";
import type { Counter } from "../lowering/counter.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Node } from "../model/model.ts";

import { count as measureCount, throughput } from "../measures/spec.ts";
import { choice, number, reference, settings, value } from "../settings/setting.ts";
import { elementKind, type ElementWith } from "./kind.ts";
import { Line, LINE_MEASURES } from "./line.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/** Most entities joined at once. */
const MOST_JOINED = 10_000;

const JOIN = settings({
  gathers: choice(
    "Joins",
    "Whether entities are joined with each other, or parts onto a carrier.",
    [
      ["alike", "entities with each other"],
      ["onto a carrier", "parts onto a carrier"],
    ],
    { told: "what is joined" },
  ),
  count: number(
    "How many",
    "Entities joined together; onto a carrier: parts for one carrier. It may go by the first, or the carrier, such as entity.size.",
    { initial: "2", entity: true, steady: true, least: 1 },
  ),
  match: value("Equal in", "Only entities for which this is equal are joined, such as entity.order. Empty: any.", {
    entity: true,
    optional: true,
    draws: 10,
  }),
  carrier: reference("entity type", "Carrier", "The entity type that carries.", {
    used: ({ gathers }) => gathers === "onto a carrier",
  }),
  keeps: choice(
    "Joined",
    "Whether a split can undo it.",
    [
      ["for good", "for good"],
      ["to be undone", "until a split undoes it"],
    ],
    { told: "whether joined for good" },
  ),
  makes: reference("entity type", "Goes on", "The entity type that goes on. Empty: the first of those joined.", {
    none: "the first of them",
    told: "what goes on",
    used: ({ gathers }) => gathers === "alike",
  }),
  ...WAY_OUT,
});
type Join = ElementWith<"join", typeof JOIN>;

/** Joins entities: some alike, or parts onto a carrier; for good, or so that a split can undo it. */
export const join = elementKind({
  kind: "join",
  label: "Join",
  plural: "Joins",
  summary: "Joins entities: a batch, or parts onto a carrier.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  hasLine: true,
  consumes: true,
  counts: "to be joined",
  settings: JOIN,
  sections: [{ title: "Join", of: ["gathers", "carrier", "count", "match", "keeps", "makes"] }],
  properties: { length: PLAIN, joined: PLAIN },
  measures: { ...LINE_MEASURES, joins: measureCount("Joins made", "Joins made.", { better: "more" }), throughput },
  carries: ({ keeps }) => keeps === "to be undone",

  check({ element }, report, design) {
    const known = (id: string) => design.entityTypes.some((t) => t.id === id);
    if (element.gathers === "onto a carrier" && !known(element.carrier))
      report(
        "missing-entity-type",
        "carrier",
        "nothing says which entity type carries.",
        "Choose an entity type on its card.",
      );
    if (element.gathers === "alike" && element.makes !== "" && !known(element.makes))
      report(
        "missing-entity-type",
        "makes",
        "the entity type that goes on does not exist.",
        "Choose an entity type on its card.",
      );
  },

  typesOnward({ element }, here, { held, indexOf }) {
    const keeps = element.keeps === "to be undone";
    if (element.gathers === "onto a carrier") {
      const carrier = indexOf(element.carrier);
      if (carrier === undefined || !here.has(carrier)) return { done: [] };
      if (keeps)
        held.put(
          carrier,
          [...here].filter((type) => type !== carrier),
        );
      return { done: [carrier] };
    }
    const made = indexOf(element.makes);
    const done = here.size === 0 || made === undefined ? [...here] : [made];
    if (keeps) for (const carrier of done) held.put(carrier, here);
    else held.bear(done);
    return { done };
  },
  // How many parts go onto a carrier is read of the carrier alone.
  typesOfSetting({ element }, setting, here, indexOf) {
    if (setting !== "count" || element.gathers !== "onto a carrier") return undefined;
    const carrier = indexOf(element.carrier);
    return new Set(carrier !== undefined && here.has(carrier) ? [carrier] : []);
  },

  prepare(node, lowering, measured) {
    const line = new Line(lowering, node);
    const joins = lowering.meters.counter();
    line.measures(measured);
    measured.add("joins", () => joins.n);
    lowering.meters.throughput(measured, joins);
    lowering.shown.count(node, () => line.length.value);
    return {
      readers: { length: () => line.length.value, joined: () => joins.total },
      lower: () => lower(node, lowering, line, joins),
    };
  },

  readBack: (node, { nodes, types }) => {
    const { element } = node;
    const type = (id: string) => types.find((t) => t.type.id === id)?.type.name ?? "no entity type yet";
    return [
      "Takes entities from ",
      ...fromWhere(node, nodes),
      " and joins ",
      ...(element.gathers === "alike"
        ? [strong(element.count), " of them"]
        : [strong(element.count), " onto each ", strong(type(element.carrier))]),
      ...(element.match.trim() ? [", equal in ", strong(element.match)] : []),
      element.keeps === "for good" ? ", for good." : ", until a split undoes it.",
      ...(element.gathers === "alike" && element.makes ? [" They go on as ", strong(type(element.makes)), "."] : []),
      ...whereTo(node, nodes),
    ];
  },

  takesTime: () => true,
});

/** Entities that wait in a join, by what they are to be equal in. */
class Gathered {
  private readonly lists = new Map<number, WaitList>();
  private readonly unused: WaitList[] = [];

  constructor(
    private readonly kernel: Kernel,
    private readonly line: Line,
    private readonly place: number,
    /** The step with which one of them goes on. */
    private readonly away: number,
  ) {}

  reset(): void {
    this.lists.clear();
  }

  of(key: number): WaitList | undefined {
    return this.lists.get(key);
  }

  put(key: number, token: number): WaitList {
    let list = this.lists.get(key);
    if (!list) {
      list = this.unused.pop() ?? new WaitList();
      list.reset();
      this.lists.set(key, list);
    }
    this.line.join(token, this.place, this.away);
    list.append(this.kernel, token);
    return list;
  }

  /** Takes the first out. There must be one. */
  take(key: number): number {
    const list = this.lists.get(key)!;
    const token = list.shift(this.kernel);
    this.line.leave(token);
    if (list.length === 0) {
      this.lists.delete(key);
      this.unused.push(list);
    }
    return token;
  }
}

function lower(node: Node<Join>, lowering: Lowering, line: Line, joins: Counter): void {
  const { element } = node;
  const { kernel, network, expressions } = lowering;
  const match = expressions.optional(node, "match");
  const place = lowering.places.of(node, "waiting");
  const away = network.leave(node, network.blocking(node));
  const parts = new Gathered(kernel, line, place, away);
  const carriers = new Gathered(kernel, line, place, away);
  lowering.replication.atStart(() => {
    parts.reset();
    carriers.reset();
  });
  const ontoCarrier = element.gathers === "onto a carrier";
  const come = ontoCarrier
    ? joinOnto(node, lowering, joins, { parts, carriers, away })
    : joinAlike(node, lowering, joins, { parts, away });
  const enter = kernel.emit((token) => {
    const key = match ? match(token) : 0;
    if (!Number.isNaN(key)) return come(token, key);
    kernel.fail({
      code: "bad-rank",
      message: "gave no value to be equal in.",
      hint: "Look for a division of 0 by 0.",
      id: element.id,
      field: "match",
    });
    return SUSPEND;
  });
  network.enterBy(node, enter);
}

type Come = (token: number, key: number) => number;

/** Parts are joined onto a carrier, as soon as there are enough for it. */
function joinOnto(
  node: Node<Join>,
  lowering: Lowering,
  joins: Counter,
  { parts, carriers, away }: { readonly parts: Gathered; readonly carriers: Gathered; readonly away: number },
): Come {
  const { kernel, model } = lowering;
  const carrierType = model.types.findIndex((t) => t.type.id === node.element.carrier);
  const sizeFor = wantedSize(node, lowering);
  const add = partOf(node, lowering);
  return (token, key) => {
    (kernel.pool.typeOf(token) === carrierType ? carriers : parts).put(key, token);
    const waiting = carriers.of(key);
    if (!waiting || waiting.head < 0) return SUSPEND;
    const size = sizeFor(waiting.head);
    if ((parts.of(key)?.length ?? 0) < size) return SUSPEND;
    const carrier = carriers.take(key);
    for (let i = 0; i < size; i++) add(carrier, parts.take(key));
    joins.total += 1;
    if (carrier === token) return away;
    kernel.resume(carrier);
    return SUSPEND;
  };
}

/** So many are joined with each other: the first of them goes on, or one that is made of them. */
function joinAlike(
  node: Node<Join>,
  lowering: Lowering,
  joins: Counter,
  { parts, away }: { readonly parts: Gathered; readonly away: number },
): Come {
  const { element, index } = node;
  const { kernel, model, population, presence } = lowering;
  const madeType = model.types.findIndex((t) => t.type.id === element.makes);
  const bear = madeType >= 0 ? population.birth(madeType) : undefined;
  const contents = element.keeps === "to be undone" ? population.contents : undefined;
  const sizeFor = wantedSize(node, lowering);
  const add = partOf(node, lowering);
  return (token, key) => {
    const list = parts.put(key, token);
    const size = sizeFor(list.head);
    if (list.length < size) return SUSPEND;
    joins.total += 1;
    const first = parts.take(key);
    let goesOn = first;
    if (bear) {
      presence.come(index);
      goesOn = bear(away);
      if (goesOn < 0) return SUSPEND;
      contents?.clear(goesOn, true);
      add(goesOn, first);
    }
    for (let i = 1; i < size; i++) add(goesOn, parts.take(key));
    if (bear) return SUSPEND;
    if (goesOn === token) return away;
    kernel.resume(goesOn);
    return SUSPEND;
  };
}

/** How many are joined, by the first of them or the carrier. */
function wantedSize(node: Node<Join>, { kernel, expressions }: Lowering): (token: number) => number {
  const count = expressions.read(node, "count", 1);
  return (token) => {
    const size = count(token);
    if (Number.isInteger(size) && size >= 1 && size <= MOST_JOINED) return size;
    kernel.fail({
      code: "invalid-count",
      message: `gave ${size} to join, and it is a whole number from 1 to ${MOST_JOINED}.`,
      hint: "Use round(…).",
      id: node.element.id,
      field: "count",
      value: size,
    });
    return Infinity;
  };
}

/** One becomes part of the one that goes on: inside it until a split undoes that, or for good. */
function partOf(node: Node<Join>, { population, presence }: Lowering): (carrier: number, token: number) => void {
  if (node.element.keeps === "for good") return (_, token) => population.endInside(token, node);
  const { contents } = population;
  return (carrier, token) => {
    presence.gone(node.index);
    contents.put(carrier, token);
  };
}
