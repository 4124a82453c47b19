import { compile, open, PHASE } from "../src/index.ts";
import { chain, measures, program, study, timeline } from "./build.ts";

type Loose = Record<string, unknown>;
const out = { id: "out", kind: "departures" };
const RUN = { length: "1000 s" };
const at = (listed: string, more: Loose = {}): Loose => ({ id: "in", kind: "arrivals", by: "list", listed, ...more });
const problems = (elements: Loose[], links: Loose[], more: Loose = {}) =>
  compile(study({ elements, links, more })).problems.map((p) => p.code);

describe("batches", () => {
  const batch = (more: Loose, listed: string) => [at(listed), { id: "s", kind: "station", time: "10 s", ...more }, out];
  const states = (more: Loose, listed: string) =>
    timeline(study({ elements: batch(more, listed), links: chain("in", "s", "out"), run: RUN }), "s");
  test("starts with enough, and takes no more than it can", () => {
    // Two are enough at 1; three more by 4: the most, three, at 11.
    expect(states({ batchLeast: "2", batchMost: "3" }, "0 s, 1 s, 2 s, 3 s, 4 s")).toEqual([
      [0, "idle"],
      [1, "busy"],
      [21, "idle"],
    ]);
    const of = measures(
      batch({ batchLeast: "2", batchMost: "3" }, "0 s, 1 s, 2 s, 3 s, 4 s"),
      chain("in", "s", "out"),
      RUN,
    );
    expect([of("s/done"), of("t1/departed"), of("s/wait.mean"), of("t1/worked.mean")]).toEqual([
      5,
      5,
      (1 + 0 + 9 + 8 + 7) / 5,
      10,
    ]);
  });
  test("after the longest wait it starts with those that are there", () => {
    expect(states({ batchLeast: "3", batchMost: "3", batchWait: "20 s" }, "0 s, 5 s, 100 s")).toEqual([
      [0, "idle"],
      [20, "busy"],
      [30, "idle"],
      [120, "busy"],
      [130, "idle"],
    ]);
  });
  test("without a limit it waits for ever", () => {
    expect(states({ batchLeast: "3", batchMost: "3" }, "0 s, 5 s")).toEqual([[0, "idle"]]);
  });
});

test("changeovers by hand: the time from one value to another, else the time to set up, none without a change", () => {
  const types = ["Red", "Blue", "Green"].map((name, i) => ({ id: `t${i + 1}`, name }));
  const arrivals = ["t1", "t2", "t2", "t3", "t1"].map((entityType, i) => ({
    id: `in${i}`,
    kind: "arrivals",
    by: "list",
    listed: `${i} s`,
    entityType,
  }));
  const station = {
    id: "s",
    kind: "station",
    time: "10 s",
    setup: "5 s",
    setupWhen: "on change",
    setupBy: "entity.type",
    changeovers: [
      { id: "c1", from: "Red", to: "Blue", time: "2 s" },
      { id: "c2", from: "", to: "Green", time: "7 s" },
    ],
  };
  const s = study({
    elements: [...arrivals, station, out],
    links: [...arrivals.map(({ id }) => ({ from: id, to: "s" })), { from: "s", to: "out" }],
    types,
    run: RUN,
  });
  // Red: set up 5 (nothing before). Red to Blue 2. Blue again: none. Any to Green 7. Green to Red 5.
  expect(timeline(s, "s")).toEqual([
    [0, "setting up"],
    [5, "busy"],
    [15, "setting up"],
    [17, "busy"],
    [37, "setting up"],
    [44, "busy"],
    [54, "setting up"],
    [59, "busy"],
    [69, "idle"],
  ]);
  expect(
    problems(
      [{ id: "in", kind: "arrivals" }, { ...station, changeovers: [{ id: "c", from: "3", to: "", time: "1 s" }] }, out],
      chain("in", "s", "out"),
    ),
  ).toEqual(["unit-mismatch"]);
});

test("rework goes round in the same slot, by chance", () => {
  const of = measures(
    [
      at("", { by: "time between", between: "10 s", first: "0 s", limit: "2000" }),
      { id: "s", kind: "station", time: "1 s", rework: "25 %" },
      out,
    ],
    chain("in", "s", "out"),
    { length: "6 h" },
  );
  // Done again 1/3 time an entity on average (geometric): 667 ± 4 standard deviations.
  expect(Math.abs(of("s/reworked") - 2000 / 3)).toBeLessThan(4 * Math.sqrt((2000 * 0.25) / 0.75 ** 2));
  expect(of("s/done")).toBe(2000);
});

describe("gates", () => {
  const gate = (more: Loose) => ({ id: "g", kind: "gate", ...more });
  test("by a condition, looked at when what it reads changes: one at a time into a busy place", () => {
    const of = measures(
      [
        at("0 s, 1 s, 2 s"),
        gate({ condition: "s.busy = 0 and s.queue.length = 0", release: "one" }),
        { id: "s", kind: "station", time: "10 s" },
        out,
      ],
      chain("in", "g", "s", "out"),
      RUN,
    );
    expect([of("g/passed"), of("g/wait.mean"), of("s/wait.mean")]).toEqual([3, (0 + 9 + 18) / 3, 0]);
  });
  test("all at once when it comes to hold, each asked for itself", () => {
    const types = [{ id: "t1", name: "Crate", attributes: [{ name: "size", value: "uniformInteger(1, 9)" }] }];
    // Opens for the small when the first is counted out; the large stay.
    const of = measures(
      [
        at("0 s, 1 s, 2 s, 3 s", { sets: [{ id: "a", attribute: "size", value: "if(clock = 2 s, 5, 1)" }] }),
        gate({ condition: "entity.size < 3 and d.count < 1" }),
        { id: "d", kind: "dwell", time: "100 s" },
        out,
      ],
      chain("in", "g", "d", "out"),
      { length: "150 s" },
      types,
    );
    // 0: passes. 1 and 3 wait until d is empty at 100, and pass together; 2 stays.
    expect([of("g/passed"), of("g/line.end"), of("g/wait.max"), of("d/inside.max")]).toEqual([3, 1, 99, 2]);
  });
  test("by a signal: each one that comes into the other element lets one pass", () => {
    const elements = [
      at("0 s, 0 s, 0 s"),
      gate({ opens: "signal", signal: "d", release: "one" }),
      { id: "in2", kind: "arrivals", by: "list", listed: "50 s, 70 s" },
      { id: "d", kind: "dwell", time: "1 s" },
      out,
    ];
    const of = measures(elements, [...chain("in", "g", "out"), ...chain("in2", "d", "out")], { length: "100 s" });
    expect([of("g/passed"), of("g/line.end"), of("g/wait.mean")]).toEqual([2, 1, 60]);
  });
  test("by the hours of a calendar", () => {
    const more = {
      calendars: [
        {
          id: "c",
          name: "Bridge",
          repeats: "pattern",
          fills: "100 s",
          pattern: [
            { duration: "30 s", value: "0" },
            { duration: "70 s", value: "1" },
          ],
        },
      ],
    };
    const of = measures(
      [at("0 s, 10 s, 40 s, 110 s"), gate({ opens: "calendar", calendar: "c" }), out],
      chain("in", "g", "out"),
      { length: "200 s" },
      undefined,
      more,
    );
    expect([of("g/passed"), of("g/wait.mean")]).toEqual([4, (30 + 20 + 0 + 20) / 4]);
  });
  test("what it cannot watch is said", () => {
    const say = (more: Loose) => problems([{ id: "in", kind: "arrivals" }, gate(more), out], chain("in", "g", "out"));
    expect(say({ condition: "clock > 5 min" })).toEqual(["condition-of-time"]);
    expect(say({ opens: "signal" })).toEqual(["missing-element"]);
    expect(say({ opens: "calendar" })).toEqual(["missing-calendar"]);
    expect(say({ condition: "" })).toEqual(["empty-setting"]);
  });
});

describe("join and split", () => {
  const types = [
    { id: "t1", name: "Part", attributes: [{ name: "order", value: "1" }] },
    { id: "t2", name: "Box" },
  ];
  test("three alike become one of another type, for good", () => {
    const of = measures(
      [
        at("0 s, 1 s, 2 s, 3 s, 4 s, 5 s, 6 s"),
        { id: "j", kind: "join", count: "3", makes: "t2" },
        { id: "d", kind: "dwell", time: "10 s" },
        out,
      ],
      chain("in", "j", "d", "out"),
      RUN,
      types,
    );
    expect([
      of("t1/created"),
      of("t1/consumed"),
      of("t1/inSystem.end"),
      of("t2/created"),
      of("t2/departed"),
      of("j/joins"),
      of("j/wait.mean"),
    ]).toEqual([7, 6, 1, 2, 2, 2, (2 + 1 + 0 + 2 + 1 + 0) / 6]);
  });
  test("only those equal in an attribute", () => {
    const of = measures(
      [
        at("0 s, 1 s, 2 s, 3 s", {
          sets: [{ id: "a", attribute: "order", value: "if(clock < 2 s, 1, if(clock < 3 s, 2, 1))" }],
        }),
        { id: "j", kind: "join", count: "3", match: "entity.order" },
        out,
      ],
      chain("in", "j", "out"),
      RUN,
      types,
    );
    // Orders 1, 1, 2, 1: the three of order 1 join at 3.
    expect([of("j/joins"), of("j/line.end"), of("t1/departed"), of("t1/consumed")]).toEqual([1, 1, 1, 2]);
  });
  test("parts onto a carrier, and set free again: each goes its own way, with the time held told", () => {
    const elements = [
      at("0 s, 1 s"),
      { id: "inb", kind: "arrivals", by: "list", listed: "5 s", entityType: "t2" },
      { id: "j", kind: "join", gathers: "onto a carrier", carrier: "t2", count: "2", keeps: "to be undone" },
      { id: "d", kind: "dwell", time: "10 s" },
      { id: "s", kind: "split", does: "undo" },
      { id: "parts", kind: "departures" },
      out,
    ];
    const of = measures(
      elements,
      [...chain("in", "j", "d", "s", "out"), { from: "inb", to: "j" }, { from: "s", to: "parts", takes: "parts" }],
      RUN,
      types,
    );
    expect([
      of("parts/departed.t1"),
      of("out/departed.t2"),
      of("s/parts"),
      of("t1/held.mean"),
      of("t1/timeInSystem.mean"),
      of("t1/waiting.mean"),
      of("t2/dwelling.mean"),
    ]).toEqual([2, 1, 2, 10, 14.5, 4.5, 10]);
  });
  test("a box made only to hold ends when it is undone; what is still carried leaves with its carrier", () => {
    const join = { id: "j", kind: "join", count: "2", makes: "t2", keeps: "to be undone" };
    const undone = measures(
      [at("0 s, 1 s"), join, { id: "s", kind: "split", does: "undo" }, out],
      chain("in", "j", "s", "out"),
      RUN,
      types,
    );
    expect([undone("t2/consumed"), undone("t1/departed"), undone("t2/departed")]).toEqual([1, 2, 0]);
    const carried = measures([at("0 s, 1 s"), join, out], chain("in", "j", "out"), RUN, types);
    expect([carried("t1/departed"), carried("t2/departed"), carried("t1/inSystem.end")]).toEqual([2, 1, 0]);
  });
  test("copies keep attributes; pieces take the entity's place", () => {
    const copied = measures(
      [
        at("0 s"),
        { id: "s", kind: "split", does: "copy", count: "entity.order + 1" },
        { id: "side", kind: "departures" },
        out,
      ],
      [...chain("in", "s", "out"), { from: "s", to: "side", takes: "parts" }],
      RUN,
      types,
    );
    expect([copied("t1/created"), copied("side/departed"), copied("out/departed"), copied("s/parts")]).toEqual([
      3, 2, 1, 2,
    ]);
    const cut = measures(
      [at("0 s"), { id: "s", kind: "split", does: "cut", count: "4", makes: "t2" }, out],
      chain("in", "s", "out"),
      RUN,
      types,
    );
    expect([cut("t1/consumed"), cut("t2/created"), cut("t2/departed"), cut("t1/departed")]).toEqual([1, 4, 4, 0]);
  });
});

describe("other ways out", () => {
  const links = [
    { from: "in", to: "x" },
    { from: "x", to: "a", cost: "a.busy" },
    { from: "x", to: "b", cost: "b.busy * 3" },
    { from: "a", to: "out" },
    { from: "b", to: "out" },
  ];
  const places = [{ id: "a", kind: "station", time: "100 s" }, { id: "b", kind: "station", time: "100 s" }, out];
  test("the cheapest by an expression, the first of equals", () => {
    // 0: a (both 0). 1: a costs 1, b 0: b. 2: a 1, b 3: a.
    const of = measures([at("0 s, 1 s, 2 s"), { id: "x", kind: "junction", wayOut: "cheapest" }, ...places], links, {
      length: "50 s",
    });
    expect([of("l1/passed"), of("l2/passed"), of("x/passed")]).toEqual([2, 1, 3]);
  });
  test("the one named by an expression; a name without a link ends the replication and says where", () => {
    const elements = [
      at("0 s, 1 s, 2 s"),
      { id: "x", kind: "junction", wayOut: "named", destination: "if(clock < 1 s, b, a)" },
      ...places,
    ];
    const of = measures(elements, links, { length: "50 s" });
    expect([of("l1/passed"), of("l2/passed")]).toEqual([2, 1]);
    const session = open(
      program(
        study({ elements: elements.map((e) => (e.id === "x" ? { ...e, destination: "out" } : e)), links, run: RUN }),
      ),
      { seed: 1, replication: 1 },
    );
    session.advanceTo(100);
    expect(session.failure).toMatchObject({ code: "no-such-way", id: "x", field: "destination", time: 0 });
  });
});

describe("a queue in other orders", () => {
  const types = [{ id: "t1", name: "Crate", attributes: [{ name: "size", value: "1" }] }];
  const sized = at("0 s, 1 s, 2 s, 3 s", { sets: [{ id: "a", attribute: "size", value: "clock / 1 s" }] });
  const order = (queue: Loose, listed = sized) => {
    const session = open(
      program(
        study({
          elements: [
            listed,
            { id: "q", kind: "queue", ...queue },
            { id: "s", kind: "station", time: "10 s", room: "0" },
            out,
          ],
          links: chain("in", "q", "s", "out"),
          types,
          run: RUN,
        }),
      ),
      { seed: 1, replication: 1 },
    );
    const seen: number[] = [];
    while (!session.ended) {
      session.step();
      const frame = session.frame();
      for (let i = 0; i < frame.count; i++)
        if (frame.phase[i] === PHASE.working && seen.at(-1) !== frame.serial[i]) seen.push(frame.serial[i]);
    }
    return seen;
  };
  test("who comes to stand before the head takes its claim", () => {
    expect(order({ order: "last come" })).toEqual([1, 4, 3, 2]);
    expect(order({ order: "largest first", rank: "entity.size" })).toEqual([1, 4, 3, 2]);
    expect(order({ order: "smallest first", rank: "entity.size" })).toEqual([1, 2, 3, 4]);
  });
  test("patience, of the head too; those who give up leave room", () => {
    const of = measures(
      [
        at("0 s, 1 s, 2 s, 3 s"),
        { id: "q", kind: "queue", patience: "15 s" },
        { id: "s", kind: "station", time: "10 s", room: "0" },
        out,
      ],
      chain("in", "q", "s", "out"),
      RUN,
    );
    // Served at 0 and 10; the third gives up at 17, the fourth at 18.
    expect([of("q/gaveUp"), of("t1/departed"), of("t1/lost"), of("q/wait.max"), of("q/left")]).toEqual([
      2, 2, 2, 15, 2,
    ]);
  });
  test("balking at a line, by a condition", () => {
    const of = measures(
      [
        at("0 s, 1 s, 2 s, 3 s"),
        { id: "q", kind: "queue", balk: "q.length >= 2" },
        { id: "s", kind: "station", time: "10 s", room: "0" },
        out,
      ],
      chain("in", "q", "s", "out"),
      RUN,
    );
    expect([of("q/balked"), of("t1/departed")]).toEqual([1, 3]);
  });
});
