import { By, Key } from "selenium-webdriver";
import { meanShown } from "./support/figures.ts";
import { addRow, goTo, linkTo, place, unfold } from "./support/building.ts";
import { newStudy, useStage } from "./support/stage.ts";

const stage = useStage();

const mean = (owner: string, measure: string): Promise<string> => meanShown(stage.person, owner, measure);

test("parts wait at a gate, are joined onto carriers and set free again, each going its own way", async () => {
  const { person } = stage;
  await newStudy(stage);
  await place(person, "Arrivals", 180, 250);
  await place(person, "Arrivals", 180, 420, "Arrivals 2");
  await place(person, "Gate", 320, 250);
  await place(person, "Join", 440, 330);
  await place(person, "Split", 580, 330);
  await place(person, "Junction", 680, 250);
  await place(person, "Departures", 800, 250);
  await place(person, "Departures", 800, 420, "Departures 2");
  for (const [from, to] of [
    ["Arrivals", "Gate"],
    ["Gate", "Join"],
    ["Arrivals 2", "Join"],
    ["Join", "Split"],
    ["Split", "Departures 2"],
    ["Split", "Junction"],
    ["Junction", "Departures"],
  ]) {
    await linkTo(person, from, to);
    if (to === "Junction") await person.choose("Takes", "parts or copies");
  }
  // A second entity type, for the carriers.
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await addRow(person, "Entity type");
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css("aside details summary"))).length >= 2,
    5000,
  );

  await goTo(person, "Arrivals");
  await person.choose("When", "at listed times");
  await (await person.find("[data-field=listed] textarea")).sendKeys("0 min", Key.ENTER, "2 min", Key.ENTER, "4");
  await person.sees('entry 3, "4", is no fixed time of 0 or more');
  await (await person.find("[data-field=listed] textarea")).sendKeys(" min");
  await person.sees("at 3 listed times.");
  await goTo(person, "Arrivals 2");
  await person.choose("When", "at listed times");
  await (await person.find("[data-field=listed] textarea")).sendKeys("10 min");
  await unfold(person, "Mix of entity types");
  await addRow(person, "Entity type");
  const mixed = await person.find("[role=group][aria-label='entity type 1'] [role=combobox]");
  await person.chooseIn(mixed, "Customer 2");
  await person.sees("Brings in 50 % Customer 2");

  await goTo(person, "Gate");
  await person.fill("Open while", "Join.length < 2");
  await person.sees("lets them through while Join.length < 2.");
  await goTo(person, "Join");
  await person.choose("Joins", "parts onto a carrier");
  await person.choose("Carrier", "Customer 2");
  await person.choose("Joined", "until a split undoes it");
  await person.sees("joins 2 onto each Customer 2, until a split undoes it.");
  await goTo(person, "Split");
  await person.sees("sets free what was joined to them. Those set free go to Junction. Then on to Departures 2.");
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await person.sees("No problems: this design can run.");

  await person.click("Measure");
  await person.choose("Ends", "after departures");
  await person.fill("Departures", "3");
  await (await person.find("[data-testid=run]")).click();
  await person.sees("20 of 20 replications", 60_000);
  // Two parts wait at the join from 0 and 2 min; the third stays at the gate. The carrier comes at 10 min and frees
  // them at once, which lets the third pass in the same instant, the last.
  expect(await mean("Run", "Length of the replication")).toBe("10");
  expect(await mean("Join", "Joins made")).toBe("1");
  expect(await mean("Gate", "Passed")).toBe("3");
  expect(await mean("Split", "Set free")).toBe("2");
  expect(await person.errors()).toEqual([]);
});

test("a measure of one's own and a merged group are in the results; undo takes them back", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Container workshop");
  await person.onFloor("Fitters");
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await addRow(person, "Measure");
  // It says nothing yet, and so is open; it stays open while its problems are mended.
  await person.choose("Is the", "share of time in ranges");
  await person.fill("Of", "`Wash line`.length");
  await person.fill("Bounds", "1, 5");
  await person.sees("below 1; 1 to below 5; from 5");
  await person.fill("Bounds", "5, 1");
  await person.sees("the bounds of its ranges do not rise");
  await person.fill("Bounds", "1, 5");
  await person.click("Measure");
  await (await person.find("[data-testid=run]")).click();
  await person.sees("20 of 20 replications", 60_000);
  const shares: number[] = [];
  for (const words of ["Share of time below 1", "Share of time from 1 to below 5", "Share of time from 5"])
    shares.push(Number(await mean("Measure", words)));
  expect(shares.reduce((a, b) => a + b)).toBeCloseTo(1, 2);

  await person.click("Build");
  await person.onFloor("Fitters");
  await (await person.find("[data-testid=floor]")).click();
  await person.chord(Key.CONTROL, "a");
  await person.click("Measure them together");
  await (await person.find("[data-testid=run]")).click();
  await person.click("Measure");
  await person.driver.wait(async () => (await person.text("main")).includes("Run 2"), 10_000);
  await person.sees("20 of 20 replications", 60_000);
  expect(Number(await mean("Group", "Utilization, busy over scheduled time, together"))).toBeGreaterThan(0.2);
  await person.click("Build");
  await (await person.find("[data-testid=floor]")).click();
  await person.press(Key.ESCAPE);
  await person.sees("Group");
  await person.chord(Key.CONTROL, "z");
  await person.driver.wait(
    async () => !(await person.text("[data-testid=card]")).includes("Group"),
    5000,
    "The group was not taken back",
  );
  // The first page tells what was found.
  await person.go(stage.server.url);
  await person.sees("Run 2,");
  expect(await person.text("[data-testid=last-run]")).toMatch(
    /As it is: Reefer spent [\d.]+ ± [\d.]+ min at 95 % in the system, on average\.$/,
  );
  expect(await person.errors()).toEqual([]);
});

test("one long run in batches says whether its batches may be taken for independent", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.click("Measure");
  await person.choose("Type", "one long run");
  await person.choose("Ends", "after departures");
  await person.sees("must be known beforehand when it ends");
  await person.choose("Ends", "after a time");
  await person.fill("Length", "20 h");
  await person.fill("Batches", "25");
  await (await person.find("[data-testid=run]")).click();
  await person.sees("25 of 25 batches of one long run of 20 h", 60_000);
  const words = await person.text("[data-testid=batch-check]");
  expect(words).toMatch(/^\d+ of \d+ measures have batches that are like their neighbours/);
  // The boat line grows all day at these rates: the check must find it.
  expect(words).toContain("Their intervals are too narrow");
  expect(await person.errors()).toEqual([]);
});
