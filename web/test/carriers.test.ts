import { compile, open, readStudy, UNIT_WORDS } from "@busy-harbor/core";
import { placeCarriers } from "../src/watch/placeCarriers.ts";

const VIEW = { x: 0, y: 0, scale: 2 };
const SIZE = { width: 800, height: 600 };

function yard(vehicle: object, roads?: object[]) {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Yard",
    run: { length: "1 h" },
    designs: [
      {
        id: "d",
        name: "Base",
        entityTypes: [{ id: "t", name: "Crate" }],
        elements: [
          { id: "a", kind: "arrivals", name: "Hatch", at: [0, 0], entityType: "t", between: "1 h", first: "10 s" },
          { id: "o", kind: "departures", name: "Shed", at: [100, 0] },
          { id: "v", kind: "vehicle", name: "Carts", at: [0, 50], speed: "5 m/s", speedLoaded: "2 m/s", ...vehicle },
        ],
        links: [{ id: "l", from: "a", to: "o", kind: "carried", by: "v" }],
        ...(roads ? { roads } : {}),
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { program, problems } = compile(read.study, "d");
  if (!program) throw new Error(JSON.stringify(problems));
  const session = open(program, { seed: 1, replication: 1 });
  /** In metres from where the hatch is on the screen. */
  return (time: number) => {
    session.advanceTo(time);
    return placeCarriers(session.frame(), program.model, VIEW, SIZE).carriers.map(({ x, y, angle, load }) => ({
      across: (x - 400) / VIEW.scale,
      down: (y - 300) / VIEW.scale,
      angle,
      load,
    }));
  };
}

test("vehicles are where their speed has taken them, turned as they drive, their load on them from when it is taken up", () => {
  const at = yard({ load: "5 s" });
  // It sets out at 10 s, is there at 20, loaded at 25, and at the shed at 75.
  expect(at(15)[0]).toMatchObject({ across: 0, down: 25, load: -1 });
  expect(at(15)[0].angle).toBeCloseTo(-Math.PI / 2, 9);
  expect(at(22)[0].load).toBe(0);
  expect(at(45)[0]).toMatchObject({ down: 0, load: 0, angle: 0 });
  expect(at(45)[0].across).toBeCloseTo(40, 9);
  expect(at(80)[0].load).toBe(-1);
});

test("over ways they go round the bends", () => {
  const at = yard({ over: "ways", speed: "10 m/s" }, [
    {
      id: "r",
      points: [
        [0, 50],
        [0, 0],
      ],
      from: "v",
      to: "a",
    },
    {
      id: "q",
      points: [
        [0, 0],
        [0, -20],
        [100, -20],
        [100, 0],
      ],
      from: "a",
      to: "o",
    },
  ]);
  // At the hatch at 15 s; 20 m up by 25, 30 m on by 40.
  const { across, down } = at(40)[0];
  expect([across, down].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([30, -20]);
});

test("those that stand at one place stand apart, above it", () => {
  const places = yard({ count: "7" })(0);
  expect(new Set(places.map(({ across, down }) => `${across} ${down}`)).size).toBe(7);
  expect(places.every(({ down }) => down < 50)).toBe(true);
});

test("members of a crew are where their walk has taken them, and in the symbol of the crew when they stand at home", () => {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Shop",
    run: { length: "1 h" },
    designs: [
      {
        id: "d",
        name: "Base",
        entityTypes: [{ id: "t", name: "Job" }],
        elements: [
          { id: "a", kind: "arrivals", name: "In", at: [0, 0], entityType: "t", by: "list", listed: "10 s" },
          { id: "s", kind: "station", name: "Press", at: [100, 0], time: "30 s", needs: [{ id: "n", anyOf: ["c"] }] },
          { id: "o", kind: "departures", name: "Out", at: [150, 0] },
          { id: "c", kind: "crew", name: "Fitters", at: [20, 0], count: "2", walks: "straight", speed: "2 m/s" },
        ],
        links: [
          { id: "l", from: "a", to: "s" },
          { id: "m", from: "s", to: "o" },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { program } = compile(read.study, "d");
  const session = open(program!, { seed: 1, replication: 1 });
  const at = (time: number) => {
    session.advanceTo(time);
    return placeCarriers(session.frame(), program!.model, VIEW, SIZE).members.map(({ x, y, doing }) => ({
      across: (x - 400) / VIEW.scale,
      down: (y - 300) / VIEW.scale,
      doing: UNIT_WORDS[doing],
    }));
  };
  expect(at(5)).toEqual([]);
  // It sets out at 10 s, is there at 50, and done at 80.
  const [walking] = at(25);
  expect(walking).toMatchObject({ doing: "walking to work", down: 0 });
  expect(walking.across).toBeCloseTo(50, 9);
  expect(at(60)).toMatchObject([{ doing: "busy" }]);
  const [rests] = at(100);
  expect(rests.doing).toBe("idle");
  // Beside the press, to its right.
  expect(rests.across).toBeGreaterThan(100);
});
