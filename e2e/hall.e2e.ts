import { useStage } from "./support/stage.ts";
import { findMeasures, meanShown } from "./support/figures.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const HALL = {
  format: "busy-harbor-study",
  version: 1,
  name: "Waiting hall",
  run: { length: "8 h", replications: 3 },
  designs: [
    {
      id: "d",
      name: "Base",
      entityTypes: [{ id: "t", name: "Visitor", look: "person", speed: "1.2 m/s" }],
      elements: [
        { kind: "arrivals", id: "a", name: "Door", at: [-40, 0], entityType: "t", between: "exponential(60 s)" },
        { kind: "place", id: "p", name: "Benches", at: [0, 0], count: "3" },
        { kind: "station", id: "s", name: "Desk", at: [40, 0], time: "exponential(50 s)" },
        { kind: "departures", id: "q", name: "Garden", at: [0, 25] },
        { kind: "departures", id: "o", name: "Coach", at: [40, 40] },
        { kind: "vehicle", id: "v", name: "Shuttle", at: [-40, 40], limit: "8" },
      ],
      links: [
        { id: "l1", from: "a", to: "p" },
        { id: "l2", from: "p", to: "s" },
        { id: "l3", from: "p", to: "q", takes: "turned away" },
        { id: "l4", from: "s", to: "o", kind: "carried", by: "v" },
      ],
      roads: [
        {
          id: "r",
          name: "Drive",
          kind: "road",
          points: [
            [40, 0],
            [40, 40],
            [-40, 40],
          ],
          from: "s",
          to: "v",
        },
      ],
    },
  ],
};

test("visitors wait on benches until they are called, some go away, and a shuttle carries them over a narrow road", async () => {
  const { person, server } = stage;
  const id = await storeStudy(server, HALL);
  await person.go(`${server.url}/study/${id}/build`);

  const benches = await person.onFloor("Benches");
  await person.clickAt(benches.x, benches.y);
  await person.sees("Takes people from Door");
  await person.fill("Spots", "4");
  await person.choose("People there are", "lying");
  await person.choose("People there are", "sitting");
  await person.fill("Waits at most", "2 min");
  await person.sees("or gives up after 2 min");

  const shuttle = await person.onFloor("Shuttle");
  await person.clickAt(shuttle.x, shuttle.y);
  await person.choose("Goes", "over walkways and roads");
  await person.choose("Sets out", "on a tour, at its times");
  await person.sees("A tour needs two stops at least.");
  await person.click("Stop");
  await person.choose("Stop", "Desk");
  await person.fill("Stands there", "1 min");
  await person.sees("A tour needs two stops at least.");

  const coach = await person.onFloor("Coach");
  await person.clickAt((shuttle.x + coach.x) / 2, coach.y);
  await person.sees("Road of 120 m");
  await person.fill("Room", "1");
  await person.sees("room for 1");
  // Without the tour's second stop it cannot be run; one that goes when somebody asks can.
  // Where the road is chosen its end is taken, and not what stands there.
  await person.clickAt(benches.x, benches.y);
  await person.sees("Takes people from Door");
  await person.clickAt(shuttle.x, shuttle.y);
  await person.choose("Sets out", "when somebody asks");
  await person.choose("One trip is for", "all who wait at one place");
  await person.sees("One trip is for all who wait at one place");

  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.sees("3 of 3 replications");
  await findMeasures(person, "benches");
  const gone = Number(await meanShown(person, "Benches", "Gave up waiting"));
  const left = Number(await meanShown(person, "Benches", "Left"));
  expect(gone).toBeGreaterThan(0);
  expect(left).toBeGreaterThan(gone);
  await findMeasures(person, "drive");
  expect(Number(await meanShown(person, "Drive", "On it, most"))).toBe(1);
  expect(Number(await meanShown(person, "Drive", "Came onto it"))).toBeGreaterThan(10);
  expect(await person.errors()).toEqual([]);
});
