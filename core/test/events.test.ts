import { compile } from "../src/index.ts";
import { allKinds, eventsOf, prepareNode } from "../src/elements/index.ts";
import { Kernel } from "../src/kernel/kernel.ts";
import { Lowering } from "../src/lowering/lowering.ts";
import { openStreams } from "../src/random/streams.ts";
import { chain, study } from "./study.ts";

/** Runs a design with somebody listening to an event; gives the times at which it happened, and for whom. */
function heard(
  elements: Record<string, unknown>[],
  links: Record<string, unknown>[],
  listenTo: readonly (readonly [id: string, event: string])[],
) {
  const { program, problems } = compile(study({ elements, links, run: { length: "1000 s" } }));
  if (!program) throw new Error(JSON.stringify(problems));
  const { model } = program;
  const run = (listens: boolean) => {
    const kernel: Kernel = new Kernel(model.attributeCount, () => ({ name: "" }));
    const lowering = new Lowering(model, kernel, openStreams(1, 1), []);
    const told: [event: string, time: number, serial: number][] = [];
    if (listens)
      for (const [id, event] of listenTo)
        lowering.events.listen(id, event, (token) =>
          told.push([`${id} ${event}`, kernel.now, token < 0 ? 0 : kernel.pool.serial[token]]),
        );
    for (const lower of model.nodes.map((node) => prepareNode(node, lowering))) lower();
    lowering.finish();
    kernel.reset({ entities: 1e6, events: 1e6, stepsAtAnInstant: 1e6 });
    lowering.begin(1, 1);
    kernel.run(1000, 1e6);
    kernel.end(1000);
    return { told, values: lowering.meters.figures.map((m) => m.read()), unheard: lowering.events.unheard };
  };
  const [quiet, loud] = [run(false), run(true)];
  // Who listens changes no number.
  expect(loud.values).toEqual(quiet.values);
  expect(loud.unheard).toEqual([]);
  return loud.told;
}

const arrive = { id: "in", kind: "arrivals", entityType: "t1", by: "list", listed: "0 s, 1 s, 2 s" };
const out = { id: "out", kind: "departures" };

test.each([
  ["plain, with no room limit, from which entities go straight on", {}],
  ["with a teardown, so that its slots are kept one by one", { teardown: "0 s" }],
])("a station %s tells when entities come in, when work starts and ends, and when they go on", (_, more) => {
  const events = ["comes in", "work starts", "work ends", "goes on"];
  const told = heard(
    [arrive, { id: "s", kind: "station", time: "10 s", ...more }, out],
    chain("in", "s", "out"),
    events.map((event) => ["s", event] as const),
  );
  const of = (event: string) => told.filter(([e]) => e === `s ${event}`).map(([, time, serial]) => [time, serial]);
  expect(of("comes in")).toEqual([
    [0, 1],
    [1, 2],
    [2, 3],
  ]);
  expect(of("work starts")).toEqual([
    [0, 1],
    [10, 2],
    [20, 3],
  ]);
  expect(of("work ends")).toEqual([
    [10, 1],
    [20, 2],
    [30, 3],
  ]);
  expect(of("goes on")).toEqual(of("work ends"));
});

test("entities that wait for room go on when they have it", () => {
  const told = heard(
    [arrive, { id: "s", kind: "station", time: "10 s" }, { id: "n", kind: "station", time: "50 s", room: "0" }, out],
    chain("in", "s", "n", "out"),
    [
      ["s", "work ends"],
      ["s", "goes on"],
    ],
  );
  expect(told).toEqual([
    ["s work ends", 10, 1],
    ["s goes on", 10, 1],
    ["s work ends", 20, 2],
    ["s goes on", 60, 2],
    ["s work ends", 70, 3],
    ["s goes on", 110, 3],
  ]);
});

test("arrivals tell of whom they bring in, before they set out; departures of whom they let out", () => {
  const told = heard([arrive, out], chain("in", "out"), [
    ["in", "arrives"],
    ["in", "goes on"],
    ["out", "comes in"],
  ]);
  expect(told).toEqual(
    [0, 1, 2].flatMap((time) => ["in arrives", "in goes on", "out comes in"].map((event) => [event, time, time + 1])),
  );
});

test("breakdowns and repairs are told without an entity", () => {
  const told = heard(
    [
      arrive,
      {
        id: "s",
        kind: "station",
        time: "10 s",
        breakdowns: [{ id: "b", every: "300 s", repair: "100 s" }],
      },
      out,
    ],
    chain("in", "s", "out"),
    [
      ["s", "breaks down"],
      ["s", "is repaired"],
    ],
  );
  expect(told).toEqual([
    ["s breaks down", 300, 0],
    ["s is repaired", 400, 0],
    ["s breaks down", 700, 0],
    ["s is repaired", 800, 0],
  ]);
});

test("every kind that entities come to or go on from tells of both", () => {
  for (const kind of allKinds) {
    expect("comes in" in eventsOf(kind)).toBe(kind.hasWayIn);
    expect("goes on" in eventsOf(kind)).toBe(kind.hasWayOut);
  }
  // Through every kind that has both.
  const middle = [
    { id: "q", kind: "queue" },
    { id: "g", kind: "gate", condition: "q.length >= 0" },
    { id: "d", kind: "dwell", time: "5 s" },
    { id: "j", kind: "junction" },
    { id: "x", kind: "split", does: "undo" },
    { id: "b", kind: "join", count: "1" },
    { id: "s", kind: "station", time: "1 s" },
  ];
  const told = heard(
    [arrive, ...middle, out],
    chain("in", ...middle.map(({ id }) => id), "out"),
    middle.flatMap(({ id }) => [
      [id, "comes in"],
      [id, "goes on"],
    ]) as [string, string][],
  );
  for (const { id } of middle) {
    expect(told.filter(([event]) => event === `${id} comes in`).map(([, , serial]) => serial)).toEqual([1, 2, 3]);
    expect(told.filter(([event]) => event === `${id} goes on`).map(([, , serial]) => serial)).toEqual([1, 2, 3]);
  }
});
