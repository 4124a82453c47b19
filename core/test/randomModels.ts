import fc from "fast-check";
import type { Study } from "../src/index.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

/** A random small model: arrivals, then rows of elements, each linked to some of the next row, then departures. */
export const plainModels: fc.Arbitrary<Study> = fc
  .record({
    between: fc.constantFrom("exponential(20 s)", "30 s", "uniform(5 s, 60 s)"),
    group: fc.constantFrom("1", "2", "uniformInteger(0, 3)"),
    rows: fc.array(
      fc.array(
        fc.record({
          kind: fc.constantFrom("queue", "station", "dwell", "station"),
          capacity: fc.integer({ min: 1, max: 3 }),
          time: fc.constantFrom("exponential(25 s)", "10 s", "0 s", "triangular(1 s, 5 s, 60 s)"),
          room: fc.constantFrom("auto", "no limit", "0", "2"),
          limit: fc.constantFrom("no limit", "3"),
          whenFull: fc.constantFrom("wait", "lose"),
          order: fc.constantFrom("first come", "first come", "last come"),
          patience: fc.constantFrom("", "", "15 s", "exponential(30 s)"),
          wayOut: fc.constantFrom("share", "shortest line", "in turn", "first free"),
          link: fc.constantFrom("direct", "timed", "walkway"),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      { minLength: 1, maxLength: 4 },
    ),
    warmUp: fc.constantFrom("0 s", "200 s"),
  })
  .map(({ between, group, rows, warmUp }) => {
    const elements: Loose[] = [{ id: "in", kind: "arrivals", between, group, wayOut: rows[0][0].wayOut, at: [0, 0] }];
    const links: Loose[] = [];
    let previous = ["in"];
    rows.forEach((row, r) => {
      const ids = row.map((spec, i) => {
        const id = `e${r}n${i}`;
        const { kind, capacity, time, room, limit, whenFull, order, patience, wayOut } = spec;
        const settings =
          kind === "station"
            ? { capacity: String(capacity), time, room, whenFull, order, patience }
            : kind === "queue"
              ? { room: limit, whenFull }
              : { time };
        elements.push({ id, kind, wayOut, at: [10 * (r + 1), 10 * i], ...settings });
        return id;
      });
      for (const from of previous)
        row.forEach(({ link }, i) => links.push({ from, to: ids[i], kind: link, time: "uniform(1 s, 9 s)" }));
      previous = ids;
    });
    elements.push({ id: "out", kind: "departures", at: [100, 0] });
    for (const from of previous) links.push({ from, to: "out" });
    return study({ elements, links, run: { length: "1500 s", warmUp } });
  });

const breakdown = fc.record({
  clock: fc.constantFrom("clock time", "busy time", "jobs"),
  every: fc.constantFrom("exponential(200 s)", "150 s"),
  jobs: fc.constantFrom("3", "uniformInteger(1, 9)"),
  repair: fc.constantFrom("20 s", "exponential(40 s)", "0 s"),
  anyOf: fc.constantFrom([], ["crew"], ["crew", "kit"]),
});
const breakdowns = fc.array(breakdown, { maxLength: 2 }).map((rows) => rows.map((row, i) => ({ id: `b${i}`, ...row })));
const atBell = fc.constantFrom("finish, then full break", "finish, keep the timetable", "pause at the bell");
const calendar = fc.constantFrom("", "shift", "shift");
const count = fc.constantFrom("1", "2", "if(entity.size > 1, 2, 1)");

const element = fc.record({
  kind: fc.constantFrom(
    "queue",
    "station",
    "station",
    "station",
    "dwell",
    "place",
    "gate",
    "join",
    "split",
    "junction",
  ),
  order: fc.constantFrom("first come", "last come", "smallest first"),
  patience: fc.constantFrom("", "", "exponential(60 s)", "40 s"),
  balk: fc.constantFrom("", "", "entity.size > 2"),
  room: fc.constantFrom("auto", "no limit", "0", "2"),
  limit: fc.constantFrom("no limit", "3"),
  whenFull: fc.constantFrom("wait", "lose"),
  capacity: fc.constantFrom("1", "2", "3"),
  time: fc.constantFrom("exponential(25 s)", "10 s", "0 s"),
  calendar,
  atBell,
  breakdowns,
  setup: fc.constantFrom("", "5 s", "exponential(4 s)"),
  setupWhen: fc.constantFrom("always", "on change"),
  teardown: fc.constantFrom("", "3 s"),
  needs: fc
    .array(
      fc.record({
        anyOf: fc.constantFrom(["crew"], ["kit"], ["kit", "crew"]),
        count,
        phases: fc.constantFrom(["work"], ["setup", "work"], ["setup", "work", "teardown"]),
      }),
      { maxLength: 2 },
    )
    .map((rows) => rows.map((row, i) => ({ id: `n${i}`, ...row }))),
  keepResources: fc.boolean(),
  priority: fc.constantFrom("", "entity.size", "1", "2", "if(entity.type is Barrel, entity.urgency, 0)"),
  onBreakdown: fc.constantFrom("pause and resume", "start over", "scrap"),
  batch: fc.constantFrom(
    ["1", "1", ""],
    ["1", "1", ""],
    ["1", "3", ""],
    ["1", "4", ""],
    ["2", "3", "30 s"],
    ["3", "3", ""],
  ),
  rework: fc.constantFrom("", "", "20 %"),
  opens: fc.constantFrom("condition", "signal", "calendar"),
  condition: fc.constantFrom("out.departed mod 2 = 0 or entity.size < 3", "crew.busy < 2", "crew.free >= 0"),
  release: fc.constantFrom("one", "all"),
  match: fc.constantFrom("", "entity.size", "if(entity.type is Barrel, entity.urgency, -1)"),
  keeps: fc.constantFrom("for good", "to be undone"),
  makes: fc.constantFrom("", "t2"),
  does: fc.constantFrom("undo", "copy", "cut"),
  pieces: fc.constantFrom("0", "1", "2"),
  wayOut: fc.constantFrom("share", "shortest line", "in turn", "first free", "cheapest"),
  link: fc.constantFrom("direct", "timed", "walkway", "conveyor", "escorted", "carried", "ways"),
  lane: fc.record({
    room: fc.constantFrom("", "1", "3"),
    keepsOrder: fc.boolean(),
    closedWhile: fc.constantFrom("", "", "out.departed mod 7 = 6"),
    calendar: fc.constantFrom("", "", "shift"),
  }),
});

/** What links of a kind have besides. */
const WAYS: Readonly<Record<string, Loose>> = {
  conveyor: {
    beltSpeed: "2 m/s",
    beltRoom: "3 m",
    length: "14 m",
    accumulates: true,
    beltEvery: "300 s",
    beltRepair: "9 s",
  },
  escorted: { by: "crew" },
  carried: { by: "carts" },
};

/**
 * A random small model of everything there is, in rows as the plain ones, with a crew, a kit that breaks down, and
 * shifts.
 */
export const fullModels: fc.Arbitrary<Study> = fc
  .record({
    by: fc.constantFrom("time between", "profile", "list"),
    between: fc.constantFrom("exponential(20 s)", "30 s"),
    group: fc.constantFrom("1", "2", "uniformInteger(0, 3)", "4"),
    limit: fc.constantFrom("", "20"),
    spacing: fc.constantFrom("random", "even"),
    mixed: fc.boolean(),
    rows: fc.array(fc.array(element, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 4 }),
    crew: fc.record({
      count: fc.constantFrom("2", "3"),
      calendar,
      atBell,
      preempt: fc.boolean(),
      order: fc.constantFrom("first asked", "last asked"),
      walks: fc.constantFrom("no", "straight"),
      speed: fc.constantFrom("5 m/s", "uniform(2 m/s, 8 m/s)"),
      chosen: fc.constantFrom("fixed order", "nearest", "longest idle", "least used"),
      next: fc.constantFrom("in order", "nearest"),
      idle: fc.constantFrom("stay", "home"),
    }),
    carts: fc.record({
      count: fc.constantFrom("1", "3"),
      limit: fc.constantFrom("1", "2"),
      load: fc.constantFrom("0 s", "exponential(3 s)"),
      trip: fc.constantFrom("same way", "same place", "several stops"),
      visits: fc.constantFrom("nearest", "in order"),
      least: fc.constantFrom("", "2"),
      patience: fc.constant("exponential(40 s)"),
      idle: fc.constantFrom("stay", "home"),
      calendar,
      every: fc.constantFrom("", "exponential(200 s)"),
      repair: fc.constantFrom("exponential(20 s)"),
    }),
    kit: fc.record({
      count: fc.constantFrom("2", "3"),
      calendar,
      atBell,
      preempt: fc.boolean(),
      breakdowns: breakdowns.map((rows) =>
        rows.map((row) => ({ ...row, anyOf: row.anyOf.filter((id) => id !== "kit") })),
      ),
    }),
    warmUp: fc.constantFrom("0 s", "200 s"),
  })
  .map(({ by, between, group, limit, spacing, mixed, rows, crew, carts, kit, warmUp }) => {
    const elements: Loose[] = [
      {
        id: "in",
        kind: "arrivals",
        by,
        between,
        group,
        limit,
        spacing,
        profile: "demand",
        listed: "0 s, 5 s, 5 s, 70 s, 200 s, 700 s",
        wayOut: rows[0][0].wayOut,
        at: [0, 0],
        ...(mixed
          ? {
              mix: [
                { id: "m1", entityType: "t1", share: "2" },
                { id: "m2", entityType: "t2", share: "1" },
              ],
              sets: [{ id: "s1", attribute: "size", value: "2" }],
            }
          : {}),
      },
      { id: "crew", kind: "crew", at: [0, 90], ...crew },
      { id: "kit", kind: "equipment", at: [10, 90], ...kit },
      { id: "carts", kind: "vehicle", at: [20, 90], ...carts },
    ];
    const links: Loose[] = [];
    const roads: Loose[] = [];
    let previous = ["in"];
    rows.forEach((row, r) => {
      const ids = row.map((spec, i) => {
        const id = `e${r}n${i}`;
        const {
          kind,
          order,
          patience,
          balk,
          room,
          whenFull,
          capacity,
          time,
          needs,
          wayOut,
          batch,
          match,
          pieces,
          makes,
          setup,
          setupWhen,
        } = spec;
        const line = { order, rank: order === "smallest first" ? "entity.size" : "", patience, balk, whenFull };
        const settings: Loose =
          kind === "station"
            ? {
                ...line,
                room,
                capacity,
                time,
                calendar: spec.calendar,
                atBell: spec.atBell,
                setup,
                setupWhen: setup ? setupWhen : "always",
                setupBy: "entity.size",
                teardown: spec.teardown,
                needs,
                keepResources: spec.keepResources,
                priority: spec.priority,
                breakdowns: spec.breakdowns,
                onBreakdown: spec.onBreakdown,
                batchLeast: batch[0],
                batchMost: batch[1],
                batchWait: batch[2],
                rework: spec.rework,
              }
            : kind === "queue"
              ? { ...line, room: spec.limit }
              : kind === "gate"
                ? {
                    opens: spec.opens,
                    condition: spec.condition,
                    signal: "out",
                    calendar: "shift",
                    release: spec.release,
                  }
                : kind === "join"
                  ? { count: "2", match, keeps: spec.keeps, makes }
                  : kind === "split"
                    ? { does: spec.does, count: pieces, makes: spec.does === "undo" ? "" : makes }
                    : kind === "dwell"
                      ? { time }
                      : kind === "place"
                        ? { time, count: capacity, patience, calendar: spec.calendar, posture: "standing" }
                        : {};
        elements.push({ id, kind, wayOut, at: [10 * (r + 1), 10 * i], ...settings });
        return id;
      });
      for (const from of previous)
        row.forEach(({ link, lane }, i) => {
          links.push({ from, to: ids[i], kind: link, time: "uniform(1 s, 9 s)", cost: String(i), ...WAYS[link] });
          if (link !== "ways") return;
          const at = (id: string) => elements.find((one) => one.id === id)!.at;
          const points = [at(from), at(ids[i])];
          roads.push({ id: `w${roads.length}`, from, to: ids[i], points, oneWay: true, limit: "3 m/s", ...lane });
        });
      previous = ids;
    });
    elements.push({ id: "out", kind: "departures", at: [100, 0] });
    for (const from of previous) links.push({ from, to: "out", cost: "1" });
    const made = study({
      elements,
      links,
      // Both have a size; only one has an urgency, which only those who ask for the type first may read.
      types: ["t1", "t2"].map((id) => ({
        id,
        name: id === "t1" ? "Crate" : "Barrel",
        attributes: [
          { name: "size", value: "uniformInteger(1, 3)" },
          ...(id === "t2" ? [{ name: "urgency", value: "uniformInteger(0, 2)" }] : []),
        ],
      })),
      run: { length: "1500 s", warmUp },
      design: { roads },
      more: {
        calendars: [
          {
            id: "shift",
            name: "Shift",
            repeats: "pattern",
            fills: "300 s",
            pattern: [
              { duration: "100 s", value: "all" },
              { duration: "60 s", value: "1" },
              { duration: "40 s", value: "0" },
              { duration: "100 s", value: "2" },
            ],
          },
          {
            id: "demand",
            name: "Demand",
            gives: "rate",
            repeats: "pattern",
            fills: "500 s",
            pattern: [
              { duration: "200 s", value: "3/min" },
              { duration: "100 s", value: "0/min" },
              { duration: "200 s", value: "1/min" },
            ],
          },
        ],
      },
    });
    const stations = elements.filter((e) => e.kind === "station").map((e) => String(e.id));
    const measures: Study["designs"][number]["measures"] = [
      { kind: "ranges", id: "m1", name: "In use", value: "crew.busy + kit.busy", bounds: ["1", "3"] },
      { kind: "condition", id: "m2", name: "Few", condition: "out.departed < 5" },
      { kind: "average", id: "m3", name: "Asked for", value: "crew.line * 2" },
      ...(stations.length > 0 ? [{ kind: "group" as const, id: "m4", name: "All", elements: stations }] : []),
    ];
    return { ...made, designs: [{ ...made.designs[0], measures }] };
  });
