import { PLAIN } from "../expression/index.ts";
import { WaitList } from "../kernel/claims.ts";
import { SUSPEND } from "../kernel/kernel.ts";

import { count as measureCount, throughput } from "../measures/spec.ts";
import { choice, number, reference, settings, value } from "../settings/setting.ts";
import { elementKind } from "./kind.ts";
import { Line, LINE_MEASURES } from "./line.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/** Most entities joined at once. */
const MOST_JOINED = 10_000;

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
  settings: settings({
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
  }),
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
    const { element, index } = node;
    const { kernel, model } = lowering;
    const { pool } = kernel;
    const line = new Line(lowering);
    const joins = lowering.meters.counter();
    line.measures(measured);
    measured.add("joins", () => joins.n);
    lowering.meters.throughput(measured, joins);
    lowering.shown.count(node, () => line.length.value);
    const onto = element.gathers === "onto a carrier";
    const keeps = element.keeps === "to be undone";
    const contents = keeps ? lowering.population.contents : undefined;

    return {
      readers: { length: () => line.length.value, joined: () => joins.total },
      lower() {
        const count = lowering.expressions.read(node, "count", 1);
        const match = node.settings.has("match") ? lowering.expressions.read(node, "match", 0) : undefined;
        const carrierType = model.types.findIndex((t) => t.type.id === element.carrier);
        const madeType = onto ? -1 : model.types.findIndex((t) => t.type.id === element.makes);
        const bear = madeType >= 0 ? lowering.population.birth(madeType) : undefined;
        const place = lowering.places.of(node, "waiting");
        const away = lowering.network.leave(node, lowering.network.blocking(node));
        /** Those that wait, by what they are to be equal in. */
        const parts = new Map<number, WaitList>();
        const carriers = new Map<number, WaitList>();
        const unused: WaitList[] = [];
        lowering.replication.atStart(() => {
          parts.clear();
          carriers.clear();
        });
        const into = (map: Map<number, WaitList>, key: number, token: number): WaitList => {
          let list = map.get(key);
          if (!list) {
            list = unused.pop() ?? new WaitList();
            list.reset();
            map.set(key, list);
          }
          line.join(token, place, away);
          list.append(kernel, token);
          return list;
        };
        const takeFrom = (map: Map<number, WaitList>, key: number): number => {
          const list = map.get(key)!;
          const token = list.shift(kernel);
          line.leave(token);
          if (list.length === 0) {
            map.delete(key);
            unused.push(list);
          }
          return token;
        };
        const sizeFor = (token: number): number => {
          const size = count(token);
          if (Number.isInteger(size) && size >= 1 && size <= MOST_JOINED) return size;
          kernel.fail({
            code: "invalid-count",
            message: `gave ${size} to join, and it is a whole number from 1 to ${MOST_JOINED}.`,
            hint: "Use round(…).",
            id: element.id,
            field: "count",
            value: size,
          });
          return Infinity;
        };
        /** One becomes part of the one that goes on. */
        const add = (carrier: number, token: number): void => {
          if (contents) {
            lowering.presence.gone(index);
            contents.put(carrier, token);
          } else lowering.population.endInside(token, node);
        };

        lowering.network.entries[index] = kernel.emit((token) => {
          const key = match ? match(token) : 0;
          if (Number.isNaN(key)) {
            kernel.fail({
              code: "bad-rank",
              message: "gave no value to be equal in.",
              hint: "Look for a division of 0 by 0.",
              id: element.id,
              field: "match",
            });
            return SUSPEND;
          }
          if (onto) {
            const isCarrier = pool.typeOf(token) === carrierType;
            into(isCarrier ? carriers : parts, key, token);
            const waiting = carriers.get(key);
            if (!waiting || waiting.head < 0) return SUSPEND;
            const size = sizeFor(waiting.head);
            if ((parts.get(key)?.length ?? 0) < size) return SUSPEND;
            const carrier = takeFrom(carriers, key);
            for (let i = 0; i < size; i++) add(carrier, takeFrom(parts, key));
            joins.total += 1;
            if (carrier === token) return away;
            kernel.resume(carrier);
            return SUSPEND;
          }
          const list = into(parts, key, token);
          const size = sizeFor(list.head);
          if (list.length < size) return SUSPEND;
          joins.total += 1;
          const first = takeFrom(parts, key);
          let goesOn = first;
          if (bear) {
            lowering.presence.come(index);
            goesOn = bear(away);
            if (goesOn < 0) return SUSPEND;
            contents?.clear(goesOn, true);
            add(goesOn, first);
          }
          for (let i = 1; i < size; i++) add(goesOn, takeFrom(parts, key));
          if (bear) return SUSPEND;
          if (goesOn === token) return away;
          kernel.resume(goesOn);
          return SUSPEND;
        });
      },
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
