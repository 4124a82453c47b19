import { By } from "selenium-webdriver";
import { useStage } from "./support/stage.ts";
import { findMeasures, meanShown } from "./support/figures.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const SORTING = {
  format: "busy-harbor-study",
  version: 1,
  name: "Sorting hall",
  run: { length: "4 h", replications: 3 },
  designs: [
    {
      id: "d",
      name: "Base",
      entityTypes: [
        { id: "t", name: "Parcel" },
        { id: "u", name: "Tray" },
      ],
      elements: [
        { kind: "arrivals", id: "a", name: "Vans", at: [-40, -15], entityType: "t", between: "exponential(6 s)" },
        { kind: "arrivals", id: "b", name: "Ferry", at: [-40, 15], entityType: "u", between: "exponential(6 s)" },
        { kind: "junction", id: "j", name: "Merge", at: [-10, 0] },
        { kind: "station", id: "s", name: "Scanner", at: [20, 0], time: "2.5 s" },
        { kind: "departures", id: "o", name: "Islands", at: [40, 0] },
      ],
      links: [
        { id: "l1", from: "a", to: "j" },
        { id: "l2", from: "b", to: "j" },
        { id: "l3", from: "j", to: "s" },
        { id: "l4", from: "s", to: "o" },
      ],
    },
  ],
};

test("two belts merge into one, on which those behind the scanner close up", async () => {
  const { person, server } = stage;
  const id = await storeStudy(server, SORTING);
  await person.go(`${server.url}/study/${id}/build`);
  const at = {
    Vans: await person.onFloor("Vans"),
    Ferry: await person.onFloor("Ferry"),
    Merge: await person.onFloor("Merge"),
    Scanner: await person.onFloor("Scanner"),
  };
  const open = async (from: keyof typeof at, to: keyof typeof at) => {
    await person.clickAt((at[from].x + at[to].x) / 2, (at[from].y + at[to].y) / 2);
    await person.choose("Kind", "conveyor");
  };
  await open("Vans", "Merge");
  await person.fill("Room of each", "0 m");
  await person.sees("above 0");
  await person.fill("Room of each", "1.2 m");
  await open("Ferry", "Merge");
  await person.choose("Others", "stand, as all on the belt");
  await person.fill("Goes before", "1");
  await open("Merge", "Scanner");
  await person.fill("Speed", "0.4 m/s");
  await person.fill("Runs for", "exponential(20 min)");
  await person.sees("Time to repair is empty.");
  await person.fill("Time to repair", "exponential(30 s)");

  // What is on the belts is seen, nearer to one another than they came once they have closed up.
  await person.click("Watch");
  await person.find("[data-testid=watch-floor], canvas");
  await person.click("Build");
  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.sees("3 of 3 replications");
  // Belts are no vehicles.
  expect(await person.driver.findElements(By.css("[data-testid=vehicle-shares]"))).toEqual([]);
  await findMeasures(person, "to");
  const share = async (part: string) => Number(await meanShown(person, "Merge to Scanner", `Share of time ${part}`));
  expect(await share("down")).toBeGreaterThan(0);
  expect((await share("running")) + (await share("down"))).toBeCloseTo(1, 2);
  // The scanner takes 2.5 s, and a box comes every 3 s: some wait. Trays go behind parcels, and their belt stands.
  const delay = async (owner: string) => Number(await meanShown(person, owner, "Delay on the belt, mean"));
  expect(await delay("Merge to Scanner")).toBeGreaterThan(0);
  expect(await delay("Ferry to Merge")).toBeGreaterThan(await delay("Vans to Merge"));
  expect(Number(await meanShown(person, "Ferry to Merge", "Share of time stopped at its end"))).toBeGreaterThan(0);
  expect(await person.errors()).toEqual([]);
});
