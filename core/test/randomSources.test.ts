import { compile, fingerprint, open, randomSources, run, type Study, measuresOf } from "../src/index.ts";
import { chain, study } from "./study.ts";

const model = (streams: object[] = [], more: object = {}): Study =>
  study({
    types: [{ id: "t1", name: "Customer", attributes: [{ name: "size", value: "uniform(1, 3)" }] }],
    elements: [
      { id: "in", kind: "arrivals", between: "exponential(3 min)" },
      { id: "desk", kind: "station", time: "exponential(2 min) * entity.size / 2", rework: "5 %" },
      { id: "out", kind: "departures" },
      { id: "other", kind: "departures" },
    ],
    links: [...chain("in", "desk", "out"), { from: "desk", to: "other" }],
    run: { length: "10 h" },
    more: { streams, ...more },
  });

const sources = (of: Study) => randomSources(compile(of).model);
const streamOf = (field: string) => sources(model()).find((s) => s.field === field)!.stream;

function figures(of: Study, replication = 1) {
  const { program } = compile(of);
  const { values } = run(program!, { seed: 8, replication })!;
  const value = (key: string) => values[measuresOf(program!).findIndex((m) => m.key === key)];
  return { arrived: value("in/created"), worked: value("t1/worked.mean"), first: value("out/departed") };
}

test("every place that draws is listed, with what it draws and its stream, and no other", () => {
  expect(sources(model()).map(({ owner, label, text, isArrival }) => [owner, label, text, isArrival])).toEqual([
    ["Customer", "size", "uniform(1, 3)", true],
    ["in", "Time between", "exponential(3 min)", true],
    ["desk", "Time", "exponential(2 min) * entity.size / 2", false],
    ["desk", "Way out", "by share", false],
    ["desk", "Again", "5 %", false],
  ]);
  expect(new Set(sources(model()).map(({ stream }) => stream)).size).toBe(5);
});

test("the place of a stream's number is where it stands in the study", () => {
  const of = model();
  for (const { path, stream } of sources(of))
    expect(path.reduce<unknown>((at, step) => (at as Record<string, unknown>)[step], of)).toBe(stream);
});

test("a seed of its own changes what its stream gives, and nothing else", () => {
  const [plain, pinned] = [figures(model()), figures(model([{ stream: streamOf("time"), seed: 99 }]))];
  expect(pinned.arrived).toBe(plain.arrived);
  expect(pinned.worked).not.toBe(plain.worked);
  // Whatever the seed of the run, the pinned one stays.
  const { program } = compile(model([{ stream: streamOf("between"), seed: 99 }]));
  const created = measuresOf(program!).findIndex((m) => m.key === "in/created");
  const arrived = [1, 2, 3].map((seed) => run(program!, { seed, replication: 1 })!.values[created]);
  expect(new Set(arrived).size).toBe(1);
});

test("numbers that are the same again are so in every replication, and the others new", () => {
  const of = model([{ stream: streamOf("between"), again: true }]);
  const [a, b, c] = [1, 2, 3].map((replication) => figures(of, replication));
  expect([b.arrived, c.arrived]).toEqual([a.arrived, a.arrived]);
  expect(new Set([a.worked, b.worked, c.worked]).size).toBe(3);
  expect(new Set([1, 2, 3].map((replication) => figures(model(), replication).arrived)).size).toBeGreaterThan(1);
});

test("a name alone changes nothing, and leaves runs as they are; a seed or the same again do not", () => {
  const of = model();
  const print = (streams: Study["streams"]) => fingerprint(of.designs[0], of.run, { streams });
  const base = { stream: streamOf("time"), name: "", seed: null, again: false };
  expect(print([{ ...base, name: "Desk work" }])).toBe(print([]));
  expect(figures(model([{ ...base, name: "Desk work" }]))).toEqual(figures(of));
  expect(print([{ ...base, seed: 3 }])).not.toBe(print([]));
  expect(print([{ ...base, again: true }])).not.toBe(print([]));
});

describe("draws of a replication are counted", () => {
  const counted = (of: Study, replication = 1) => {
    const { program } = compile(of);
    const session = open(program!, { seed: 8, replication });
    session.advanceTo(session.length);
    const draws = session.draws();
    const values = session.values();
    const value = (key: string) => values[measuresOf(program!).findIndex((m) => m.key === key)];
    return {
      drawn: new Map(randomSources(program!.model).map(({ field, stream }) => [field, draws.get(stream)])),
      value,
      again() {
        session.begin({ seed: 8, replication: 2 });
        return session.draws();
      },
    };
  };

  test("one by one and ahead: a time between more than arrivals, a size for each, nothing left of the one before", () => {
    const { drawn, value, again } = counted(model());
    const created = value("in/created");
    expect(created).toBeGreaterThan(150);
    expect(drawn.get("between")).toBe(created + 1);
    expect(drawn.get("attribute size")).toBe(created);
    // Work that is done again is drawn again: as often as it is asked whether, and for the one at work now.
    expect([0, 1]).toContain(drawn.get("time")! - drawn.get("rework")!);
    for (const [stream, count] of again()) expect([stream, count <= 1]).toEqual([stream, true]);
  });

  test("those of members are their family's", () => {
    const family = study({
      elements: [
        { id: "in", kind: "arrivals", between: "exponential(3 min)", wayOut: "shortest line" },
        { id: "bays", kind: "station", time: "exponential(5 min)", family: { count: 3 } },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "bays", "out"),
      run: { length: "10 h" },
    });
    const { drawn, value } = counted(family);
    expect(drawn.get("between")).toBe(value("in/created") + 1);
    // Of each that left, and of those in the three bays now.
    expect([0, 1, 2, 3]).toContain(drawn.get("time")! - value("out/departed"));
  });
});
