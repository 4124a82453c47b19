import fc from "fast-check";
import { compile, type Frame, measuresOf, metresAlong, open, PHASE, run, type Study } from "../src/index.ts";
import { phraseText, readBack } from "../src/elements/index.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

/** Boxes come at a hatch, and go over a belt of 10 m to a bench that has no room for a line. */
const belt = (
  link: Loose,
  more: {
    arrivals?: Loose;
    bench?: Loose;
    types?: Loose[];
    elements?: Loose[];
    links?: Loose[];
    run?: Loose;
    more?: Loose;
  } = {},
): Study =>
  study({
    types: more.types ?? [{ id: "t1", name: "Box" }],
    elements: [
      { id: "a", kind: "arrivals", name: "Hatch", by: "list", listed: "0 s, 1 s, 2 s", at: [0, 0], ...more.arrivals },
      { id: "s", kind: "station", name: "Bench", time: "20 s", at: [10, 0], ...more.bench },
      { id: "d", kind: "departures", name: "Shed", at: [20, 0] },
      ...(more.elements ?? []),
    ],
    links: more.links ?? [
      { id: "b", from: "a", to: "s", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m", ...link },
      { id: "o", from: "s", to: "d" },
    ],
    run: { length: "200 s", ...more.run },
    more: more.more,
  });

/** The fronts on the belt at an instant, first in first, in metres from its start. */
const frontsAt = (of: Study, time: number): number[] => {
  const session = open(compiled(of), { seed: 3, replication: 1 });
  session.advanceTo(time);
  return frontsOf(session.frame());
};

const frontsOf = (frame: Frame): number[] =>
  [...frame.place]
    .map((_, i) => i)
    .filter((i) => frame.phase[i] === PHASE.moving)
    .sort((a, b) => frame.serial[a] - frame.serial[b])
    .map((i) => metresAlong(frame, i, frame.time));

describe("a conveyor, by hand", () => {
  test("entities enter one behind the other, and each is at its place at any instant", () => {
    // The second may enter when the first has moved on its 2 m; the third when the second has.
    expect(frontsAt(belt({}), 5)).toEqual([5, 3, 1]);
    expect(frontsAt(belt({}), 9.25)).toEqual([9.25, 7.25, 5.25]);
  });

  test("a belt with curves is as long as its arcs", () => {
    const bent = (more: Loose) =>
      departuresOf(
        belt({ bends: [[10, 30]], ...more }, { arrivals: { at: [0, 30], listed: "0 s" }, bench: { time: "0 s" } }),
      );
    // 10 m and 30 m, and with a curve of 5 m at their corner, half of the shorter.
    expect(bent({})).toEqual([40]);
    expect(bent({ radius: "8 m" })[0]).toBeCloseTo(40 - 10 + (Math.PI * 5) / 2, 1);
    // On a link that is none it says nothing.
    const walk = { kind: "timed", time: "7 s", radius: "8 m" };
    expect(bent(walk)).toEqual([7]);
  });

  test("those behind one that waits at the end close up, and go on together when it is let off", () => {
    // The first is at the bench from 10 to 30. The second comes to the end at 12; the third stands at 8 m.
    const of = belt({});
    expect(frontsAt(of, 11)).toEqual([9, 7]);
    expect(frontsAt(of, 25)).toEqual([10, 8]);
    expect(frontsAt(of, 31)).toEqual([9]);
    expect(departuresOf(of)).toEqual([30, 50, 70]);
    const values = valuesOf(of);
    // The third comes to the end at 32 in place of 14, which is 18 s late; both wait 18 s there.
    expect(values.get("b/delay.max")).toBe(18);
    expect(values.get("b/delay.mean")).toBe((0 + 0 + 18) / 3);
    expect(values.get("t1/moving.mean")).toBe(10);
    expect(values.get("t1/blocked.mean")).toBe((0 + 18 + 18 + 18) / 3);
    expect(values.get("t1/waiting.mean")).toBe((0 + 1 + 2) / 3);
    expect(values.get("b/doing.running")).toBe(1);
  });

  test("one that does not accumulate stops with all it carries while one waits at its end", () => {
    const of = belt({ accumulates: false });
    // It stops at 12, when the second comes to the end, until 30; then the third comes to the end at 32, until 50.
    expect(frontsAt(of, 25)).toEqual([10, 8]);
    expect(frontsAt(of, 31)).toEqual([9]);
    expect(valuesOf(of).get("b/doing.stopped")).toBeCloseTo((18 + 18) / 200, 12);
    // Spaced by 5 m, they do not close up.
    const spaced = belt({ accumulates: false }, { arrivals: { listed: "0 s, 5 s, 10 s" } });
    expect(frontsAt(spaced, 25)).toEqual([10, 5]);
    expect(frontsAt(belt({}, { arrivals: { listed: "0 s, 5 s, 10 s" } }), 25)).toEqual([10, 8]);
  });

  test("as many are on it as fit; the next enters when one has left and the last has moved on", () => {
    // 10 m hold five of 2 m. The first is at the bench from 10, five wait behind it, the seventh is kept at the hatch.
    const of = belt({}, { arrivals: { listed: "0 s, 0 s, 0 s, 0 s, 0 s, 0 s, 0 s, 0 s" } });
    expect(frontsAt(of, 29)).toEqual([10, 8, 6, 4, 2]);
    // At 30 one is let off: all move, and the seventh enters at once, as the start is clear.
    expect(frontsAt(of, 31)).toEqual([9, 7, 5, 3, 1]);
    expect(frontsAt(of, 40)).toEqual([10, 8, 6, 4, 2]);
    expect(valuesOf(of).get("b/taken.max")).toBe(10);
    expect(valuesOf(of).get("b/underWay.max")).toBe(5);
  });

  test("each takes the room that it has", () => {
    const types = [{ id: "t1", name: "Box", attributes: [{ name: "long", value: "if(clock < 1 s, 4 m, 1 m)" }] }];
    const of = belt({ beltRoom: "entity.long" }, { types, arrivals: { listed: "0 s, 1 s, 2 s" } });
    // The second enters behind 4 m, at 4 s; the third 1 m behind it.
    expect(frontsAt(of, 6)).toEqual([6, 2, 1]);
  });

  test("one longer than the belt lies on it alone", () => {
    const of = belt({ beltRoom: "12 m" }, { bench: { time: "0 s" }, arrivals: { listed: "0 s, 1 s" } });
    // At its end at 10, off it with its rear at 12: the second enters then.
    expect(departuresOf(of)).toEqual([10, 22]);
  });

  test("it stands while its condition holds, by its calendar, and when it is down", () => {
    const pattern = [
      { duration: "5 s", value: "1" },
      { duration: "20 s", value: "0" },
      { duration: "1 h", value: "1" },
    ];
    const shift = { id: "c", name: "Shift", repeats: "pattern", pattern };
    const off = belt({ calendar: "c" }, { more: { calendars: [shift] }, arrivals: { listed: "0 s" } });
    expect(frontsAt(off, 15)).toEqual([5]);
    expect(departuresOf(off)).toEqual([50]);
    const down = belt({ beltEvery: "4 s", beltRepair: "30 s" }, { arrivals: { listed: "0 s" } });
    // It runs from 0 to 4, from 34 to 38 and from 68 on: at the end at 70.
    expect(departuresOf(down)).toEqual([90]);
    expect(valuesOf(down).get("b/doing.down")).toBeCloseTo((200 - 6 * 4) / 200, 1);
    const stands = belt({ beltStands: "Hatch.created >= 2" }, { arrivals: { listed: "0 s, 3 s" } });
    // It stands for ever from 3 s on.
    expect(frontsAt(stands, 100)).toEqual([3, 0]);
  });
});

describe("belts that run into one another", () => {
  /** Two belts of 10 m end at a junction, from which one of 10 m goes on. */
  const merge = (first: Loose, second: Loose, out: Loose = {}, listed = "0 s, 0 s, 0 s"): Study =>
    belt(
      {},
      {
        arrivals: { listed },
        bench: { time: "0 s", at: [20, 0] },
        types: [
          { id: "t1", name: "Box" },
          { id: "t2", name: "Crate" },
        ],
        elements: [
          { id: "a2", kind: "arrivals", name: "Gate", entityType: "t2", by: "list", listed, at: [0, 10] },
          { id: "j", kind: "junction", name: "Merge", at: [10, 0] },
        ],
        links: [
          { id: "b1", from: "a", to: "j", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m", ...first },
          {
            id: "b2",
            from: "a2",
            to: "j",
            kind: "conveyor",
            beltSpeed: "1 m/s",
            beltRoom: "2 m",
            length: "10 m",
            ...second,
          },
          { id: "b3", from: "j", to: "s", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m", ...out },
          { id: "o", from: "s", to: "d" },
        ],
      },
    );
  const typesOf = (of: Study): string[] => {
    const program = compiled(of);
    const types: string[] = [];
    run(program, { seed: 3, replication: 1, observe: ({ type, at }) => void types.push(`${type} ${at}`) });
    return types;
  };

  test("who came first to the end goes first, one every room over speed", () => {
    expect(typesOf(merge({}, {}))).toEqual(["0 20", "1 22", "0 24", "1 26", "0 28", "1 30"]);
  });

  test("of those that wait, that from the belt which goes before the others", () => {
    expect(typesOf(merge({ precedence: "1" }, {}))).toEqual(["0 20", "1 22", "1 24", "1 26", "0 28", "0 30"]);
  });

  test("one that waits for the belt beyond holds up the belt behind it", () => {
    // The bench takes 30 s: the belt beyond fills up with five, and those behind stand at the ends of the two.
    const of = merge({}, { accumulates: false });
    const slow = {
      ...of,
      designs: [
        { ...of.designs[0], elements: of.designs[0].elements.map((e) => (e.id === "s" ? { ...e, time: "1 h" } : e)) },
      ],
    } as Study;
    const session = open(compiled(slow), { seed: 1, replication: 1 });
    session.advanceTo(199);
    const { place, motion, serial } = session.frame();
    const onBelt = (way: number) =>
      [...serial.keys()]
        .filter((i) => place[i] === 5 + way)
        .map((i) => motion.from[i])
        .sort((a, b) => a - b);
    expect(onBelt(2)).toEqual([2, 4, 6, 8, 10]);
    expect([onBelt(0), onBelt(1)]).toEqual([[], []]);
    const longer = merge({}, { accumulates: false }, {}, "0 s, 0 s, 0 s, 0 s, 0 s");
    const full = {
      ...longer,
      designs: [
        {
          ...longer.designs[0],
          elements: slow.designs[0].elements.map((e) => ({
            ...longer.designs[0].elements.find(({ id }) => id === e.id)!,
            ...(e.id === "s" ? { time: "1 h" } : {}),
          })),
        },
      ],
    } as Study;
    const later = open(compiled(full), { seed: 1, replication: 1 });
    later.advanceTo(199);
    const frame = later.frame();
    const fronts = (way: number) =>
      [...frame.serial.keys()]
        .filter((i) => frame.place[i] === 5 + way)
        .map((i) => frame.motion.from[i])
        .sort((a, b) => a - b);
    expect(fronts(2)).toEqual([2, 4, 6, 8, 10]);
    // One is at the bench; two of each type are left, close up on the one, as far apart as they came on the other.
    expect([fronts(0), fronts(1)]).toEqual([
      [8, 10],
      [8, 10],
    ]);
  });

  test("a junction diverts them by condition, or to the first that has room", () => {
    const divert = (wayOut: string, link: Loose): Study =>
      belt(
        {},
        {
          arrivals: { listed: "0 s, 0 s, 0 s, 0 s" },
          bench: { time: "1 h", at: [20, 0] },
          types: [{ id: "t1", name: "Box", attributes: [{ name: "n", value: "Hatch.created" }] }],
          elements: [{ id: "j", kind: "junction", name: "Divert", at: [10, 0], wayOut }],
          links: [
            { id: "b1", from: "a", to: "j", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m" },
            { id: "b2", from: "j", to: "s", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m", ...link },
            { id: "b3", from: "j", to: "d", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m" },
            { id: "o", from: "s", to: "d" },
          ],
        },
      );
    expect(departuresOf(divert("condition", { condition: "entity.n >= 3" }))).toEqual([20, 22]);
    // The belt to the bench has room for one: the second, at 12, and the fourth, at 16, find it taken, and go past.
    expect(departuresOf(divert("first free", { length: "3 m" }))).toEqual([22, 26]);
  });
});

/**
 * Times at which those who want to enter a belt of `length` at the times `asked` leave it to a bench that works for
 * `work`, by recursion over entities alike: no more than get onto it, each a room behind the one before.
 */
function recursion(
  asked: readonly number[],
  work: readonly number[],
  length: number,
  speed: number,
  room: number,
): number[] {
  const fit = Math.ceil(length / room - 1e-9);
  const ahead = Math.floor(length / room + 1e-9);
  const entered: number[] = [];
  const left: number[] = [];
  let free = 0;
  asked.forEach((at, i) => {
    const before = i > 0 ? entered[i - 1] + room / speed : 0;
    const space = i >= fit ? left[i - fit] : 0;
    // The one before has its own room on the belt when the one that keeps it from that has moved on.
    const moved = i > ahead ? left[i - 1 - ahead] + ((ahead + 1) * room - length) / speed : 0;
    entered.push(Math.max(at, before, space, moved));
    const end = Math.max(entered[i] + length / speed, i > 0 ? left[i - 1] + room / speed : 0);
    left.push(Math.max(end, free));
    free = left[i] + work[i];
  });
  return left.map((at, i) => at + work[i]);
}

test("a belt that fills up lets each go on at the time that the recursion gives", () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 40 }),
      fc.integer({ min: 1, max: 12 }),
      fc.constantFrom(1, 1.5, 2, 3.25, 7),
      fc.constantFrom(5, 7, 10.5),
      fc.constantFrom(0.25, 1, 1.5),
      (gaps, work, room, length, speed) => {
        let clock = 0;
        const asked = gaps.map((gap) => (clock += gap / 4));
        const of = belt(
          { length: `${length} m`, beltSpeed: `${speed} m/s`, beltRoom: `${room} m` },
          {
            arrivals: { listed: asked.map((at) => `${at} s`).join(", ") },
            bench: { time: `${work} s` },
            run: { length: "10 h" },
          },
        );
        const expected = recursion(
          asked,
          asked.map(() => work),
          length,
          speed,
          room,
        );
        const left = departuresOf(of);
        expect(left).toHaveLength(asked.length);
        left.forEach((at, i) => expect(at).toBeCloseTo(expected[i], 6));
      },
    ),
    { numRuns: 60, seed: 16 },
  );
});

test("under load a belt brings as many as speed over room, and no more", () => {
  const of = belt(
    { beltSpeed: "0.5 m/s", beltRoom: "0.8 m" },
    {
      arrivals: { by: "time between", between: "0.5 s", first: "0 s", listed: "" },
      bench: { time: "0 s" },
      run: { length: "2 h" },
    },
  );
  expect(valuesOf(of).get("d/departed")! / (7200 * (0.5 / 0.8))).toBeCloseTo(1, 2);
});

test("whatever runs, nothing overlaps, passes another, or moves faster than its belt, and none is lost", () => {
  const seconds = fc.constantFrom("0 s", "2 s", "exponential(3 s)", "uniform(1 s, 9 s)");
  const link = fc.record({
    accumulates: fc.boolean(),
    beltRoom: fc.constantFrom("0.7 m", "2 m", "entity.long"),
    beltSpeed: fc.constantFrom("0.4 m/s", "1 m/s", "2.5 m/s"),
    length: fc.constantFrom("4 m", "9.5 m", "10 m"),
    beltEvery: fc.constantFrom("", "exponential(60 s)"),
  });
  fc.assert(
    fc.property(link, link, seconds, seconds, (first, second, between, work) => {
      const down = (of: Loose) => (of.beltEvery === "" ? of : { ...of, beltRepair: "exponential(20 s)" });
      const of = belt(
        {},
        {
          types: [
            { id: "t1", name: "Box", attributes: [{ name: "long", value: "(0.3 + Hatch.created mod 7 * 0.4) * 1 m" }] },
          ],
          arrivals: { by: "time between", between: between === "0 s" ? "1 s" : between, listed: "" },
          bench: { time: work, at: [20, 0] },
          elements: [{ id: "j", kind: "junction", name: "Turn", at: [10, 5] }],
          links: [
            { id: "b1", from: "a", to: "j", kind: "conveyor", ...down(first) },
            { id: "b2", from: "j", to: "s", kind: "conveyor", ...down(second) },
            { id: "o", from: "s", to: "d" },
          ],
          run: { length: "400 s" },
        },
      );
      const program = compiled(of);
      const session = open(program, { seed: 5, replication: 1 });
      const roomOf = ({ beltRoom }: { beltRoom: string }, number: number) =>
        beltRoom === "entity.long" ? 0.3 + (number % 7) * 0.4 : Number.parseFloat(beltRoom);
      const wrong: string[] = [];
      let seen = 0;
      let before = new Map<number, readonly [place: number, at: number]>();
      let last = 0;
      for (let time = 0; time <= 400; time += 1.37) {
        session.advanceTo(time);
        const frame = session.frame();
        const now = new Map<number, readonly [number, number]>();
        [first, second].forEach((settings, way) => {
          const on = [...frame.serial.keys()]
            .filter((i) => frame.place[i] === 4 + way && frame.phase[i] === PHASE.moving)
            .sort((a, b) => frame.serial[a] - frame.serial[b]);
          let front = Infinity;
          for (const i of on) {
            const at = metresAlong(frame, i, time);
            const was = before.get(frame.serial[i]);
            const moved = was?.[0] === way ? at - was[1] : 0;
            if (at < 0 || at > Number.parseFloat(settings.length) + 1e-9) wrong.push(`${time}: off the belt`);
            if (at > front + 1e-6) wrong.push(`${time}: over another`);
            if (moved < -1e-9 || moved > (time - last) * Number.parseFloat(settings.beltSpeed) + 1e-6)
              wrong.push(`${time}: moved ${moved}`);
            front = at - roomOf(settings, frame.serial[i]);
            now.set(frame.serial[i], [way, at]);
            seen += 1;
          }
        });
        before = now;
        last = time;
      }
      expect(wrong).toEqual([]);
      expect(seen).toBeGreaterThan(50);
      const values = session.values();
      const value = (key: string) => values[measuresOf(program).findIndex((m) => m.key === key)];
      expect(value("a/created")).toBe(value("d/departed") + value("t1/inSystem.end"));
      for (const way of ["b1", "b2"])
        expect(
          ["running", "stopped", "offShift", "down"].reduce((sum, part) => sum + value(`${way}/doing.${part}`), 0),
        ).toBeCloseTo(1, 9);
    }),
    { numRuns: 40, seed: 7 },
  );
});

test("a conveyor without length, without repair, or by a calendar that is not there is told", () => {
  const of = (link: Loose, at = [10, 0]) =>
    compile(belt(link, { bench: { at } }), "d1").problems.map(({ code, field }) => [code, field]);
  expect(of({}, [0, 0])).toEqual([["no-length", "length"]]);
  expect(of({ length: "5 m" }, [0, 0])).toEqual([]);
  expect(of({ beltEvery: "1 h" })).toEqual([["empty-setting", "beltRepair"]]);
  expect(of({ calendar: "none" })).toEqual([["missing-calendar", "calendar"]]);
  expect(of({ beltSpeed: "0 m/s" })).toEqual([["out-of-range", "beltSpeed"]]);
  const { failure } = run(compiled(belt({ beltRoom: "1 m - clock * 1 m/s" })), { seed: 1, replication: 1 })!;
  expect(failure).toMatchObject({ code: "bad-room", id: "b", field: "beltRoom" });
});

test("how entities go on is read back in a sentence", () => {
  const of = (link: Loose) => {
    const { model } = compile(belt(link), "d1");
    return phraseText(readBack(model.nodes[0], model));
  };
  expect(of({})).toContain(
    "Then on to Bench. They go over a conveyor at 1 m/s, each taking 2 m, and close up behind one that waits at its end.",
  );
  expect(of({ accumulates: false })).toContain("which stands while one at its end waits.");
});

describe("a ring of belts", () => {
  const ring = (limit: string): Study =>
    belt(
      {},
      {
        arrivals: { by: "time between", between: "3 s", first: "0 s", limit, listed: "" },
        bench: { at: [60, 0] },
        elements: [
          { id: "j", kind: "junction", name: "In", at: [10, 0] },
          { id: "k", kind: "junction", name: "Turn", at: [10, 6], wayOut: "condition" },
        ],
        links: [
          { id: "b1", from: "a", to: "j", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m" },
          { id: "b2", from: "j", to: "k", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m" },
          { id: "e", from: "k", to: "s", condition: "clock < 0 s" },
          { id: "b3", from: "k", to: "j", kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m" },
          { id: "o", from: "s", to: "d" },
        ],
        run: { length: "10 min" },
      },
    );

  test("that is full is a jam, and is named with those in it", () => {
    // Three fit on each of the two belts of the ring.
    const { failure } = run(compiled(ring("20")), { seed: 1, replication: 1 })!;
    expect(failure).toMatchObject({ code: "jam" });
    expect(failure!.message).toMatch(
      /^A ring of full conveyors, .*In to Turn.*: 6 entities on them can never move again\.$/,
    );
    expect(failure!.message).toContain("Turn to In");
    // With fewer it goes round for ever.
    expect(run(compiled(ring("5")), { seed: 1, replication: 1 })!.failure).toBeUndefined();
  });
});

test("those who are lost, give up, are scrapped or cut into pieces go over conveyors too, and none is lost on them", () => {
  const conveyor = { kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m", length: "6 m" };
  const breakdowns = [{ id: "b", every: "exponential(40 s)", repair: "5 s" }];
  const values = valuesOf(
    study({
      types: [
        { id: "t1", name: "Box" },
        { id: "t2", name: "Part" },
      ],
      elements: [
        { id: "a", kind: "arrivals", between: "exponential(10 s)" },
        { id: "q", kind: "queue", room: "2", whenFull: "lose", patience: "20 s" },
        { id: "s", kind: "station", time: "exponential(8 s)", breakdowns, onBreakdown: "scrap" },
        { id: "x", kind: "split", does: "cut", count: "3", makes: "t2" },
        { id: "d", kind: "departures" },
        { id: "w", kind: "departures" },
      ],
      links: [
        { id: "aq", from: "a", to: "q", ...conveyor },
        { id: "qs", from: "q", to: "s", ...conveyor },
        { id: "qw", from: "q", to: "w", takes: "turned away", ...conveyor },
        { id: "sx", from: "s", to: "x", ...conveyor },
        { id: "sw", from: "s", to: "w", takes: "scrapped", ...conveyor },
        { id: "xd", from: "x", to: "d", takes: "parts", ...conveyor },
        { id: "no", from: "x", to: "d" },
      ],
      run: { length: "2 h" },
    }),
  );
  const value = (key: string) => values.get(key)!;
  expect(value("a/created")).toBe(value("w/departed") + value("x/split") + value("t1/inSystem.end"));
  expect(value("d/departed") + value("t2/inSystem.end")).toBe(3 * value("x/split"));
  expect(value("sw/passed")).toBe(value("s/scrapped"));
  // Some were lost for want of room, others gave up.
  expect(value("qw/passed")).toBeGreaterThan(value("q/lost"));
  expect(value("q/lost")).toBeGreaterThan(10);
});

test("of the members of a family, each on a belt of its own, the first whose belt has room is gone to", () => {
  const conveyor = { kind: "conveyor", beltSpeed: "1 m/s", beltRoom: "2 m", length: "6 m" };
  const values = valuesOf(
    study({
      elements: [
        { id: "a", kind: "arrivals", between: "exponential(3 s)" },
        { id: "s", kind: "station", name: "Bay", time: "exponential(8 s)", family: { count: 3 } },
        { id: "d", kind: "departures" },
      ],
      links: [
        { id: "in", from: "a", to: "s", ...conveyor, among: "first free" },
        { id: "out", from: "s", to: "d", ...conveyor },
      ],
      run: { length: "4 h" },
    }),
  );
  expect(values.get("t1/created")).toBe(values.get("t1/departed")! + values.get("t1/inSystem.end")!);
  // Two of three are needed, and all three are used.
  expect(values.get("t1/inSystem.max")).toBeLessThan(60);
  expect(values.get("d/departed")).toBeGreaterThan(4500);
});
