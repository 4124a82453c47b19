import { By, Key } from "selenium-webdriver";
import { useStage } from "./support/stage.ts";
import { findMeasures, meanShown } from "./support/figures.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const CLINIC = {
  format: "busy-harbor-study",
  version: 1,
  name: "Harbour clinic",
  run: { length: "8 h", replications: 3, start: "2026-06-01T08:00" },
  calendars: [
    { id: "m", name: "Mornings", rows: [{ days: [0, 1, 2, 3, 4], from: "08:00", to: "12:00" }] },
    { id: "w", name: "Whole days", rows: [{ days: [0, 1, 2, 3, 4], from: "08:00", to: "16:00" }] },
  ],
  tables: [
    {
      id: "t",
      name: "Nurses on duty",
      key: "name",
      columns: [
        { id: "name", name: "name", holds: "text" },
        { id: "dressing", name: "dressing", holds: "number", unit: "" },
        { id: "pace", name: "pace", holds: "number", unit: "" },
        { id: "hours", name: "hours", holds: "calendar" },
      ],
      rows: [
        ["Asta", "3", "1.2", "Mornings"],
        ["Bram", "1", "0.8", "Whole days"],
        ["Cilla", "2", "1", "Whole days"],
      ],
    },
  ],
  designs: [
    {
      id: "d",
      name: "Base",
      entityTypes: [{ id: "p", name: "Patient", look: "person", speed: "1 m/s" }],
      elements: [
        { kind: "arrivals", id: "a", name: "Door", at: [-40, 0], entityType: "p", between: "exponential(5 min)" },
        { kind: "place", id: "seats", name: "Seats", at: [-10, 0], count: "4" },
        {
          ...{ kind: "station", id: "s", name: "Treatment", at: [30, 0], capacity: "2", time: "exponential(6 min)" },
          needs: [{ id: "n", anyOf: ["c"] }],
        },
        { kind: "departures", id: "o", name: "Exit", at: [60, 0] },
        { kind: "crew", id: "c", name: "Nurses", at: [30, -40], walks: "straight" },
      ],
      links: [
        { id: "l1", from: "a", to: "seats", kind: "walkway" },
        { id: "l2", from: "seats", to: "s", kind: "walkway" },
        { id: "l3", from: "s", to: "o", kind: "walkway" },
      ],
    },
  ],
};

test("a crew of rows: who can do it is asked, each one's use is told, and one patient is followed with heat shown", async () => {
  const { person, server } = stage;
  const id = await storeStudy(server, CLINIC);
  await person.go(`${server.url}/study/${id}/build`);

  const nurses = await person.onFloor("Nurses");
  await person.clickAt(nurses.x, nurses.y);
  await person.choose("Rows of", "Nurses on duty");
  await person.sees("As many members as Nurses on duty has rows.");
  await person.choose("Who goes", "that of the least value");
  await person.fill("Least of", "row.dressing");
  await person.click("Hours");
  await person.fill("Hours of each", "row.pace");
  await person.sees("text is wanted");
  await person.fill("Hours of each", "row.hours");
  await person.sees("Each is there by row.hours; finish, keep the timetable.");

  const treatment = await person.onFloor("Treatment");
  await person.clickAt(treatment.x, treatment.y);
  await person.fill("Who can", "who.sewing >= 2");
  await person.sees("Nurses on duty has no column");
  await person.fill("Who can", "who.dressing >= 2");
  await person.fill("Times as long", "1 / who.pace");
  await person.sees("with whom it takes 1 / who.pace times as long");

  const seats = await person.onFloor("Seats");
  await person.clickAt(seats.x, seats.y);
  await person.driver.findElement(By.xpath("//label[contains(., 'Tell each spot apart')]")).click();

  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.sees("3 of 3 replications");
  await findMeasures(person, "nurses");
  // Bram cannot dress a wound; of the others the one of the lower skill goes first.
  expect(await meanShown(person, "Nurses", "Bram: share of time in use")).toBe("0");
  const cilla = Number(await meanShown(person, "Nurses", "Cilla: share of time in use"));
  const asta = Number(await meanShown(person, "Nurses", "Asta: share of time in use"));
  expect(cilla).toBeGreaterThan(asta);
  expect(asta).toBeGreaterThan(0);
  // One of the three is off for half of the time.
  expect(await meanShown(person, "Nurses", "Share of time off shift")).toMatch(/^0\.16/);

  await person.click("Watch");
  await person.find("[data-testid=watch-floor]");
  await person.press("h");
  for (let i = 0; i < 3; i++) await person.press("]");
  await person.sees("on the move on average, in a square of");
  await person.driver.wait(
    async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-seconds")) > 600,
    40_000,
  );
  // Whoever is there when it is pressed, if anybody is.
  await person.driver.wait(async () => {
    await person.press("y");
    return /Patient \d+ (is|has left)/.test(await person.text("[data-testid=followed]"));
  }, 20_000);
  await person.press(Key.ESCAPE);
  await person.sees("Or click one on the floor.");
  expect(await person.errors()).toEqual([]);
});
