import { type Checked, checkExpression, makeScope, nameKey, numberOf, PLAIN, type Read } from "../expression/index.ts";
import { TIME } from "../quantity/index.ts";
import { EventClass, type Step, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import { count as measureCount, level, throughput } from "../measures/spec.ts";
import { type Node, streamOf } from "../model/model.ts";
import type { Level } from "../statistics/level.ts";
import {
  attribute,
  choice,
  count,
  expression,
  longText,
  number,
  reference,
  rows,
  settings,
  time,
  value,
} from "../settings/setting.ts";
import { elementKind, type ElementWith, type Phrase } from "./kind.ts";
import type { Counter } from "../lowering/counter.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { WAY_OUT } from "./wayOut.ts";
import { strong, whereTo } from "./words.ts";

/** Most entities in one group. */
const MOST_IN_GROUP = 10_000;

const ARRIVALS = settings({
  by: choice(
    "When",
    "What says when entities arrive.",
    [
      ["time between", "by the time between"],
      ["profile", "by a demand profile"],
      ["list", "at listed times"],
      ["table", "by the rows of a table"],
    ],
    { told: "when they arrive" },
  ),
  entityType: reference("entity type", "Entity type", "The entity type that arrives.", {
    first: true,
    used: ({ mix }) => !Array.isArray(mix) || mix.length === 0,
  }),
  mix: rows(
    "Mix of entity types",
    "Entity types that arrive, by their shares, in place of one; shares are weighed against their sum.",
    {
      one: "entity type",
      told: "mix of entity types",
      many: false,
      most: 200,
      draws: 60,
      fresh: ({ entityType }) => ({ entityType }),
      row: {
        entityType: reference("entity type", "Entity type", "An entity type that arrives.", { first: true }),
        share: number("Share", "Its share, such as 20 %; shares are weighed against their sum.", {
          initial: "50 %",
          least: 0,
          draws: 130,
        }),
      },
    },
  ),
  between: time("Time between", "Time from one arrival to the next.", {
    initial: "exponential(5 min)",
    entity: false,
    width: 230,
    used: ({ by }) => by === "time between",
    draws: 10,
  }),
  first: time("First arrival", "Time of the first arrival. Empty: after one time between arrivals.", {
    entity: false,
    optional: true,
    used: ({ by }) => by === "time between",
    draws: 20,
  }),
  profile: reference("demand profile", "Profile", "The demand profile that gives the rate of arrivals.", {
    told: "demand profile",
    used: ({ by }) => by === "profile",
    draws: 50,
  }),
  spacing: choice(
    "Spacing",
    "By a profile: at random is a Poisson process whose rate follows it exactly; even is evenly at that rate.",
    [
      ["random", "at random, at that rate"],
      ["even", "even, at that rate"],
    ],
    { used: ({ by }) => by === "profile" },
  ),
  listed: longText("Times, one a line", "Times, one a line or separated by commas.", "0 min\n12 min\n1.5 h", {
    told: "listed times",
    many: true,
    used: ({ by }) => by === "list",
  }),
  listedAs: choice(
    "Listed are",
    "Whether the list holds times from the start or gaps from one arrival to the next.",
    [
      ["times", "times from the start"],
      ["gaps", "gaps between arrivals"],
    ],
    { used: ({ by }) => by === "list" },
  ),
  table: reference("table", "Rows of", "A table of which each arrival takes a row, known here as row.", {
    none: "no table",
  }),
  arrivesAt: time("Arrives at", "Time of the arrival of each row, from the start, such as row.due.", {
    entity: false,
    steady: true,
    used: ({ by, table }) => by === "table" && table !== "",
  }),
  takes: choice(
    "Takes",
    "Which row each entity takes.",
    [
      ["at random", "one at random"],
      ["in turn", "one after another"],
    ],
    { used: ({ by, table }) => by !== "table" && table !== "" },
  ),
  weight: number("By weight", "Weight of a row, such as row.share. Empty: each is as likely.", {
    entity: false,
    steady: true,
    optional: true,
    used: ({ by, table, takes }) => by !== "table" && table !== "" && takes === "at random",
  }),
  typeOf: expression(
    "Type by row",
    "The entity type of a row, such as row.kind. Empty: as above.",
    { kind: "entityType" },
    { entity: false, steady: true, optional: true, used: ({ table }) => table !== "" },
  ),
  group: count("Group size", "Entities that arrive together.", [0, MOST_IN_GROUP], { initial: "1", draws: 30 }),
  limit: count("Limit", "Most arrivals (groups); empty: no limit.", [1, 1e12], { optional: true, fixed: true }),
  until: time("Until", "Time from the start after which none arrive; empty: no limit.", {
    entity: false,
    optional: true,
    fixed: true,
  }),
  sets: rows("Attributes given at birth", "Attributes given at birth in place of the type's own values.", {
    one: "attribute",
    told: "attributes given at birth",
    most: 60,
    row: {
      attribute: attribute("Attribute", "Name of the attribute."),
      value: value("Value", "Value at birth, in place of the type's own.", {
        initial: "0",
        entity: true,
        draws: 120,
      }),
    },
  }),
  ...WAY_OUT,
});
type Arrivals = ElementWith<"arrivals", typeof ARRIVALS>;

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
  properties: { created: PLAIN },
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
    return { readers: { created: () => created.total }, lower: () => lower(node, lowering, { created, outside }) };
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

/** Whether the row at hand says which type arrives. */
const isByRow = ({ table, typeOf }: Pick<Arrivals, "table" | "typeOf">): boolean =>
  table !== "" && typeOf.trim() !== "";

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

interface Meters {
  readonly created: Counter;
  readonly outside: Level;
}

/** The times in a list, one a line or separated by commas, in seconds; or what is wrong with it. */
export function readTimes(text: string): { readonly times: readonly number[]; readonly problem?: string } {
  const entries = text
    .split(/[\n,;]/)
    .map((entry) => entry.trim())
    .filter((entry) => entry !== "");
  if (entries.length === 0) return { times: [], problem: "the list is empty." };
  const times: number[] = [];
  for (const [i, entry] of entries.entries()) {
    const result = checkExpression(entry, NO_NAMES, numberOf(TIME));
    const seconds = result.ok ? result.checked.constant : undefined;
    if (seconds === undefined || !(seconds >= 0 && seconds < Infinity))
      return { times, problem: `entry ${i + 1}, "${entry}", is no fixed time of 0 or more.` };
    times.push(seconds);
  }
  return { times };
}
const NO_NAMES = makeScope(new Map(), () => 0);

/** When the next arrival comes, in seconds from now, or, where `absolute`, from the start; Infinity when none does. */
interface NextArrival {
  readonly first: Read;
  readonly next: Read;
  /** The setting that says so. */
  readonly field: string;
  readonly absolute?: boolean;
  /** Has the row of who arrives now at hand. */
  readonly rowNow?: () => void;
}

/**
 * When entities arrive. A
 * demand profile is followed exactly: an arrival comes when the integral of the rate has grown by an
 * exponential amount of mean 1 (Çinlar 1975, inversion of the cumulative rate), or by 1 where they come evenly.
 */
function nextArrival(node: Node<Arrivals>, lowering: Lowering): NextArrival {
  const { kernel } = lowering;
  const { element } = node;
  if (element.by === "time between") {
    const next = lowering.expressions.read(node, "between", 0);
    return {
      first: node.settings.has("first") ? lowering.expressions.read(node, "first", 0) : next,
      next,
      field: "between",
    };
  }
  if (element.by === "profile") {
    const profile = lowering.model.timetables.get(element.profile);
    if (element.spacing === "even" && profile) {
      const { next, reset } = profile.countingUp();
      lowering.replication.atStart(reset);
      return { first: next, next, field: "profile", absolute: true };
    }
    const amount = lowering.expressions.exponential(streamOf(element, "profile"));
    const next = () => (profile ? profile.whenIntegral(kernel.now, amount()) - kernel.now : Infinity);
    return { first: next, next, field: "profile" };
  }
  if (element.by === "table") return arrivalsOfRows(node, lowering);
  const { times } = readTimes(element.listed);
  let sum = 0;
  const at = element.listedAs === "times" ? [...times].sort((a, b) => a - b) : times.map((gap) => (sum += gap));
  let position = 0;
  lowering.replication.atStart(() => (position = 0));
  const next = () => (position < at.length ? Math.max(0, at[position++] - kernel.now) : Infinity);
  return { first: next, next, field: "listed" };
}

/** Rows come at their times, those of one time in their order; who arrives has its row at hand. */
function arrivalsOfRows(node: Node<Arrivals>, lowering: Lowering): NextArrival {
  const { kernel, expressions, replication } = lowering;
  const { rows } = node;
  const at = expressions.read(node, "arrivesAt", 0);
  const field = "arrivesAt";
  if (!rows) return { first: () => Infinity, next: () => Infinity, field };
  let [order, times]: [Int32Array, Float64Array] = [new Int32Array(0), new Float64Array(0)];
  let position = 0;
  replication.atStart(() => {
    times = Float64Array.from({ length: rows.table.rows }, (_, row) => {
      rows.at = row;
      return at(-1);
    });
    order = Int32Array.from(times.keys()).sort((a, b) => times[a] - times[b] || a - b);
    position = 0;
  });
  const next = () => {
    if (position === order.length) return Infinity;
    const time = times[order[position++]];
    return Number.isNaN(time) ? Number.NaN : Math.max(0, time - kernel.now);
  };
  return { first: next, next, field, rowNow: () => (rows.at = order[position - 1]) };
}

/** Takes the row of each entity, at random or in turn; undefined where no table is asked. */
function rowTaker(node: Node<Arrivals>, { kernel, expressions, replication }: Lowering): (() => boolean) | undefined {
  const { rows, element } = node;
  if (!rows || element.by === "table") return undefined;
  const count = rows.table.rows;
  if (element.takes === "in turn") {
    let last = -1;
    replication.atStart(() => (last = -1));
    return () => {
      rows.at = last = (last + 1) % count;
      return true;
    };
  }
  const weight = expressions.read(node, "weight", 1);
  const uniform = expressions.uniform(streamOf(element, "mix"));
  const weights = new Float64Array(count);
  return () => {
    let sum = 0;
    for (rows.at = 0; rows.at < count; rows.at++) sum += weights[rows.at] = Math.max(0, weight(-1));
    if (!(sum > 0 && sum < Infinity)) {
      kernel.fail({
        code: "bad-share",
        message: `The weights of the rows of ${rows.table.name} at ${element.name} came to ${sum}.`,
        hint: "Give at least one row a weight above 0.",
        id: element.id,
        field: "weight",
        value: sum,
      });
      return false;
    }
    let left = uniform() * sum;
    let row = 0;
    for (let i = 0; i < count; i++) {
      if (weights[i] === 0) continue;
      row = i;
      left -= weights[i];
      if (left < 0) break;
    }
    rows.at = row;
    return true;
  };
}

/** A process that makes a group, waits until the next arrival, and makes the next. */
function lower(node: Node<Arrivals>, lowering: Lowering, { created, outside }: Meters): void {
  const { kernel, network, presence, replication } = lowering;
  const { pool } = kernel;
  const { index, settings } = node;
  const { first, next, field, absolute, rowNow } = nextArrival(node, lowering);
  const drawGroup = groupSize(node, lowering);
  const fixedGroup = settings.get("group")?.constant ?? -1;
  const limit = settings.get("limit")?.constant ?? Infinity;
  const tracked = presence.isKept;
  const bear = birth(node, lowering);
  const goOn = waitForNext(node, lowering, absolute ?? false);
  let arrived = 0;

  const { entries } = network;
  const straightOn = network.straightOn(node, created);
  const outsidePlace = lowering.places.of(node, "waiting");
  const born = network.leave(node, {
    onBlocked: (token) => {
      outside.add(1);
      pool.begin(token, outsidePlace, kernel.clock);
    },
    onUnblocked: (token) => {
      outside.add(-1);
      pool.credit(token, PART.waiting, kernel.clock);
    },
  });
  const isPlain = !node.rows && fixedGroup === 1 && limit === Infinity && !tracked && straightOn >= 0;
  const arriveAlone: Step = (token) => {
    created.total += 1;
    const entity = bear(entries[straightOn]);
    goOn(token, next(token), field);
    kernel.goOnAtOnce(entity);
    return SUSPEND;
  };
  const arriveTogether: Step = (token) => {
    if (rowNow) rowNow();
    const size = fixedGroup >= 0 ? fixedGroup : drawGroup(token);
    let entity = -1;
    for (let i = 0; i < size; i++) {
      created.total += 1;
      if (tracked) presence.come(index);
      entity = bear(straightOn < 0 ? born : entries[straightOn]);
    }
    if (++arrived >= limit) {
      pool.release(token);
      return SUSPEND;
    }
    goOn(token, next(token), field);
    if (size === 1) kernel.goOnAtOnce(entity);
    return SUSPEND;
  };
  const arrive = kernel.emit(isPlain ? arriveAlone : arriveTogether);
  const begin = kernel.emit((token) => {
    pool.setPc(token, arrive);
    return goOn(token, first(token), settings.has("first") ? "first" : field);
  });
  network.enterBy(node, begin);
  replication.atStart(() => {
    arrived = 0;
    kernel.startProcess(begin, 0, EventClass.arrival);
  });
}

/** How many arrive together, as drawn. */
function groupSize(node: Node<Arrivals>, { kernel, expressions }: Lowering): Read {
  const group = expressions.read(node, "group", 1);
  return (token) => {
    const size = group(token);
    if (Number.isInteger(size) && size >= 0 && size <= MOST_IN_GROUP) return size;
    kernel.fail({
      code: "invalid-count",
      message: `gave ${size} entities, and a group is a whole number from 0 to ${MOST_IN_GROUP}.`,
      hint: "Use round(…) or a distribution of whole numbers.",
      id: node.element.id,
      field: "group",
      value: size,
    });
    return 0;
  };
}

/** Has the process wait until the next arrival, or end when there is none. */
function waitForNext(
  { element, settings }: Node<Arrivals>,
  { kernel }: Lowering,
  absolute: boolean,
): (token: number, duration: number, of: string) => number {
  const { pool } = kernel;
  const until = settings.get("until")?.constant ?? Infinity;
  // An infinite time between arrivals is a mistake, an infinite wait for a profile or list is its end.
  if (element.by === "time between" && until === Infinity)
    return (token, duration, of) => {
      kernel.delay(token, duration, EventClass.arrival, element.id, of);
      return SUSPEND;
    };
  return (token, duration, of) => {
    if (duration === Infinity || (absolute ? duration : kernel.now + duration) > until) pool.release(token);
    else if (absolute) kernel.scheduleAt(token, duration, EventClass.arrival);
    else kernel.delay(token, duration, EventClass.arrival, element.id, of);
    return SUSPEND;
  };
}

type Birth = (pc: number) => number;

/** Makes an entity of the type, or of one drawn from the mix, with the attributes given here. */
function birth(node: Node<Arrivals>, lowering: Lowering): Birth {
  const { element } = node;
  const { model, kernel, population, expressions } = lowering;
  const { mix, sets, entityType } = element;
  const takeRow = rowTaker(node, lowering);
  const typeOf = (id: string) => model.types.findIndex(({ type }) => type.id === id);
  const bear = node.settings.has("typeOf")
    ? birthByRow(node, lowering)
    : mix.length > 1
      ? birthOfMix(
          node,
          lowering,
          mix.map((m) => population.birth(typeOf(m.entityType))),
        )
      : population.birth(typeOf(mix.length === 0 ? entityType : mix[0].entityType));
  const given = sets.flatMap(({ id, attribute: name }) => {
    const slot = model.attributeSlots.get(nameKey(name));
    return slot === undefined ? [] : [{ slot, value: expressions.read(node, `sets.${id}.value`, 0) }];
  });
  const tell = lowering.events.teller(element.id, "arrives");
  if (given.length === 0 && !tell && !takeRow) return bear;
  const { pool } = kernel;
  return (pc) => {
    if (takeRow && !takeRow()) return -1;
    const token = bear(pc);
    if (token < 0) return token;
    for (const { slot, value: read } of given) pool.attributes[token * model.attributeCount + slot] = read(token);
    if (tell) tell(token);
    return token;
  };
}

/** Makes an entity of the type that the row at hand says. */
function birthByRow(node: Node<Arrivals>, { model, population, expressions }: Lowering): Birth {
  const births = model.types.map((_, type) => population.birth(type));
  const typeOf = expressions.read(node, "typeOf", -1);
  return (pc) => births[typeOf(-1)]?.(pc) ?? -1;
}

/** Makes an entity of a type drawn by the shares of the mix, which are weighed against their sum. */
function birthOfMix(node: Node<Arrivals>, { kernel, expressions }: Lowering, births: readonly Birth[]): Birth {
  const { element } = node;
  const shares = element.mix.map((m) => expressions.read(node, `mix.${m.id}.share`, 0));
  const uniform = expressions.uniform(streamOf(element, "mix"));
  const weights = new Float64Array(shares.length);
  return (pc) => {
    let sum = 0;
    for (let i = 0; i < weights.length; i++) sum += weights[i] = shares[i](-1);
    if (!(sum > 0 && sum < Infinity)) {
      kernel.fail({
        code: "bad-share",
        message: `The shares of the entity types at ${element.name} came to ${sum}.`,
        hint: "Give at least one of them a share above 0.",
        id: element.id,
        field: "mix",
        value: sum,
      });
      return -1;
    }
    let left = uniform() * sum;
    for (let i = 0; i < weights.length - 1; i++) {
      left -= weights[i];
      if (left < 0) return births[i](pc);
    }
    return births[weights.length - 1](pc);
  };
}
