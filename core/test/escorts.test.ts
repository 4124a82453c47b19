import { compile, metresAlong, open, PHASE, type Study, UNIT } from "../src/index.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

/** Visitors come to a door, and are brought to seats 60 m on by stewards who stand 20 m before the door. */
const hall = (
  crew: Loose,
  more: { listed?: string; link?: Loose; types?: Loose[]; roads?: Loose[]; links?: Loose[]; run?: Loose } = {},
): Study => {
  const of = study({
    types: more.types ?? [{ id: "t1", name: "Visitor", speed: "1 m/s" }],
    elements: [
      { id: "a", kind: "arrivals", name: "Door", by: "list", listed: more.listed ?? "0 s, 5 s", at: [0, 0] },
      { id: "s", kind: "station", name: "Seats", capacity: "20", time: "100 s", at: [60, 0] },
      { id: "d", kind: "departures", name: "Out", at: [60, 40] },
      { id: "c", kind: "crew", name: "Stewards", at: [-20, 0], walks: "straight", speed: "2 m/s", ...crew },
    ],
    links: more.links ?? [
      { id: "e", from: "a", to: "s", kind: "escorted", by: "c", ...more.link },
      { id: "o", from: "s", to: "d" },
    ],
    run: { length: "600 s", ...more.run },
  });
  const ROAD = { name: "", kind: "walkway", from: "", to: "", oneWay: false, limit: "", width: 2 };
  return more.roads
    ? { ...of, designs: [{ ...of.designs[0], roads: more.roads.map((road) => ({ ...ROAD, ...road })) as never }] }
    : of;
};

describe("visitors who are escorted, by hand", () => {
  test("wait for a steward who walks to them, and go with one at the pace of the slower", () => {
    // 10 s to the door, 60 s to the seats at 1 m/s, 100 s there. The steward is back at the door at 100.
    const of = hall({});
    expect(departuresOf(of)).toEqual([170, 260]);
    const values = valuesOf(of);
    expect(values.get("t1/waiting.mean")).toBe((10 + 95) / 2);
    expect(values.get("t1/moving.mean")).toBe(60);
    // Why they waited: none was free for 65 s, and one was on the way for 10 and 30 s.
    expect(values.get("c/wait.max")).toBe(65);
    expect(values.get("c/walk.mean")).toBe(20);
    expect(values.get("c/state.walking")).toBeCloseTo(40 / 600, 12);
    expect(values.get("c/state.busy")).toBeCloseTo(120 / 600, 12);
    expect(values.get("c/distance")).toBe(20 + 60 + 60 + 60);
    expect(values.get("e/underWay.max")).toBe(2);
    // With two nobody waits but for the way; a slow steward sets the pace.
    expect(departuresOf(hall({ count: "2" }))).toEqual([170, 175]);
    expect(departuresOf(hall({ count: "2", speed: "0.5 m/s" }))).toEqual([260, 265]);
  });

  test("are pushed by one, or carried by two, as fast as those go", () => {
    // 10 s to the door, 30 s to the seats at 2 m/s, 100 s there; back at the door at 70.
    expect(departuresOf(hall({}, { link: { how: "pushes" } }))).toEqual([140, 200]);
    // Two come, carry, and go back for the next.
    const carried = hall({ count: "2" }, { link: { how: "carries" } });
    expect(departuresOf(carried)).toEqual([140, 200]);
    expect(valuesOf(carried).get("c/distance")).toBe(2 * (20 + 60 + 60 + 60));
    expect(valuesOf(carried).get("c/state.busy")).toBeCloseTo((2 * 2 * 30) / 1200, 12);
    const [problem] = compile(hall({}, { link: { how: "carries" } }), "d1").problems;
    expect(problem.message).toBe("Two carry who goes along this link, and Stewards has one member.");
  });

  test("go with those who are there at once where the crew does not walk, as fast as they do themselves", () => {
    expect(departuresOf(hall({ walks: "no" }))).toEqual([160, 220]);
    expect(valuesOf(hall({ walks: "no" })).get("c/state.busy")).toBe(120 / 600);
  });

  test("the nearest goes, home when nobody waits, and work elsewhere is served in one line with them", () => {
    const home = hall({ idle: "home" }, { listed: "0 s, 200 s" });
    // 80 m home at 2 m/s, then again as the first.
    expect(departuresOf(home)).toEqual([170, 370]);
    expect(valuesOf(home).get("c/state.returning")).toBeCloseTo(80 / 600, 12);
    expect(departuresOf(hall({}, { listed: "0 s, 200 s" }))).toEqual([170, 200 + 30 + 60 + 100]);
  });

  test("over ways they go where the ways lead, no faster than these allow, seen side by side", () => {
    const roads = [
      {
        id: "r",
        points: [
          [-20, 0],
          [0, 0],
          [0, 30],
        ],
        from: "c",
      },
      {
        id: "q",
        points: [
          [0, 30],
          [60, 30],
          [60, 0],
        ],
        to: "s",
        limit: "0.5 m/s",
      },
    ];
    const of = hall({ walks: "over ways" }, { listed: "0 s", roads });
    expect(departuresOf(of)).toEqual([10 + 30 + 180 + 100]);
    const session = open(compiled(of), { seed: 1, replication: 1 });
    session.advanceTo(60);
    const frame = session.frame();
    // 20 s on the slow way: 10 m of it, for both.
    expect([frame.phase[0], metresAlong(frame, 0, 60)]).toEqual([PHASE.moving, 40]);
    expect(frame.members.doing[0]).toBe(UNIT.busy);
    expect(metresAlong(frame.members, 0, 60)).toBe(40);
    // Up to an instant before which nothing happens.
    expect(metresAlong(frame.members, 0, 61)).toBe(40.5);
  });

  test("that it is not said by whom, or that no way leads there, is told", () => {
    const problems = (of: Study) => compile(of, "d1").problems.map(({ code, field }) => [code, field]);
    expect(problems(hall({}, { link: { by: "s" } }))).toEqual([["no-escort", "by"]]);
    expect(problems(hall({ walks: "over ways" }))).toEqual([["no-route", "kind"]]);
  });
});

test("whoever escorts, the parts make up all of the time of visitors, and the states all of that of stewards", () => {
  const of = hall(
    { count: "3", speed: "uniform(1 m/s, 2 m/s)", idle: "home", chosen: "nearest" },
    {
      run: { length: "5 h", warmUp: "30 min" },
      listed: Array.from({ length: 300 }, (_, i) => `${i * 50} s`).join(", "),
    },
  );
  const values = valuesOf(of);
  const parts = ["waiting", "worked", "moving", "dwelling", "blocked"];
  expect(parts.reduce((sum, part) => sum + values.get(`t1/${part}.mean`)!, 0)).toBeCloseTo(
    values.get("t1/timeInSystem.mean")!,
    6,
  );
  const states = ["busy", "walking", "returning", "idle"];
  expect(states.reduce((sum, part) => sum + values.get(`c/state.${part}`)!, 0)).toBeCloseTo(1, 9);
});
