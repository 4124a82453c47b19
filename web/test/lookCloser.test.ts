import { compile, type Frame, open, readStudy } from "@busy-harbor/core";
import { carrierOf, doingOf, isSame, Trail, youngest } from "../src/watch/following.ts";
import { cellFor, Heat } from "../src/watch/heat.ts";

/** Crates come to a hatch; a van carries them to a shed, where a clerk walks to each. */
const read = readStudy({
  format: "busy-harbor-study",
  version: 1,
  name: "Shed",
  designs: [
    {
      id: "d",
      name: "Base",
      entityTypes: [{ id: "t", name: "Crate" }],
      elements: [
        { kind: "arrivals", id: "a", name: "Hatch", at: [0, 0], entityType: "t", between: "100 s", first: "0 s" },
        { kind: "station", id: "s", name: "Shed", at: [100, 0], time: "50 s", needs: [{ id: "n", anyOf: ["c"] }] },
        { kind: "departures", id: "o", name: "Gate", at: [100, 40] },
        { kind: "vehicle", id: "v", name: "Van", at: [0, 0], speedLoaded: "10 m/s", speed: "10 m/s" },
        { kind: "crew", id: "c", name: "Clerk", at: [100, 20], walks: "straight", speed: "1 m/s", idle: "home" },
      ],
      links: [
        { id: "l", from: "a", to: "s", kind: "carried", by: "v" },
        { id: "m", from: "s", to: "o" },
      ],
    },
  ],
});
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const { program } = compile(read.study, "d");

const at = (time: number): Frame => {
  const session = open(program!, { seed: 1, replication: 1 });
  session.advanceTo(time);
  return session.frame();
};
const design = program!.model.design;
const crate = (serial: number) => ({ kind: "entity", serial }) as const;
const van = { kind: "vehicle", element: 3, number: 0 } as const;
const clerk = { kind: "member", element: 4, number: 0 } as const;

describe("who is followed", () => {
  test("is told in words: on a vehicle, waiting for somebody, worked on, and gone", () => {
    expect(doingOf(crate(1), at(5), design)).toEqual({ name: "Crate 1", does: "on Van 1", since: undefined });
    expect(carrierOf(at(5), 1)).toBe(0);
    expect(doingOf(crate(1), at(15), design)).toMatchObject({ does: "waiting for somebody or something at Shed" });
    expect(doingOf(crate(1), at(40), design)).toMatchObject({ does: "worked on at Shed", since: 30 });
    expect(doingOf(crate(1), at(90), design)).toBeUndefined();
    expect(doingOf(van, at(5), design)).toMatchObject({ name: "Van 1", does: "driving loaded from Hatch to Shed" });
    expect(doingOf(clerk, at(20), design)).toMatchObject({
      name: "Clerk 1",
      does: "walking to work from Clerk to Shed",
    });
    expect(doingOf(clerk, at(60), design)).toMatchObject({ does: "busy at Shed" });
    expect(doingOf({ ...clerk, number: 1 }, at(60), design)).toBeUndefined();
  });

  test("is the youngest that is there, of a type or of all", () => {
    expect(youngest(at(105))).toEqual(crate(2));
    expect(youngest(at(105), 0)).toEqual(crate(2));
    expect(youngest(at(105), 1)).toBeUndefined();
    expect(isSame(van, { ...van })).toBe(true);
    expect(isSame(van, { ...van, number: 1 })).toBe(false);
    expect(isSame(crate(1), crate(2))).toBe(false);
  });

  test("leaves a trail, which begins anew when time does", () => {
    const trail = new Trail();
    trail.add([0, 0], 0);
    trail.add([0, 0.1], 1);
    trail.add([0, 3], 2);
    expect(trail.points).toEqual([
      [0, 0],
      [0, 3],
    ]);
    for (let i = 0; i < 2000; i++) trail.add([i, 3], 3 + i);
    expect(trail.points.length).toBe(600);
    expect(trail.points.at(-1)).toEqual([1999, 3]);
    trail.add([7, 7], 0);
    expect(trail.points).toEqual([[7, 7]]);
  });
});

describe("heat", () => {
  test("is what moves in each square on average over the time that was watched", () => {
    const heat = new Heat(10);
    heat.add(at(0), [[5, 5]]);
    // The first picture tells of no time.
    expect(heat.seconds).toBe(0);
    heat.add(at(10), [
      [5, 5],
      [6, 6],
    ]);
    heat.add(at(40), [[-5, 5]]);
    expect(heat.seconds).toBe(40);
    expect([...heat.traffic()]).toEqual([
      { at: [0, 0], average: (2 * 10) / 40 },
      { at: [-10, 0], average: 30 / 40 },
    ]);
    expect(heat.most).toBe(30 / 40);
    // Of the clerk's time it is in use at 40 alone, of the pictures at 10 and 40: walking is none.
    expect(heat.shareAt(1)).toBe(30 / 40);
    expect(heat.shareAt(0)).toBeUndefined();
    // Time that begins anew.
    heat.add(at(5), []);
    expect([heat.seconds, [...heat.traffic()].length]).toEqual([0, 0]);
  });

  test("slots of a station that are not told one by one count by those who are worked on there", () => {
    const heat = new Heat(
      10,
      new Map([
        [1, 2],
        [2, 4],
      ]),
    );
    const frame = { ...at(0), units: {} };
    heat.add({ ...frame, time: 0 }, []);
    heat.add({ ...at(40), units: {}, time: 40 }, []);
    heat.add({ ...frame, time: 50 }, []);
    expect([heat.shareAt(1), heat.shareAt(2)]).toEqual([40 / (2 * 50), 0]);
  });

  test("a square is a round number of metres, by the size of the floor", () => {
    expect([10, 80, 200, 1000, 45_000].map(cellFor)).toEqual([0.5, 0.5, 2, 10, 500]);
  });
});
