import { chain, expectInterval, replicate, study } from "./build.ts";
import reference from "./reference/queueing.json";

/** Exact values by name; times in the reference are minutes (or as its text says). */
const exact = (name: string) =>
  reference.find((row) => row.name === name)!.exact as unknown as Readonly<Record<string, number>>;

jest.setTimeout(240_000);

const REPLICATIONS = 10;
const MIN = 60;
const NARROW = 0.03;

type Loose = Record<string, unknown>;

/** Entities come to `in` and are carried to `out`, so many metres on, where the vehicles are at home. */
const carried = (vehicles: Loose, between: string, metres = 0, more: { types?: Loose[]; elements?: Loose[] } = {}) =>
  study({
    ...(more.types ? { types: more.types } : {}),
    elements: [
      { id: "in", kind: "arrivals", between, at: [0, 0], entityType: "t1" },
      ...(more.elements ?? []),
      { id: "out", kind: "departures", at: [metres, 0] },
      { id: "v", kind: "vehicle", at: [metres, 0], ...vehicles },
    ],
    links: ["in", ...(more.elements ?? []).map(({ id }) => String(id))].map((from) => ({
      id: `of-${from}`,
      from,
      to: "out",
      kind: "carried",
      by: "v",
    })),
    run: { length: "150 d", warmUp: "2 d" },
  });

const shareAtWork = (idle: readonly number[]) => idle.map((share) => 1 - share);

/** What is known of servers is known of vehicles: to fetch, to load, to bring and to unload is the service. */
describe("fleets against known answers of queueing theory, in 99.9 % intervals under 3 % wide", () => {
  test("three that load for an exponential time and have nowhere to go are M/M/3", async () => {
    const known = exact("M/M/3");
    const { values } = await replicate(
      carried({ count: "3", load: "exponential(1 min)" }, "exponential(1 min / 2.4)"),
      REPLICATIONS,
      2207,
    );
    expectInterval(shareAtWork(values("v/doing.idle")), known.utilization, NARROW);
    expectInterval(values("v/wait.mean"), known.Wq * MIN, NARROW);
    expectInterval(values("v/waiting.mean"), known.Lq, NARROW);
    expectInterval(values("t1/timeInSystem.mean"), known.W * MIN, NARROW);
  });

  test("one that drives half a minute there and back is M/D/1, and its way is no wait for want of one", async () => {
    const known = exact("M/D/1");
    const { values } = await replicate(
      carried({ speed: "1 m/s", speedLoaded: "1 m/s" }, "exponential(1 min / 0.7)", 30),
      REPLICATIONS,
      2207,
    );
    expectInterval(shareAtWork(values("v/doing.idle")), known.utilization, NARROW);
    expectInterval(values("v/noneFree.mean"), known.Wq * MIN, NARROW);
    for (const way of values("v/onTheWay.mean")) expect(way).toBeCloseTo(30, 6);
    expectInterval(values("t1/timeInSystem.mean"), known.W * MIN, NARROW);
  });

  test("one that serves a class before the other, not breaking off, keeps each waiting as long as known", async () => {
    const known = exact("non-preemptive priority");
    const { values } = await replicate(
      carried(
        { load: "exponential(1 min)", order: "smallest first", rank: "entity.class" },
        "exponential(1 min / 0.3)",
        0,
        {
          types: ["1", "2"].map((value) => ({
            id: `t${value}`,
            name: `Class ${value}`,
            attributes: [{ name: "class", value }],
          })),
          elements: [
            { id: "in2", kind: "arrivals", between: "exponential(1 min / 0.4)", at: [0, 0], entityType: "t2" },
          ],
        },
      ),
      REPLICATIONS,
      2207,
    );
    expectInterval(values("t1/waitingForVehicle.mean"), known.Wq_A * MIN, NARROW);
    expectInterval(values("t2/waitingForVehicle.mean"), known.Wq_B * MIN, NARROW);
  });

  test("two that see to six machines without a walk are the machine repair model", async () => {
    const known = exact("machine repair");
    const days = 4000;
    const { values } = await replicate(
      study({
        elements: [
          { id: "in", kind: "arrivals", between: "1 s", first: "0 s", limit: "6" },
          { id: "up", kind: "station", capacity: "6", time: "exponential(20 h)" },
          { id: "j", kind: "junction" },
          { id: "v", kind: "vehicle", count: "2", load: "exponential(4 h)" },
        ].map((element) => ({ ...element, at: [0, 0] })),
        links: [
          ...chain("in", "up"),
          { id: "down", from: "up", to: "j", kind: "carried", by: "v" },
          ...chain("j", "up"),
        ],
        run: { length: `${days} d`, warmUp: "100 d" },
      }),
      REPLICATIONS,
      2207,
    );
    const seenTo = values("v/doing.loading").map((share) => 2 * share);
    expectInterval(
      values("v/waiting.mean").map((waiting, i) => waiting + seenTo[i]),
      known.L_down,
      NARROW,
    );
    expectInterval(
      seenTo.map((two) => two / 2),
      known.utilization,
      NARROW,
    );
    expectInterval(
      values("v/trips").map((trips) => trips / (24 * (days - 100))),
      known.throughput,
      NARROW,
    );
  });
});
