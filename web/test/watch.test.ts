import { readFileSync } from "node:fs";
import { join } from "node:path";
import { compile, definitionOf, type Frame, open, PHASE, UNIT, readStudyText, measuresOf } from "@busy-harbor/core";
import { placeCarriers } from "../src/watch/placeCarriers.ts";
import { linesOnScreen, placeEntities, type SlotMemory } from "../src/watch/placeEntities.ts";
import { meanText, readingsOf } from "../src/measure/readings.ts";

const read = readStudyText(readFileSync(join(__dirname, "../../demo/foot-passengers.json"), "utf8"));
if (!read.ok) throw new Error("The demo cannot be read");
const { study } = read;
const [design] = study.designs;
const { program } = compile(study, design.id);
const size = { width: 1280, height: 754 };
const view = { x: 22, y: 14, scale: 20 };

const frameAt = (time: number): Frame => {
  const session = open(program!, { seed: study.run.seed, replication: 1 });
  session.advanceTo(time);
  return session.frame();
};
const place = (frame: Frame, memory: SlotMemory = new Map()) =>
  placeEntities(frame, design, linesOnScreen(design, { ways: [] }, view, size), view, size, memory);

test("every entity of a frame is placed once", () => {
  for (const time of [100, 1000, 2500, 4100]) {
    const frame = frameAt(time);
    const { placed } = place(frame);
    expect(placed.map((p) => p.serial).sort((a, b) => a - b)).toEqual([...frame.serial].sort((a, b) => a - b));
  }
});

test("those in line stand apart, in order of joining, from the head backwards", () => {
  const frame = frameAt(3000);
  const queue = design.elements.findIndex((e) => e.kind === "queue");
  const waiting = [...frame.serial.keys()]
    .filter((i) => frame.place[i] === queue && frame.phase[i] === PHASE.waiting)
    .sort((a, b) => frame.since[a] - frame.since[b] || frame.serial[a] - frame.serial[b]);
  expect(waiting.length).toBeGreaterThan(5);
  const { placed } = place(frame);
  const where = waiting.map((i) => placed.find((p) => p.serial === frame.serial[i])!);
  const [headX] = [(design.elements[queue].at[0] - view.x) * view.scale + size.width / 2];
  expect(where[0].x).toBeLessThan(headX);
  for (let n = 1; n < where.length; n++)
    expect(Math.hypot(where[n].x - where[n - 1].x, where[n].y - where[n - 1].y)).toBeGreaterThan(8);
});

test("an entity keeps its slot while others come and go, and slots tell how many are busy", () => {
  const session = open(program!, { seed: study.run.seed, replication: 1 });
  const memory: SlotMemory = new Map();
  const seen = new Map<number, number>();
  for (let time = 900; time < 1800; time += 5) {
    session.advanceTo(time);
    const frame = session.frame();
    const { live } = place(frame, memory);
    const desks = design.elements.findIndex((e) => e.id === "desks");
    const working = [...frame.serial.keys()].filter(
      (i) => frame.place[i] === desks && frame.phase[i] === PHASE.working,
    );
    expect(live.get("desks")!.slots!.filter((s) => s === UNIT.busy)).toHaveLength(working.length);
    const slots = memory.get("desks")!;
    for (const i of working) {
      const slot = slots.indexOf(frame.serial[i]);
      expect(slot).toBeGreaterThanOrEqual(0);
      if (seen.has(frame.serial[i])) expect(slot).toBe(seen.get(frame.serial[i]));
      seen.set(frame.serial[i], slot);
    }
  }
  expect(seen.size).toBeGreaterThan(15);
});

test("readings turn values into display units, and undefined ones into gaps", () => {
  const [measure] = measuresOf(program!).filter((m) => m.id === "timeInSystem.mean");
  // Count, mean, squared deviations, least, most, errors, squared differences of neighbours, last: of 60 s, nothing,
  // 180 s.
  const statistics = new Float64Array([2, 120, 7200, 60, 180, 6, 14_400, 180]);
  const [reading] = readingsOf(
    { measures: [{ ...measure, dimension: [1, 0, 0, 0] }], statistics, columns: new Map() },
    { time: "min", length: "m" },
    0.95,
  );
  expect(reading.unit).toBe("min");
  expect(reading.interval).toMatchObject({ n: 2, mean: 2, min: 1, max: 3, sd: Math.SQRT2, error: 0.05 });
  expect(meanText(reading.interval).mean).toBe("2");
  expect(meanText({ ...reading.interval, halfWidth: NaN }).halfWidth).toBe("");
});

test("a line that is not in the order of coming stands in the order in which it is served", () => {
  const read = readStudyText(
    JSON.stringify({
      format: "busy-harbor-study",
      version: 1,
      name: "Last first",
      run: { length: "1 h" },
      designs: [
        {
          id: "d",
          name: "D",
          entityTypes: [{ id: "t", name: "Crate" }],
          elements: [
            {
              kind: "arrivals",
              id: "in",
              name: "In",
              at: [0, 0],
              entityType: "t",
              by: "list",
              listed: "0 s, 1 s, 2 s, 3 s",
            },
            { kind: "queue", id: "q", name: "Q", at: [10, 0], order: "last come" },
            { kind: "station", id: "s", name: "S", at: [20, 0], time: "100 s" },
            { kind: "departures", id: "out", name: "Out", at: [30, 0] },
          ],
          links: [
            ["in", "q"],
            ["q", "s"],
            ["s", "out"],
          ].map(([from, to], i) => ({ id: `l${i}`, from, to })),
        },
      ],
    }),
  );
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const session = open(compile(read.study).program!, { seed: 1, replication: 1 });
  session.advanceTo(10);
  const frame = session.frame();
  const [lastFirst] = read.study.designs;
  const { placed: shown } = placeEntities(
    frame,
    lastFirst,
    linesOnScreen(lastFirst, { ways: [] }, view, size),
    view,
    size,
    new Map(),
  );
  const x = (serial: number) => shown.find((p) => p.serial === serial)!.x;
  // The fourth came last and is at the head, on the right; then the third, then the second.
  expect(x(4)).toBeGreaterThan(x(3));
  expect(x(3)).toBeGreaterThan(x(2));
});

test.each(["foot-passengers", "container-workshop"])("every measure of %s has a definition for its tooltip", (name) => {
  const read = readStudyText(readFileSync(join(__dirname, `../../demo/${name}.json`), "utf8"));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const measures = measuresOf(compile(read.study).program!);
  expect(measures.filter((m) => definitionOf(m) === "").map((m) => m.key)).toEqual([]);
});

/** Guests sit for a while at seats; where they leave, 40 m on, they do a step first. */
function hallWith(step: object) {
  const result = readStudyText(
    JSON.stringify({
      format: "busy-harbor-study",
      version: 1,
      name: "Hall",
      run: { length: "1000 s" },
      designs: [
        {
          id: "d",
          name: "Base",
          entityTypes: [{ id: "t", name: "Visitor", look: "person", speed: "1 m/s" }],
          elements: [
            {
              id: "a",
              kind: "arrivals",
              name: "In",
              at: [0, 0],
              entityType: "t",
              between: "10 s",
              first: "0 s",
              limit: "3",
            },
            { id: "p", kind: "place", name: "Seats", at: [0, 0], count: "12", time: "500 s" },
            { id: "o", kind: "departures", name: "Out", at: [40, 0] },
            { id: "c", kind: "crew", name: "Porters", at: [40, 0], count: "2", walks: "straight", speed: "1 m/s" },
          ],
          links: [
            { id: "l1", from: "a", to: "p" },
            { id: "l2", from: "p", to: "o" },
          ],
          rules: [
            {
              id: "r",
              of: "element",
              at: "o",
              event: "comes in",
              steps: [{ id: "s", ...step }],
            },
          ],
        },
      ],
    }),
  );
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  const [hall] = result.study.designs;
  const { program: running } = compile(result.study, hall.id);
  return { hall, running: running! };
}

test("who sits in a place is at its spot, and who walks by steps is on the way between two elements", () => {
  const { hall, running } = hallWith({ do: "walk to", to: "Seats" });
  const around = { x: 20, y: 0, scale: 10 };
  const at = (time: number) => {
    const session = open(running, { seed: 1, replication: 1 });
    session.advanceTo(time);
    const frame = session.frame();
    return placeEntities(frame, hall, linesOnScreen(hall, { ways: [] }, around, size), around, size, new Map()).placed;
  };
  // Three of twelve spots in two rows, none over another, within the symbol.
  const sitting = at(100);
  expect(sitting).toHaveLength(3);
  expect(new Set(sitting.map(({ x, y }) => `${x} ${y}`)).size).toBe(3);
  for (const { x, y } of sitting) expect(Math.hypot(x - (640 - 200), y - 377)).toBeLessThan(60);
  expect(sitting.map(({ pose }) => pose)).toEqual(["sitting", "sitting", "sitting"]);
  // The first has left at 500, and has walked a quarter of the 40 m back by 510.
  const walker = at(510).find(({ serial }) => serial === 1)!;
  expect(walker.x).toBeCloseTo(640 + 20 * 10 - 10 * 10, 6);
  expect(Math.abs(walker.angle)).toBeCloseTo(Math.PI, 6);
  // A step is 0.75 m: at 10 m the fourteenth has begun, at 10.75 the next.
  expect(walker.pose).toBe("right ahead");
  expect(at(510.75).find(({ serial }) => serial === 1)!.pose).toBe("left ahead");
});

test("who is pushed sits, and who is carried lies, between those who take them", () => {
  const taken = (how: string) => {
    const { hall, running } = hallWith({ do: "be escorted", crew: ["c"], to: "Seats", how });
    const session = open(running, { seed: 1, replication: 1 });
    session.advanceTo(520);
    const frame = session.frame();
    const view = { x: 20, y: 0, scale: 10 };
    const lines = linesOnScreen(hall, { ways: [] }, view, size);
    const one = placeEntities(frame, hall, lines, view, size, new Map()).placed.find(({ serial }) => serial === 1)!;
    const by = placeCarriers(frame, running.model, view, size).members.filter(
      (m) => m.pose === "reaching" && Math.abs(m.x - one.x) < 50,
    );
    return { pose: one.pose, aside: by.map(({ x }) => Math.round(x - one.x)).sort((a, b) => a - b) };
  };
  // They go to the left: who pushes is behind, to the right.
  const { pose, aside } = taken("pushes");
  expect(pose).toBe("sitting");
  expect(aside).toHaveLength(1);
  expect(aside[0]).toBeGreaterThan(0);
  const carried = taken("carries");
  expect(carried.pose).toBe("lying");
  expect(carried.aside).toHaveLength(2);
  expect(carried.aside[0]).toBe(-carried.aside[1]);
  expect(taken("beside")).toMatchObject({ pose: expect.stringMatching(/ahead$/), aside: [] });
});

test("who goes round is seen there, where ways count otherwise now and then", () => {
  const points = [
    [0, 0],
    [0, 50],
    [100, 50],
    [100, 0],
  ];
  const result = readStudyText(
    JSON.stringify({
      format: "busy-harbor-study",
      version: 1,
      name: "Fork",
      run: { length: "1 h" },
      designs: [
        {
          id: "d",
          name: "Base",
          entityTypes: [{ id: "t", name: "Guest", speed: "1 m/s" }],
          elements: [
            { id: "a", kind: "arrivals", name: "In", at: [0, 0], entityType: "t", by: "list", listed: "0 s, 1 s" },
            { id: "o", kind: "departures", name: "Out", at: [100, 0] },
          ],
          links: [{ id: "l", from: "a", to: "o", kind: "ways" }],
          roads: [
            { id: "s", points: [points[0], points[3]], from: "a", to: "o", factor: "1 + 2 * way.on" },
            { id: "b", points, from: "a", to: "o" },
          ],
        },
      ],
    }),
  );
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  const { program, problems } = compile(result.study, "d");
  if (!program) throw new Error(JSON.stringify(problems));
  const session = open(program, { seed: 1, replication: 1 });
  session.advanceTo(81);
  const view = { x: 50, y: 25, scale: 5 };
  const [fork] = result.study.designs;
  const at = placeEntities(
    session.frame(),
    fork,
    linesOnScreen(fork, program.model, view, size),
    view,
    size,
    new Map(),
  ).placed.map(({ serial, x, y }) => [
    serial,
    Math.round((x - size.width / 2) / view.scale + view.x),
    Math.round((y - size.height / 2) / view.scale + view.y),
  ]);
  // The first straight on, the second after 80 m of the bypass.
  expect(at).toEqual([
    [1, 81, 0],
    [2, 30, 50],
  ]);
});
