import { PLAIN } from "../expression/index.ts";
import { SUSPEND } from "../kernel/kernel.ts";

import { count as measureCount } from "../measures/spec.ts";
import { choice, number, reference, settings } from "../settings/setting.ts";
import { elementKind } from "./kind.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/** Most copies or pieces of one entity. */
const MOST_PIECES = 10_000;

/** Undoes joins, makes copies, or cuts entities into pieces. It takes no time. */
export const split = elementKind({
  kind: "split",
  label: "Split",
  plural: "Splits",
  summary: "Undoes a join, copies, or cuts into pieces.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  consumes: true,
  counts: "so far",
  settings: settings({
    does: choice(
      "Does",
      "Undoes what was joined, makes copies besides, or cuts into pieces.",
      [
        ["undo", "undo what was joined"],
        ["copy", "copy"],
        ["cut", "cut into pieces"],
      ],
      { told: "what it does" },
    ),
    count: number(
      "How many",
      "Copies made besides, or pieces cut into; it may go by the entity, such as entity.size.",
      { initial: "2", entity: true, least: 0, used: ({ does }) => does !== "undo", draws: 10 },
    ),
    makes: reference("entity type", "Makes", "The entity type of copies or pieces. Empty: as the entity.", {
      none: "of the same type",
      told: "what goes on",
      used: ({ does }) => does !== "undo",
    }),
    ...WAY_OUT,
  }),
  sections: [{ title: "Split", of: ["does", "count", "makes"] }],
  properties: { split: PLAIN },
  measures: {
    split: measureCount("Split", "Entities that came to be split."),
    parts: measureCount("Set free or made", "Entities set free, copied or cut off."),
  },
  aside: { parts: () => true },

  check({ element }, report, design, { carries }) {
    if (element.does !== "undo" && element.makes !== "" && !design.entityTypes.some((t) => t.id === element.makes))
      report(
        "missing-entity-type",
        "makes",
        "the entity type that is made does not exist.",
        "Choose an entity type on its card.",
      );
    if (element.does === "undo" && !carries)
      report(
        "nothing-to-undo",
        "does",
        "nothing in this design is joined so that it can be undone: entities pass unchanged.",
        "Let a join keep what it joins.",
        "warning",
      );
  },

  typesOnward({ element }, here, { held, indexOf }) {
    // What was made only to hold others ends when it is undone.
    if (element.does === "undo")
      return {
        done: [...here].filter((type) => held.isBorn(type)),
        parts: new Set([...here].flatMap((type) => [...held.of(type)])),
      };
    const made = indexOf(element.makes);
    const parts = here.size === 0 || made === undefined ? [...here] : [made];
    held.bear(parts);
    return { done: element.does === "copy" ? here : [], parts };
  },

  prepare(node, lowering, measured) {
    const { element, index } = node;
    const { kernel, model } = lowering;
    const { pool } = kernel;
    const came = lowering.meters.counter();
    const freed = lowering.meters.counter();
    measured.add("split", () => came.n);
    measured.add("parts", () => freed.n, {
      label: element.does === "undo" ? "Set free" : element.does === "copy" ? "Copies made" : "Pieces made",
    });
    lowering.shown.count(node, () => came.total);
    const contents = element.does === "undo" && lowering.model.carries ? lowering.population.contents : undefined;

    return {
      readers: { split: () => came.total },
      lower() {
        const blocked = lowering.places.of(node, "blocked");
        const count = lowering.expressions.read(node, "count", 0);
        const made = element.makes === "" ? -1 : model.types.findIndex((t) => t.type.id === element.makes);
        const births = model.types.map((_, type) => lowering.population.birth(type));
        const away = lowering.network.leave(node, lowering.network.blocking(node));
        const aside = node.parts ? lowering.network.sendAside(node, node.parts) : undefined;
        const partsAway = aside ? kernel.emit(aside) : away;
        const { attributeCount } = model;

        lowering.network.entries[index] = kernel.emit((token) => {
          came.total += 1;
          if (element.does === "undo") {
            if (!contents || contents.isEmpty(token)) return away;
            contents.takeOut(token, (member) => {
              freed.total += 1;
              lowering.presence.come(index);
              pool.setPc(member, partsAway);
              pool.begin(member, blocked, kernel.clock);
              kernel.resume(member);
            });
            if (!contents.isOnlyHolding(token)) return away;
            lowering.population.endInside(token, node);
            return SUSPEND;
          }
          const pieces = count(token);
          if (!(Number.isInteger(pieces) && pieces >= 0 && pieces <= MOST_PIECES)) {
            kernel.fail({
              code: "invalid-count",
              message: `gave ${pieces}, and it is a whole number from 0 to ${MOST_PIECES}.`,
              hint: "Use round(…).",
              id: element.id,
              field: "count",
              value: pieces,
            });
            return SUSPEND;
          }
          const type = made >= 0 ? made : pool.typeOf(token);
          for (let i = 0; i < pieces; i++) {
            lowering.presence.come(index);
            const piece = births[type](partsAway);
            if (piece < 0) return SUSPEND;
            freed.total += 1;
            if (made < 0)
              for (let slot = 0; slot < attributeCount; slot++)
                pool.attributes[piece * attributeCount + slot] = pool.attributes[token * attributeCount + slot];
          }
          if (element.does === "copy") return away;
          lowering.population.endInside(token, node);
          return SUSPEND;
        });
      },
    };
  },

  readBack: (node, { nodes, types }) => {
    const { element, parts } = node;
    const as =
      element.makes && element.does !== "undo"
        ? [" of ", strong(types.find((t) => t.type.id === element.makes)?.type.name ?? "no entity type yet")]
        : [];
    return [
      "Takes entities from ",
      ...fromWhere(node, nodes),
      ...(element.does === "undo"
        ? [" and sets free what was joined to them."]
        : element.does === "copy"
          ? [" and makes ", strong(element.count), " copies", ...as, " of each."]
          : [" and cuts each into ", strong(element.count), " pieces", ...as, "."]),
      ...(parts
        ? [
            element.does === "undo"
              ? " Those set free go to "
              : element.does === "copy"
                ? " Copies go to "
                : " Pieces go to ",
            strong(nodes[parts.to].element.name),
            ".",
          ]
        : []),
      ...whereTo(node, nodes),
    ];
  },

  takesTime: () => false,
});
