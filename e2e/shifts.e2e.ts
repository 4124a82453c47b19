import { By, Key } from "selenium-webdriver";
import { addRow, goTo, linkTo, place, unfold } from "./support/building.ts";
import { newStudy, useStage } from "./support/stage.ts";

const stage = useStage();

test("a two-shift station with breakdowns and a helper crew, from the empty floor to the share of time in each state", async () => {
  const { person } = stage;
  await newStudy(stage);
  await place(person, "Arrivals", 250, 330);
  await place(person, "Station", 450, 330);
  await place(person, "Departures", 650, 330);
  await place(person, "Crew", 450, 480);
  await linkTo(person, "Arrivals", "Station");
  await linkTo(person, "Station", "Departures");
  // A resource is linked like anything else, and says what that means.
  await linkTo(person, "Crew", "Station", "Work at Station needs one of Crew.");
  await person.sees("For work it needs 1 of Crew.");
  await goTo(person, "Arrivals");
  await person.fill("Time between", "exponential(9 min)");

  await goTo(person, "Station");
  await unfold(person, "Hours");
  await person.click("New calendar");
  await person.sees("Kept by".toUpperCase());
  // A second shift is drawn on Monday, then given to all working days in its row.
  const monday = await person.find("[data-lane='0']");
  const lane = await monday.getRect();
  const x = (hour: number) => lane.x + (lane.width * hour) / 24;
  const y = lane.y + lane.height / 2;
  await person.drag([x(16.5), y], [x(22.5), y]);
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css("[role=group][aria-label='Row 2']"))).length === 1,
    5000,
    "No second row",
  );
  const row = await person.find("[role=group][aria-label='Row 2']");
  expect(await row.findElement(By.css("input[aria-label=From]")).getAttribute("value")).toBe("16:30");
  expect(await row.findElement(By.css("input[aria-label=To]")).getAttribute("value")).toBe("22:30");
  for (const day of ["Tuesday", "Wednesday", "Thursday", "Friday"])
    await row.findElement(By.css(`button[data-tip=${day}]`)).click();
  // 8 and 6 hours on ten working days; the run begins at 08:00.
  await person.sees("On for 140 h of these two weeks.");

  await person.click("Floor");
  await goTo(person, "Station");
  await person.sees("It keeps the hours of Shift calendar: finish, keep the timetable.");
  await (await person.find("[role=radio][value='pause at the bell']")).click();
  await person.sees("It keeps the hours of Shift calendar: pause at the bell.");
  await unfold(person, "Breakdowns");
  await addRow(person, "Breakdown");
  await person.choose("Counts", "time at work");
  await person.fill("Time to the next", "exponential(3 h)");
  await person.fill("Time to repair", "exponential(20 min)");
  await person.sees(
    "It breaks down every exponential(3 h) of work for exponential(20 min). Work then: pause and resume.",
  );
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await person.sees("No problems: this design can run.");

  await person.click("Measure");
  await person.fill("Length", "14 d");
  await (await person.find("[data-testid=run]")).click();
  await person.sees("20 of 20 replications", 60_000);
  const table = await person.find("section[aria-label='Shares of time']");
  await person.driver.wait(async () => (await table.findElements(By.css("tbody tr"))).length === 2, 10_000);
  const bar =
    (await table.findElement(By.xpath(".//tr[td[1]='Station']//*[name()='svg']")).getAttribute("aria-label")) ?? "";
  const share = (state: string) => Number(new RegExp(`${state} ([\\d.]+) %`).exec(bar)?.[1] ?? 0);
  // 140 of 336 hours on shift; the other shares make up the rest.
  expect(share("off shift")).toBeCloseTo(100 - 14_000 / 336, 0);
  for (const state of ["busy", "down", "idle"]) expect([state, share(state) > 0.5]).toEqual([state, true]);
  expect(
    ["busy", "down", "off shift", "idle", "waiting for a resource"].reduce((sum, state) => sum + share(state), 0),
  ).toBeGreaterThan(99.7);
  expect(await person.errors()).toEqual([]);
});

test("a calendar whose rows give 7.5 of 8 hours is flagged, and mended by drag", async () => {
  const { person } = stage;
  await newStudy(stage);
  await person.click("Calendars");
  await person.click("Shift calendar");
  await person.choose("Goes by", "durations from the start");
  await person.fill("Should fill", "8 h");
  const duration = async () => await person.find("[role=group][aria-label='Row 1'] input[aria-label=Duration]");
  await (await duration()).sendKeys(Key.chord(Key.CONTROL, "a"), "7.5 h");
  await person.sees("its rows come to 7.5 h of the 8 h they should fill; the last 30 min are off shift");
  await person.sees("30 min open");
  const strip = await (await person.find("[aria-label='The pattern'] > div")).getRect();
  const y = strip.y + strip.height / 2;
  await person.drag([strip.x + strip.width * (7.5 / 8), y], [strip.x + strip.width - 1, y]);
  await person.driver.wait(
    async () => (await (await duration()).getAttribute("value")) === "8 h",
    5000,
    "The row was not lengthened",
  );
  expect(await person.text("main")).not.toContain("they should fill");
  // One drag is one step back, and the flag is there again; the keyboard mends it as well.
  await person.chord(Key.CONTROL, "z");
  await person.sees("30 min open");
  await (await person.find("[role=slider][aria-label='End of row 1']")).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await person.driver.wait(async () => (await (await duration()).getAttribute("value")) === "8 h", 5000);
  expect(await person.errors()).toEqual([]);
});
