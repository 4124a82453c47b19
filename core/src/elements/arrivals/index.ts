import { type Checked, nameKey, PLAIN } from "../../expression/index.ts";
import { count as measureCount, level, throughput } from "../../measures/spec.ts";
import type { Node } from "../../model/model.ts";
import { elementKind, type Phrase } from "../kind.ts";
import { strong, whereTo } from "../words.ts";
import { lower } from "./lower.ts";
import { readTimes } from "../readTimes.ts";
import { ARRIVALS, isByRow } from "./settings.ts";

export const arrivals = elementKind({
  kind: "arrivals",
  label: "Arrivals",
  plural: "Arrivals",
  summary: "Where entities enter the system.",
  group: "flow",
  hasWayIn: false,
  hasWayOut: true,
  isSource: true,
  common: true,
  counts: "so far",
  settings: ARRIVALS,
  sections: [
    {
      title: "Arrive",
      of: ["entityType", "by", "between", "first", "profile", "spacing", "listedAs", "listed", "group"],
    },
    { title: "A row of a table for each", of: ["table", "arrivesAt", "takes", "weight", "typeOf"], folded: true },
    { title: "Mix of entity types", of: ["mix"], folded: true },
    { title: "Attributes given at birth", of: ["sets"], folded: true },
    { title: "Limits", of: ["limit", "until"], folded: true },
  ],
  properties: { created: PLAIN, groups: PLAIN },
  events: { arrives: { label: "An entity arrives", of: "entity" } },
  measures: {
    created: measureCount("Created", "Entities that arrived after the warm-up."),
    throughput,
    outside: level("Waiting to enter", "Arrived entities that find no room at the first place and wait outside", {
      better: "less",
    }),
  },

  check({ element, settings }, report, design) {
    const known = (id: string) => design.entityTypes.some((type) => type.id === id);
    const byRow = isByRow(element);
    if (byRow && settings.get("typeOf")?.tables.every(({ column }) => column === undefined))
      report(
        "no-column",
        "typeOf",
        "no column of the table says it.",
        "Write a column of entity types, such as row.kind.",
      );
    if (element.by === "table" && element.table === "")
      report("missing-table", "table", "nothing says of which table rows arrive.", "Choose one on its card.");
    if (!byRow && element.mix.length === 0 && !known(element.entityType)) {
      report(
        "missing-entity-type",
        "entityType",
        element.entityType
          ? `it brings in an entity type that does not exist ("${element.entityType}").`
          : "nothing says which entity type arrives.",
        "Choose an entity type on its card.",
      );
    }
    for (const { id, entityType } of byRow ? [] : element.mix)
      if (!known(entityType))
        report(
          "missing-entity-type",
          `mix.${id}.entityType`,
          "one of the mix is no entity type.",
          "Choose an entity type on its card.",
        );
    const comes = design.entityTypes.filter((type) =>
      byRow
        ? false
        : element.mix.length === 0
          ? type.id === element.entityType
          : element.mix.some((m) => m.entityType === type.id),
    );
    for (const { id, attribute } of element.sets) {
      const without = comes.filter((type) => !type.attributes.some((a) => nameKey(a.name) === nameKey(attribute)));
      if (attribute === "")
        report(
          "missing-attribute",
          `sets.${id}.attribute`,
          "nothing says which attribute is given.",
          "Choose an attribute of the entity type.",
        );
      else if (without.length > 0)
        report(
          "missing-attribute",
          `sets.${id}.attribute`,
          `${without.map((type) => type.name).join(", ")} ${without.length === 1 ? "arrives" : "arrive"} here and ${without.length === 1 ? "has" : "have"} no attribute "${attribute}".`,
          "Give every entity type that arrives here this attribute, or choose another.",
        );
    }
    if (element.by === "profile" && element.profile === "")
      report(
        "missing-calendar",
        "profile",
        "nothing says which demand profile it follows.",
        "Choose one on its card, or draw one under Calendars.",
      );
    if (element.by === "list") {
      const { problem } = readTimes(element.listed);
      if (problem) report("bad-list", "listed", problem, "Write one time a line, such as 12 min.");
    }
  },

  bears: ({ element: { mix, entityType }, rows, settings }, indexOf) =>
    typesOfRows(rows, settings.get("typeOf")) ??
    (mix.length === 0 ? [entityType] : mix.map((m) => m.entityType)).flatMap((id) => indexOf(id) ?? []),

  prepare(node, lowering, measured) {
    const created = lowering.meters.counter();
    const outside = lowering.meters.level();
    measured.add("created", () => created.n);
    lowering.meters.throughput(measured, created);
    measured.level("outside", outside);
    lowering.shown.count(node, () => created.total);
    const groups = { arrived: 0 };
    // One at a time, each is a group of its own.
    const alone = node.settings.get("group")?.constant === 1;
    return {
      readers: { created: () => created.total, groups: () => (alone ? created.total : groups.arrived) },
      lower: () => lower(node, lowering, { created, outside }, groups),
    };
  },

  readBack(node, { nodes, types, study }) {
    const { element } = node;
    const nameOf = (id: string) => types.find((t) => t.type.id === id)?.type.name ?? "no entity type yet";
    const what: Phrase[] = isByRow(element)
      ? ["the type of ", strong(element.typeOf)]
      : element.mix.length === 0
        ? [strong(nameOf(element.entityType))]
        : element.mix.flatMap(({ entityType, share }, i): Phrase[] => [
            i === 0 ? "" : ", ",
            strong(share || "nothing"),
            " ",
            strong(nameOf(entityType)),
          ]);
    const many = element.group !== "1" ? [strong(element.group), " at a time, "] : [];
    const when: Phrase[] =
      element.by === "time between"
        ? [
            "one arrival every ",
            strong(element.between),
            ...(element.first ? [", the first at ", strong(element.first)] : []),
          ]
        : element.by === "profile"
          ? [
              element.spacing === "random" ? "at random at the rate of " : "evenly at the rate of ",
              strong(study.calendars.find((c) => c.id === element.profile)?.name ?? "no profile yet"),
            ]
          : element.by === "table"
            ? ["at ", strong(element.arrivesAt || "no time yet")]
            : [`at ${readTimes(element.listed).times.length} listed ${element.listedAs}`];
    const row: Phrase[] = !node.rows
      ? []
      : element.by === "table"
        ? [", each row of ", strong(node.rows.table.name)]
        : [
            element.takes === "in turn" ? ", each with the next row of " : ", each with a row of ",
            strong(node.rows.table.name),
            ...(element.takes === "in turn" || element.weight === "" ? [] : [" by ", strong(element.weight)]),
          ];
    return [
      "Brings in ",
      ...what,
      ", ",
      ...many,
      ...when,
      ...row,
      ...(element.limit ? [", at most ", strong(element.limit), " in all"] : []),
      ...(element.until ? [", until ", strong(element.until)] : []),
      ".",
      ...whereTo(node, nodes),
    ];
  },

  takesTime: () => true,
});

/** The types that rows may say, where a column says them. */
function typesOfRows(rows: Node["rows"], typeOf: Checked | undefined): number[] | undefined {
  if (!rows || !typeOf) return undefined;
  const columns = typeOf.tables.flatMap(({ table, column }) => (table === rows.table.id && column ? [column] : []));
  return [
    ...new Set(
      rows.table.columns.flatMap(({ id, type, values }) =>
        columns.includes(id) && type.kind === "entityType" ? [...values].filter((v) => !Number.isNaN(v)) : [],
      ),
    ),
  ];
}
