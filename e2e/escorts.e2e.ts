import { useStage } from "./support/stage.ts";
import { findMeasures, meanShown } from "./support/figures.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const HALL = {
  format: "busy-harbor-study",
  version: 1,
  name: "Winter hall",
  run: { length: "10 h", replications: 3 },
  designs: [
    {
      id: "d",
      name: "Base",
      entityTypes: [{ id: "t", name: "Visitor", look: "person", speed: "0.8 m/s" }],
      elements: [
        { kind: "arrivals", id: "a", name: "Door", at: [-40, 0], entityType: "t", between: "exponential(90 s)" },
        { kind: "station", id: "s", name: "Seats", at: [20, 0], capacity: "60", time: "uniform(10 min, 20 min)" },
        { kind: "departures", id: "o", name: "Coach", at: [20, 30] },
        { kind: "crew", id: "c", name: "Stewards", at: [-10, -25] },
      ],
      links: [
        { id: "l1", from: "a", to: "s" },
        { id: "l2", from: "s", to: "o" },
      ],
    },
  ],
};

test("stewards escort visitors to seats, and it is told how often one waited, and why", async () => {
  const { person, server } = stage;
  const id = await storeStudy(server, HALL);
  await person.go(`${server.url}/study/${id}/build`);
  const [door, seats] = [await person.onFloor("Door"), await person.onFloor("Seats")];
  const stewards = await person.onFloor("Stewards");
  await person.clickAt((door.x + seats.x) / 2, (door.y + seats.y) / 2);
  await person.choose("Kind", "escorted by a crew");
  await person.sees("It is not said which crew escorts along this link.");
  await person.choose("By", "Stewards");
  await person.clickAt(stewards.x, stewards.y);
  await person.sees("Door to Seats");
  await person.fill("How many", "2");
  await person.click("Walking");
  await person.choose("Walk to the work", "straight");
  await person.fill("Speed", "1.4 m/s");
  await person.choose("Who goes", "the nearest");
  await person.choose("When idle", "goes home");
  await person.sees("goes home when nobody waits");

  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.sees("3 of 3 replications");
  await findMeasures(person, "stewards");
  const shown = async (measure: string) => Number(await meanShown(person, "Stewards", measure));
  // Some waited for one who was busy, all for one on the way.
  const [none, way] = [await shown("Wait of a claim, mean"), await shown("Walk to the work, mean")];
  expect(none).toBeGreaterThan(0);
  expect(way).toBeGreaterThan(0);
  expect(Number(await meanShown(person, "Visitor", "Time waiting in lines, mean"))).toBeCloseTo(none + way, 1);
  // At the pace of the visitor: 60 m at 0.8 m/s.
  expect(Number(await meanShown(person, "Visitor", "Time moving, mean"))).toBeCloseTo(60 / 0.8 / 60, 2);
  const walking = await shown("Share of time walking to work");
  const home = await shown("Share of time walking home");
  const busy = await shown("Share of time busy");
  const idle = await shown("Share of time idle");
  expect(walking).toBeGreaterThan(0);
  expect(home).toBeGreaterThan(0);
  expect(walking + home + busy + idle).toBeCloseTo(1, 2);
  expect(await person.errors()).toEqual([]);
});
