import { Key } from "selenium-webdriver";
import type { Study } from "@busy-harbor/core";
import { useStage } from "./support/stage.ts";
import { findMeasures, meanShown } from "./support/figures.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const YARD = {
  format: "busy-harbor-study",
  version: 1,
  name: "Yard",
  run: { length: "4 h", replications: 3 },
  designs: [
    {
      id: "d",
      name: "Base",
      entityTypes: [{ id: "t", name: "Truck", speed: "5 m/s", look: "truck" }],
      elements: [
        { kind: "arrivals", id: "a", name: "Gate", at: [-40, 0], entityType: "t", between: "10 min" },
        { kind: "station", id: "s", name: "Weighbridge", at: [10, 20], time: "40 s" },
        { kind: "departures", id: "o", name: "Road out", at: [40, -10] },
      ],
      links: [
        { id: "l1", from: "a", to: "s", kind: "ways" },
        { id: "l2", from: "s", to: "o", kind: "ways" },
      ],
    },
  ],
};

test("roads are drawn click after click, joined along their length, and gone by the shortest way", async () => {
  const { person, server } = stage;
  const { driver } = person;
  const id = await storeStudy(server, YARD);
  const roads = async () => {
    await person.sees("Saved");
    const { study } = (await (await fetch(`${server.url}/api/studies/${id}`)).json()) as { study: Study };
    return study.designs[0].roads ?? [];
  };
  await person.go(`${server.url}/study/${id}/build`);
  const gate = await person.onFloor("Gate");
  const bridge = await person.onFloor("Weighbridge");
  const out = await person.onFloor("Road out");
  await person.sees("No walkway or road comes to Gate.");
  const clear: readonly [number, number] = [gate.x + 60, bridge.y + 80];
  const draw = async (...at: readonly (readonly [number, number])[]) => {
    await person.clickAt(...clear);
    await driver.actions().keyDown(Key.SHIFT).sendKeys("W").keyUp(Key.SHIFT).perform();
    for (const point of at) await person.clickAt(...point);
  };
  const middle = Math.round((gate.x + bridge.x) / 2);
  // It ends by itself at the element that it leads to.
  await draw([gate.x, gate.y], [middle, gate.y], [middle, bridge.y], [bridge.x, bridge.y]);
  await person.sees("Road drawn.");
  expect((await roads()).map(({ from, to, points }) => [from, to, points.length])).toEqual([["a", "s", 4]]);
  // From the middle of the first, ended by Enter and drawn on to where it leads.
  const half = Math.round((gate.y + bridge.y) / 2);
  await draw([middle, half], [out.x - 100, half], [out.x - 100, out.y]);
  await person.press(Key.BACK_SPACE);
  await person.clickAt(out.x, half);
  await person.clickAt(out.x, out.y);
  await driver.wait(async () => (await roads()).length === 2, 5000, "The second road is not there");
  const [first, second] = await roads();
  // The first has a point now where the second begins.
  expect(first.points).toHaveLength(5);
  expect(first.points).toContainEqual(second.points[0]);
  expect([second.to, second.points.length]).toEqual(["o", 4]);

  const lengthOf = (points: readonly (readonly [number, number])[]) =>
    points.slice(1).reduce((sum, [x, y], i) => sum + Math.hypot(x - points[i][0], y - points[i][1]), 0);
  const joint = first.points.findIndex(([x, y]) => x === second.points[0][0] && y === second.points[0][1]);
  const toBridge = lengthOf(first.points);
  const toOut = lengthOf(first.points.slice(joint)) + lengthOf(second.points);
  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.sees("3 of 3 replications");
  await findMeasures(person, "truck time moving");
  const moving = Number(await meanShown(person, "Truck", "Time moving, mean"));
  expect(moving).toBeCloseTo((toBridge + toOut) / 5 / 60, 2);

  // A limit on the card slows all who come there; the run says what has changed since.
  await person.click("Build");
  await person.onFloor("Gate");
  await person.clickAt(middle, Math.round((gate.y + half) / 2));
  await person.fill("Speed limit", "1 m/s");
  await person.sees("at most 1 m/s");
  await person.click("Measure");
  await (await person.find("[data-testid=out-of-date]")).click();
  await person.sees("A road: speed limit nothing becomes 1 m/s.");

  // It counts the more the more are on it.
  await person.click("Build");
  await person.onFloor("Gate");
  await person.clickAt(middle, Math.round((gate.y + half) / 2));
  await person.fill("Counts as", "1 + way.behind");
  await person.sees('There is no ".behind" here.');
  await person.fill("Counts as", "1 + way.on");
  await person.sees("counted (1 + way.on) times its length");
  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.sees("3 of 3 replications");
  await findMeasures(person, "came onto it");
  expect(Number(await meanShown(person, "Road", "Came onto it"))).toBeGreaterThan(10);
  expect(await person.errors()).toEqual([]);
});

test("what is carried waits for a vehicle and says how long, and why", async () => {
  const { person, server } = stage;
  const road = (id: string, points: readonly (readonly [number, number])[], more: object = {}) => ({
    id,
    kind: "road",
    width: 5,
    points,
    ...more,
  });
  const [design] = YARD.designs;
  const study = {
    ...YARD,
    name: "Quay",
    designs: [
      {
        ...design,
        elements: [
          { kind: "arrivals", id: "a", name: "Crane", at: [-40, 0], entityType: "t", between: "exponential(40 s)" },
          { kind: "departures", id: "o", name: "Block", at: [30, 20] },
          { kind: "vehicle", id: "v", name: "Tractors", at: [-40, 30], speed: "6 m/s", speedLoaded: "4 m/s" },
        ],
        links: [{ id: "l1", from: "a", to: "o" }],
        roads: [
          road(
            "r1",
            [
              [-40, 0],
              [10, 0],
              [10, 20],
              [30, 20],
            ],
            { from: "a", to: "o" },
          ),
          road(
            "r2",
            [
              [-40, 0],
              [-40, 30],
            ],
            { from: "a", to: "v" },
          ),
        ],
      },
    ],
  };
  const id = await storeStudy(server, study);
  await person.go(`${server.url}/study/${id}/build`);
  const tractors = await person.onFloor("Tractors");
  await person.clickAt(tractors.x, tractors.y);
  await person.sees("Carries nothing yet: let a link be carried by it.");
  await person.choose("Goes", "over walkways and roads");
  await person.fill("Vehicles", "4");
  // The link is found by its line, between the two.
  const [crane, block] = [await person.onFloor("Crane"), await person.onFloor("Block")];
  await person.clickAt((crane.x + block.x) / 2, (crane.y + block.y) / 2);
  await person.choose("Kind", "carried by vehicles");
  await person.sees("It is not said which vehicles carry along this link.");
  await person.choose("By", "Tractors");
  await person.clickAt(tractors.x, tractors.y);
  await person.sees("from Crane to Block");
  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.sees("3 of 3 replications");
  await person.find("[data-testid=time-of-types]");
  await person.sees("waiting for a vehicle");
  await findMeasures(person, "tractors");
  const wait = Number(await meanShown(person, "Tractors", "Wait for a vehicle, mean"));
  const none = Number(await meanShown(person, "Tractors", "Wait while none was free, mean"));
  const way = Number(await meanShown(person, "Tractors", "Wait while it was on the way, mean"));
  expect(none).toBeGreaterThan(0);
  expect(none + way).toBeCloseTo(wait, 2);

  // One load is followed from end to end.
  await person.click("Watch");
  const followed = () => person.text("[data-testid=followed]");
  const reads = (words: RegExp) =>
    person.driver.wait(async () => words.test(await followed()), 30_000, `It never read ${String(words)}`);
  await person.driver.wait(async () => {
    await person.press("y");
    return /^Truck \d+ is waiting for somebody or something from Crane to Block/.test(await followed());
  }, 30_000);
  const [name] = /^Truck \d+/.exec(await followed())!;
  await reads(new RegExp(`^${name} is on Tractors [1-4]`));
  await reads(new RegExp(`^${name} has left`));
  expect(await person.errors()).toEqual([]);
});
