import { run, runLong, measuresOf } from "../src/index.ts";
import { Level } from "../src/statistics/level.ts";
import { chain, measures, program, study, timeline } from "./build.ts";

type Loose = Record<string, unknown>;
const out = { id: "out", kind: "departures" };
const links = chain("in", "s", "out");
const list = (listed: string, more: Loose = {}) => ({ id: "in", kind: "arrivals", by: "list", listed, ...more });
const RUN = { length: "1000 s" };

describe("what comes at one instant starts together", () => {
  const batch = { id: "s", kind: "station", time: "10 s", batchLeast: "1", batchMost: "4" };

  test("a group of four at a station that starts with 1 to 4", () => {
    const of = measures([list("5 s", { group: "4" }), batch, out], links, RUN);
    expect([of("s/wait.max"), of("t1/timeInSystem.max"), of("s/state.busy") * 1000]).toEqual([
      0,
      10,
      expect.closeTo(10, 9),
    ]);
  });

  test("a batch that comes from a batch station", () => {
    const of = measures(
      [list("5 s", { group: "4" }), { ...batch, id: "a", batchLeast: "4" }, batch, out],
      chain("in", "a", "s", "out"),
      RUN,
    );
    expect([of("s/wait.max"), of("t1/timeInSystem.max")]).toEqual([0, 20]);
  });

  test("arrivals from two places at one instant, and one who is released by a gate at it", () => {
    const elements = [
      list("5 s"),
      { id: "in2", kind: "arrivals", by: "list", listed: "5 s" },
      { id: "in3", kind: "arrivals", by: "list", listed: "1 s" },
      { id: "g", kind: "gate", opens: "signal", signal: "in-note" },
      { id: "in-note", kind: "junction" },
      batch,
      out,
    ];
    const of = measures(
      elements,
      [...chain("in", "in-note", "s", "out"), ...chain("in2", "s"), ...chain("in3", "g", "s")],
      RUN,
    );
    expect([of("s/wait.max"), of("s/done"), of("s/state.busy") * 1000]).toEqual([0, 3, expect.closeTo(10, 9)]);
  });

  test("through a line in an order of its own, and a group too large for one batch", () => {
    const of = measures(
      [list("5 s", { group: "6" }), { id: "q", kind: "queue", order: "last come" }, { ...batch, room: "9" }, out],
      chain("in", "q", "s", "out"),
      RUN,
    );
    expect([of("s/state.busy") * 1000, of("t1/timeInSystem.mean")]).toEqual([
      expect.closeTo(20, 9),
      (4 * 10 + 2 * 20) / 6,
    ]);
  });

  test("do not join if is asked where there are too few for a batch, though a slot is free", () => {
    const of = measures(
      [list("0 s, 1 s, 2 s"), { ...batch, batchLeast: "2", balk: "s.queue.length >= 1" }, out],
      links,
      RUN,
    );
    // The second makes the batch full enough; the third finds the slot taken, and an empty line.
    expect([of("s/balked"), of("s/came"), of("s/done")]).toEqual([0, 3, 2]);
    expect(
      measures(
        [list("0 s, 1 s, 2 s"), { ...batch, batchLeast: "4", balk: "s.queue.length >= 1" }, out],
        links,
        RUN,
      )("s/balked"),
    ).toBe(2);
  });
});

describe("who comes first in an order of its own is told from all who come at the instant", () => {
  const types = [
    { id: "t1", name: "Small", attributes: [{ name: "size", value: "1" }] },
    { id: "t2", name: "Large", attributes: [{ name: "size", value: "2" }] },
  ];
  // The large one is made first, at the same instant.
  const both = [
    { id: "inL", kind: "arrivals", entityType: "t2", by: "list", listed: "5 s" },
    { id: "inS", kind: "arrivals", entityType: "t1", by: "list", listed: "5 s" },
  ];
  const ranked = { order: "smallest first", rank: "entity.size" };

  test("at an idle station", () => {
    const of = measures(
      [...both, { id: "s", kind: "station", time: "10 s", ...ranked }, out],
      [...chain("inL", "s", "out"), ...chain("inS", "s")],
      RUN,
      types,
    );
    expect([of("t1/waiting.mean"), of("t2/waiting.mean")]).toEqual([0, 10]);
  });

  test("in a queue before an idle station", () => {
    const of = measures(
      [...both, { id: "q", kind: "queue", ...ranked }, { id: "s", kind: "station", time: "10 s" }, out],
      [...chain("inL", "q", "s", "out"), ...chain("inS", "q")],
      RUN,
      types,
    );
    expect([of("t1/waiting.mean"), of("t2/waiting.mean")]).toEqual([0, 10]);
  });

  test.each([
    ["station", {}],
    ["queue", { id: "q" }],
  ])("in a %s where a place comes free at the instant at which the small one comes", (_, queue: Loose) => {
    const inQueue = "id" in queue;
    const elements = [
      list("0 s", { entityType: "t2", id: "in0" }),
      { id: "inL", kind: "arrivals", entityType: "t2", by: "list", listed: "2 s" },
      { id: "inS", kind: "arrivals", entityType: "t1", by: "list", listed: "10 s" },
      ...(inQueue ? [{ id: "q", kind: "queue", ...ranked }] : []),
      { id: "s", kind: "station", time: "10 s", ...(inQueue ? {} : ranked) },
      out,
    ];
    const first = inQueue ? "q" : "s";
    const of = measures(
      elements,
      [
        ...["in0", "inL", "inS"].flatMap((id) => chain(id, first)),
        ...(inQueue ? chain("q", "s") : []),
        ...chain("s", "out"),
      ],
      RUN,
      types,
    );
    expect([of("t1/waiting.mean"), of("t2/waiting.mean")]).toEqual([0, (0 + 18) / 2]);
  });
});

describe("resources are given out when all who ask at an instant have asked", () => {
  const helper = { id: "h", kind: "crew", count: "1" };
  const need = (more: Loose = {}) => [{ id: "n", anyOf: ["h"], ...more }];
  const station = (id: string, priority: string) => ({ id, kind: "station", time: "10 s", needs: need(), priority });

  test("a station's next entity is not late because it can ask only a step after the crew is freed", () => {
    const elements = [
      list("0 s", { group: "3" }),
      station("s", "2"),
      { id: "in2", kind: "arrivals", by: "list", listed: "1 s" },
      station("b", "1"),
      helper,
      out,
    ];
    const s = study({ elements, links: [...links, ...chain("in2", "b", "out")], run: RUN });
    expect(timeline(s, "b")).toEqual([
      [0, "idle"],
      [1, "waiting for a resource"],
      [30, "busy"],
      [40, "idle"],
    ]);
  });

  test("several claims at one instant: the highest priority first, though it asked last", () => {
    const elements = [
      list("5 s"),
      station("s", "1"),
      { id: "in2", kind: "arrivals", by: "list", listed: "5 s" },
      station("b", "2"),
      helper,
      out,
    ];
    const s = study({ elements, links: [...links, ...chain("in2", "b", "out")], run: RUN });
    expect(timeline(s, "b")).toEqual([
      [0, "idle"],
      [5, "busy"],
      [15, "idle"],
    ]);
    expect(timeline(s, "s")).toEqual([
      [0, "idle"],
      [5, "waiting for a resource"],
      [15, "busy"],
      [25, "idle"],
    ]);
  });

  test("two resources that come free at one instant go by priority together: who needs both does not take one from a higher claim", () => {
    const kit = { id: "k", kind: "equipment", count: "1" };
    const both = {
      ...station("s", "1"),
      needs: [
        { id: "n1", anyOf: ["h"] },
        { id: "n2", anyOf: ["k"] },
      ],
    };
    const kitOnly = { ...station("b", "2"), needs: [{ id: "n1", anyOf: ["k"] }] };
    // The first has both to 10; then the lower claim would have the helper's line to itself.
    const first = { ...both, id: "f", priority: "9" };
    const elements = [
      list("0 s", { id: "in0" }),
      first,
      list("1 s"),
      both,
      { id: "in2", kind: "arrivals", by: "list", listed: "2 s" },
      kitOnly,
      helper,
      kit,
      out,
    ];
    const s = study({
      elements,
      links: [...chain("in0", "f", "out"), ...links, ...chain("in2", "b", "out")],
      run: RUN,
    });
    expect(timeline(s, "b")).toEqual([
      [0, "idle"],
      [2, "waiting for a resource"],
      [10, "busy"],
      [20, "idle"],
    ]);
    expect(timeline(s, "s")).toEqual([
      [0, "idle"],
      [1, "waiting for a resource"],
      [20, "busy"],
      [30, "idle"],
    ]);
  });

  test("who needs none of a resource starts at once, and has claimed nothing", () => {
    const none = { ...station("s", "1"), needs: need({ count: "if(entity.age < 0 s, 1, 0)" }) };
    const of = measures([list("5 s", { group: "2" }), none, helper, out], links, RUN);
    expect([of("h/taken"), of("t1/waiting.mean"), of("s/state.busy") * 1000]).toEqual([0, 5, expect.closeTo(20, 9)]);
  });

  test("a claim taken away and given again is one claim", () => {
    const elements = [
      list("0 s"),
      station("s", "1"),
      { id: "in2", kind: "arrivals", by: "list", listed: "4 s" },
      station("b", "2"),
      { ...helper, preempt: true },
      out,
    ];
    const of = measures(elements, [...links, ...chain("in2", "b", "out")], RUN);
    expect([of("h/taken"), of("h/takenAway"), of("h/wait.mean"), of("s/state.needing") * 1000]).toEqual([
      2,
      1,
      0,
      expect.closeTo(10, 9),
    ]);
  });
});

describe("parts and bounds", () => {
  test("shares of those who came, with turned away and balked both present", () => {
    // One in work, room for one more; the second waits; of the next two one is turned away for want of room, and
    // those of an even minute do not join.
    const of = measures(
      [
        list("0 s, 1 s, 2 s, 3 s, 4 s, 15 s"),
        { id: "s", kind: "station", time: "20 s", room: "1", whenFull: "lose", balk: "in.created = 2" },
        out,
      ],
      links,
      RUN,
    );
    expect([of("s/came"), of("s/lost"), of("s/balked"), of("s/lost.share"), of("s/balked.share")]).toEqual([
      6,
      3,
      1,
      0.5,
      1 / 6,
    ]);
  });

  test("work that stands still off shift is a part of its own of the time in the system", () => {
    const calendar = {
      id: "c",
      name: "Shift",
      repeats: "pattern",
      fills: "100 s",
      pattern: [
        { duration: "20 s", value: "1" },
        { duration: "80 s", value: "0" },
      ],
    };
    const of = measures(
      [list("10 s"), { id: "s", kind: "station", time: "15 s", calendar: "c", atBell: "pause at the bell" }, out],
      links,
      RUN,
      undefined,
      { calendars: [calendar] },
    );
    expect([of("t1/worked.mean"), of("t1/stood.mean"), of("t1/timeInSystem.mean")]).toEqual([15, 80, 95]);
  });

  test("scrapped or preempted while standing still: each second is one part", () => {
    const down = [{ id: "b", clock: "clock time", every: "16 s", repair: "30 s" }];
    const paused = measures([list("10 s"), { id: "s", kind: "station", time: "15 s", breakdowns: down }, out], links, {
      length: "60 s",
    });
    expect([paused("t1/worked.mean"), paused("t1/stood.mean"), paused("t1/timeInSystem.mean")]).toEqual([15, 30, 45]);
    const calendar = {
      id: "c",
      name: "Shift",
      repeats: "pattern",
      fills: "100 s",
      pattern: [
        { duration: "12 s", value: "1" },
        { duration: "20 s", value: "0" },
        { duration: "68 s", value: "1" },
      ],
    };
    // Off shift from 12 to 32; the helper is taken from 20 on to 40 by the urgent. What passes while it lacks the
    // helper is waiting.
    const elements = [
      list("10 s"),
      {
        id: "s",
        kind: "station",
        time: "15 s",
        calendar: "c",
        atBell: "pause at the bell",
        needs: [{ id: "n", anyOf: ["h"] }],
        priority: "1",
      },
      { id: "in2", kind: "arrivals", entityType: "t2", by: "list", listed: "20 s" },
      { id: "b", kind: "station", time: "20 s", needs: [{ id: "n", anyOf: ["h"] }], priority: "2" },
      { id: "h", kind: "crew", count: "1", preempt: true },
      out,
    ];
    const of = measures(
      elements,
      [...links, ...chain("in2", "b", "out")],
      { length: "100 s" },
      [
        { id: "t1", name: "Crate" },
        { id: "t2", name: "Urgent" },
      ],
      { calendars: [calendar] },
    );
    expect(["worked", "stood", "waiting"].map((part) => of(`t1/${part}.mean`))).toEqual([15, 8, 20]);
    expect(of("t1/timeInSystem.mean")).toBe(43);
  });

  test("a line through which everyone passes straight has had nobody in it", () => {
    const of = measures(
      [list("0 s, 50 s"), { id: "q", kind: "queue" }, { id: "s", kind: "station", time: "1 s" }, out],
      chain("in", "q", "s", "out"),
      RUN,
    );
    expect([of("q/line.max"), of("s/line.max"), of("q/left")]).toEqual([0, 0, 2]);
  });

  test("the instant of the warm-up's end is measured", () => {
    const of = measures(
      [list("9 s, 10 s, 20 s"), { id: "d", kind: "dwell", time: "0 s" }, out],
      chain("in", "d", "out"),
      { length: "20 s", warmUp: "10 s" },
    );
    expect([of("in/created"), of("out/departed")]).toEqual([2, 2]);
  });

  test("in a long run each instant between two batches belongs to the later, and the very end to the last", () => {
    const p = program(
      study({
        elements: [list("5 s, 10 s, 19 s, 20 s, 25 s, 30 s"), { id: "d", kind: "dwell", time: "0 s" }, out],
        links: chain("in", "d", "out"),
        run: { length: "30 s", kind: "long", replications: 3 },
      }),
    );
    const at = measuresOf(p).findIndex((m) => m.key === "in/created");
    expect(runLong(p, { seed: 1, batches: 3 })!.map((r) => r.values[at])).toEqual([1, 2, 3]);
    const warm = program(
      study({
        elements: [list("5 s, 10 s, 19 s, 20 s, 25 s, 30 s"), { id: "d", kind: "dwell", time: "0 s" }, out],
        links: chain("in", "d", "out"),
        run: { length: "30 s", warmUp: "10 s", kind: "long", replications: 2 },
      }),
    );
    expect(runLong(warm, { seed: 1, batches: 2 })!.map((r) => r.values[at])).toEqual([2, 3]);
  });

  test("ending by count finishes the instant, as ending by condition does", () => {
    const elements = [list("5 s", { group: "3" }), { id: "d", kind: "dwell", time: "1 s" }, out];
    for (const end of [
      { ends: "count", count: "2" },
      { ends: "condition", condition: "out.departed >= 2" },
    ]) {
      const result = run(program(study({ elements, links: chain("in", "d", "out"), run: { ...RUN, ...end } })), {
        seed: 1,
        replication: 1,
      })!;
      const p = program(study({ elements, links: chain("in", "d", "out"), run: { ...RUN, ...end } }));
      expect([result.until, result.values[measuresOf(p).findIndex((m) => m.key === "out/departed")]]).toEqual([6, 3]);
    }
  });

  test("a level's own value at the end counts among its largest", () => {
    const clock = new Float64Array(1);
    const level = new Level(clock);
    clock[0] = 5;
    level.add(3);
    expect([level.max, level.value]).toEqual([3, 3]);
  });

  test("an even profile has every arrival: 12 an hour for 8 hours are 96", () => {
    const profile = (value: string, duration: string) => ({
      calendars: [
        {
          id: "c",
          name: "Demand",
          gives: "rate",
          repeats: "pattern",
          after: "stop",
          fills: duration,
          pattern: [{ duration, value }],
        },
      ],
    });
    const created = (value: string, duration: string, length: string) =>
      measures(
        [
          { id: "in", kind: "arrivals", by: "profile", profile: "c", spacing: "even" },
          { id: "d", kind: "dwell", time: "0 s" },
          out,
        ],
        chain("in", "d", "out"),
        { length },
        undefined,
        profile(value, duration),
      )("in/created");
    expect(created("12/h", "8 h", "8 h")).toBe(96);
    expect(created("7/h", "3 h", "9 h")).toBe(21);
    expect(created("1/(7 min)", "7 h", "70 h")).toBe(60);
  });
});
