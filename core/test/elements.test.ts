import { compile, open } from "../src/index.ts";
import { chain, measures } from "./build.ts";
import { study } from "./study.ts";

const out = { id: "out", kind: "departures" };

describe("a queue and a station, by hand", () => {
  // Arrivals at 0, 10, 20, 30; work of 15 s: the n-th waits 5 n s, and the fourth comes as the third is let in.
  const of = measures(
    [
      { id: "in", kind: "arrivals", between: "10 s", first: "0 s", limit: "4" },
      { id: "q", kind: "queue" },
      { id: "s", kind: "station", time: "15 s" },
      out,
    ],
    chain("in", "q", "s", "out"),
    { length: "100 s" },
  );
  test.each([
    ["t1/created", 4],
    ["t1/departed", 4],
    ["t1/inSystem.end", 0],
    ["q/wait.mean", (0 + 5 + 10 + 15) / 4],
    ["q/wait.max", 15],
    ["q/waited.mean", 10],
    ["q/line.mean", 30 / 100],
    ["q/line.max", 1],
    ["s/utilization", 60 / 100],
    ["s/state.idle", 0.4],
    ["s/state.blocked", 0],
    ["s/done", 4],
    ["s/throughput", 4 / 100],
    ["t1/timeInSystem.mean", 15 + 7.5],
    ["t1/waiting.mean", 7.5],
    ["t1/worked.mean", 15],
    ["t1/timeInSystem.max", 30],
    ["t1/inSystem.mean", 90 / 100],
    ["out/departed", 4],
    ["in/created", 4],
    ["l0/passed", 4],
    ["l1/passed", 4],
  ])("%s is %d", (key, expected) => expect(of(key)).toBeCloseTo(expected, 9));
});

test("blocking after service: a finished entity keeps its slot until there is room ahead", () => {
  // A works 10 s each, B 30 s each, neither B nor A has a line of its own but A's is open.
  const of = measures(
    [
      { id: "in", kind: "arrivals", between: "10 s", first: "0 s", limit: "3" },
      { id: "a", kind: "station", time: "10 s" },
      { id: "b", kind: "station", time: "30 s", room: "0" },
      out,
    ],
    chain("in", "a", "b", "out"),
    { length: "100 s" },
  );
  // Entity 1: A 0-10, B 10-40. Entity 2: A 10-20, blocked 20-40, B 40-70. Entity 3 arrives 20, waits to 40, A 40-50,
  // blocked 50-70, B 70-100.
  expect(of("a/state.busy")).toBeCloseTo(0.3, 9);
  expect(of("a/state.blocked")).toBeCloseTo(0.4, 9);
  expect(of("a/wait.mean")).toBeCloseTo(20 / 3, 9);
  expect(of("b/state.busy")).toBeCloseTo(0.9, 9);
  expect(of("t1/blocked.mean")).toBeCloseTo(40 / 3, 9);
  expect(of("t1/departed")).toBe(3);
});

test("a full line turns entities away and counts them", () => {
  const of = measures(
    [
      { id: "in", kind: "arrivals", between: "1 s", first: "0 s", limit: "5" },
      { id: "s", kind: "station", time: "10 s", room: "1", whenFull: "lose" },
      out,
    ],
    chain("in", "s", "out"),
    { length: "60 s" },
  );
  expect(of("s/lost")).toBe(3);
  expect(of("t1/lost")).toBe(3);
  expect(of("s/lost.share")).toBeCloseTo(0.6, 12);
  expect(of("t1/departed")).toBe(2);
});

test("a limited queue holds arrivals outside until there is room", () => {
  const of = measures(
    [
      { id: "in", kind: "arrivals", between: "1 s", first: "0 s", limit: "3" },
      { id: "q", kind: "queue", room: "1" },
      { id: "s", kind: "station", time: "10 s" },
      out,
    ],
    chain("in", "q", "s", "out"),
    { length: "40 s" },
  );
  // 1: S 0-10. 2: in line 1-10. 3: outside 2-10, in line 10-20.
  expect(of("q/line.max")).toBe(1);
  expect(of("in/outside.mean")).toBeCloseTo(8 / 40, 12);
  expect(of("q/wait.mean")).toBeCloseTo((0 + 9 + 10) / 3, 12);
  expect(of("t1/waiting.mean")).toBeCloseTo((0 + 9 + 18) / 3, 12);
});

describe("ways out", () => {
  const to = (...ids: string[]) => [
    ...ids.map((id) => ({ from: "d", to: id })),
    ...ids.map((id) => ({ from: id, to: "out" })),
  ];
  const start = [{ id: "in", kind: "arrivals", between: "10 s", first: "0 s", limit: "6" }];
  const passed = (of: (key: string) => number, ...links: string[]) => links.map((l) => of(`${l}/passed`));

  test("in turn", () => {
    const of = measures(
      [
        ...start,
        { id: "d", kind: "dwell", time: "0 s", wayOut: "in turn" },
        { id: "a", kind: "dwell", time: "1 s" },
        { id: "b", kind: "dwell", time: "1 s" },
        { id: "c", kind: "dwell", time: "1 s" },
        out,
      ],
      [{ from: "in", to: "d" }, ...to("a", "b", "c")],
      { length: "100 s" },
    );
    expect(passed(of, "l1", "l2", "l3")).toEqual([2, 2, 2]);
  });

  test("shortest line counts those inside and on the way; ties go to the first", () => {
    const of = measures(
      [
        ...start,
        { id: "d", kind: "dwell", time: "0 s", wayOut: "shortest line" },
        { id: "a", kind: "station", time: "25 s" },
        { id: "b", kind: "station", time: "100 s" },
        out,
      ],
      [{ from: "in", to: "d" }, ...to("a", "b")],
      { length: "200 s" },
    );
    // 0: a (till 25). 10: b (till 110). 20: tie at 1, a. 30: a has 1 left, tie, a. 40: a has 2, b 1, b. 50: a has 2
    // or 1 (25+25=50 ends first), tie at 2 or a: a.
    expect(passed(of, "l1", "l2")).toEqual([4, 2]);
  });

  test("first free takes the first with room, else whoever frees first", () => {
    const of = measures(
      [
        { ...start[0], limit: "4" },
        { id: "d", kind: "queue", wayOut: "first free" },
        { id: "a", kind: "station", time: "35 s", room: "0" },
        { id: "b", kind: "station", time: "12 s", room: "0" },
        out,
      ],
      [{ from: "in", to: "d" }, ...to("a", "b")],
      { length: "100 s" },
    );
    // 0: a till 35. 10: b till 22. 20: waits for b at 22, till 34. 30: waits for b at 34, till 46.
    expect(passed(of, "l1", "l2")).toEqual([1, 3]);
    expect(of("d/wait.mean")).toBeCloseTo((0 + 0 + 2 + 4) / 4, 12);
  });

  test("by condition, in order, otherwise last", () => {
    const of = measures(
      [
        ...start,
        { id: "d", kind: "dwell", time: "0 s", wayOut: "condition" },
        { id: "a", kind: "dwell", time: "1 s" },
        { id: "b", kind: "dwell", time: "1 s" },
        out,
      ],
      [
        { from: "in", to: "d" },
        { from: "d", to: "a", condition: "clock > 25 s and entity.weight >= 2 kg" },
        { from: "d", to: "b" },
        { from: "a", to: "out" },
        { from: "b", to: "out" },
      ],
      { length: "100 s" },
      [{ id: "t1", name: "Parcel", attributes: [{ name: "weight", value: "if(clock < 45 s, 2 kg, 1 kg)" }] }],
    );
    expect(passed(of, "l1", "l2")).toEqual([2, 4]);
  });

  test("by share, chance follows the shares", () => {
    const of = measures(
      [
        { ...start[0], between: "1 s", limit: "20000" },
        { id: "d", kind: "dwell", time: "0 s" },
        { id: "a", kind: "dwell", time: "1 s" },
        { id: "b", kind: "dwell", time: "1 s" },
        out,
      ],
      [
        { from: "in", to: "d" },
        { from: "d", to: "a", share: "30 %" },
        { from: "d", to: "b" },
        { from: "a", to: "out" },
        { from: "b", to: "out" },
      ],
      { length: "6 h" },
    );
    expect(Math.abs(of("l1/passed") - 6000)).toBeLessThan(4 * Math.sqrt(20000 * 0.3 * 0.7));
  });
});

test("a walkway takes its length over the type's speed, drawn or typed; a timed link its time", () => {
  const of = measures(
    [
      { id: "in", kind: "arrivals", between: "10 s", first: "0 s", limit: "1", at: [0, 0] },
      { id: "a", kind: "dwell", time: "0 s", at: [30, 40] },
      { id: "b", kind: "dwell", time: "0 s", at: [30, 50] },
      { ...out, at: [60, 50] },
    ],
    [
      { from: "in", to: "a", kind: "walkway" },
      { from: "a", to: "b", kind: "walkway", length: "100 ft" },
      { from: "b", to: "out", kind: "timed", time: "7 s" },
    ],
    { length: "200 s" },
    [{ id: "t1", name: "Walker", speed: "2 m/s" }],
  );
  expect(of("t1/moving.mean")).toBeCloseTo(50 / 2 + 30.48 / 2 + 7, 9);
  expect(of("l0/underWay.mean")).toBeCloseTo(25 / 200, 9);
});

test("groups arrive together", () => {
  const of = measures(
    [
      { id: "in", kind: "arrivals", between: "10 s", group: "3", limit: "2" },
      { id: "s", kind: "station", time: "1 s" },
      out,
    ],
    chain("in", "s", "out"),
    { length: "60 s" },
  );
  expect(of("t1/created")).toBe(6);
  expect(of("s/wait.mean")).toBeCloseTo(1, 12);
});

test("warm-up data are discarded exactly; levels go on from where they are", () => {
  const of = measures(
    [{ id: "in", kind: "arrivals", between: "10 s", first: "0 s" }, { id: "s", kind: "station", time: "5 s" }, out],
    chain("in", "s", "out"),
    { length: "100 s", warmUp: "52 s" },
  );
  // Measured 52-100: busy 52-55, then 5 s of every 10 s from 60.
  expect(of("s/utilization")).toBeCloseTo((3 + 4 * 5) / 48, 12);
  expect(of("t1/created")).toBe(5);
  expect(of("s/done")).toBe(5);
  expect(of("s/throughput")).toBeCloseTo(5 / 48, 12);
  expect(of("l1/passed")).toBe(5);
});

test("events at one instant: work ends before arrivals, so an entity that arrives then finds the slot free", () => {
  const of = measures(
    [
      { id: "in", kind: "arrivals", between: "10 s", first: "0 s", limit: "5" },
      { id: "s", kind: "station", time: "10 s", room: "0", whenFull: "lose" },
      out,
    ],
    chain("in", "s", "out"),
    { length: "100 s" },
  );
  expect(of("s/lost")).toBe(0);
  expect(of("t1/departed")).toBe(5);
});

test("parts of the time in system are told by exit too, and together make up those of the type", () => {
  const of = study({
    types: [
      { id: "t1", name: "Crate" },
      { id: "t2", name: "Letter" },
    ],
    elements: [
      { id: "a", kind: "arrivals", between: "4 min", first: "0 min" },
      { id: "b", kind: "arrivals", between: "6 min", first: "0 min", entityType: "t2" },
      { id: "s", kind: "station", time: "3 min", wayOut: "in turn" },
      { id: "w", kind: "dwell", time: "2 min" },
      { id: "x", kind: "departures", name: "Street" },
      { id: "y", kind: "departures", name: "Quay" },
    ],
    links: [...chain("a", "s", "x"), { from: "s", to: "w" }, ...chain("w", "y"), ...chain("b", "y")].map((l, i) => ({
      ...l,
      id: `k${i}`,
    })),
    run: { length: "20 min" },
  });
  const { program } = compile(of, "d1");
  const session = open(program!, { seed: 1, replication: 1 });
  session.advanceTo(session.length);
  const values = new Map(session.measures.map((m, i) => [m.key, session.values()[i]]));
  const minutes = (key: string) => values.get(key)! / 60;
  // Crates at 0, 8 and 16 go to the street, those at 4 and 12 stay a while and go to the quay; none ever waits.
  expect(minutes("t1/worked.mean.x")).toBe(3);
  expect(minutes("t1/dwelling.mean.x")).toBe(0);
  expect(minutes("t1/dwelling.mean.y")).toBe(2);
  expect(minutes("t1/dwelling.mean")).toBe((3 * 0 + 2 * 2) / 5);
  // Letters never go to the street.
  expect(values.get("t2/worked.mean.x")).toBeNaN();
  expect(values.get("t2/worked.mean.y")).toBe(0);
  expect(session.measures.find(({ key }) => key === "t1/dwelling.mean.y")!.label).toBe("Quay: time dwelling, mean");
});
