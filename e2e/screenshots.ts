import { weighedCrates } from "./support/weighedCrates.ts";
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { By, Key } from "selenium-webdriver";
import { familyYard } from "../web/test/familyYard.ts";
import { observedDesk } from "../web/test/observed.ts";
import { startServer } from "../server/test/startServer.ts";
import { dropFile } from "./support/drop.ts";
import { planInFeet } from "./support/planInFeet.ts";
import { Person } from "./support/browser.ts";
import { storeStudy } from "./support/storeStudy.ts";

/** Makes the pictures of docs/screenshots from the demo study. */
const folder = join(process.cwd(), "docs", "screenshots");
mkdirSync(folder, { recursive: true });

const server = await startServer();
const person = await Person.open(1280, 800);
const keep = async (name: string) => {
  // No tip of what was clicked last lies over the view.
  await person.driver.actions().move({ x: 1, y: 1 }).perform();
  writeFileSync(join(folder, `${name}.png`), await person.picture(), "base64");
};

await person.go(server.url);
await person.sees("30 times faster than life");
await person.driver.sleep(6000);
await keep("home");

await person.click("Foot passengers for the 9:10");
const desks = await person.onFloor("Ticket desks");
await person.clickAt(desks.x, desks.y);
await person.sees("Takes entities from Ticket line");
await person.driver.sleep(300);
await keep("build");

await person.press("t");
await person.find("[data-testid=ledger-grid]");
await person.driver.sleep(400);
await keep("ledger");
await person.press("t");
await person.driver.executeScript("localStorage.setItem('busy-harbor-theme', 'night')");
await person.driver.navigate().refresh();
await person.onFloor("Ticket desks");
await person.driver.sleep(600);
await keep("build-night");
await person.driver.executeScript("localStorage.setItem('busy-harbor-theme', 'chart')");
await person.driver.navigate().refresh();
await person.onFloor("Ticket desks");

await person.click("Watch");
await (await person.find("[role=slider]")).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
await person.driver.wait(
  async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-seconds")) > 2900,
  60_000,
);
await (await person.find("[data-testid=play]")).click();
await person.driver.sleep(300);
await keep("watch");

await (await person.find("[data-testid=run]")).click();
await person.sees("40 of 40 replications", 60_000);
await person.driver.sleep(600);
await keep("measure");

// What was observed one by one.
await person.click("Histogram");
await person.click("Keep them, and run again");
await person.find("[data-testid=bins]");
await person.driver.sleep(2500);
await person.driver.executeScript("document.querySelector('#measure-chart').scrollIntoView()");
await person.driver.sleep(500);
await keep("observations");
await person.click("Replications");

await person.click("Compare");
await (await person.find("[data-testid=run-missing]")).click();
await person.driver.wait(async () => (await person.text("main")).includes("pairing removed"), 60_000);
await person.driver.sleep(600);
await keep("compare");

await person.click("Frame");
await person.find("[data-testid=in-words]");
await person.driver.sleep(400);
await keep("frame");

// Scenarios of desks and machines.
await person.click("Compare");
await person.click("Desks and machines");
await (await person.find("[data-testid=run-lacking]")).click();
await person.sees("Up to date", 60_000);
await person.click("Boxes");
await person.find("[data-testid=boxes] rect[rx='2']");
await person.driver.sleep(800);
await keep("experiment");

// Shifts, crews and breakdowns.
await person.go(server.url);
await person.click("Container workshop");
const fitters = await person.onFloor("Fitters");
await person.clickAt(fitters.x, fitters.y);
await person.sees("3 members.");
await person.click("Calendars");
await person.sees("Dates with other hours".toUpperCase());
await person.driver.sleep(300);
await keep("calendars");

/** Watches a demo up to so many seconds, so many steps faster than at first, and keeps it as it stands then. */
async function watched(demo: string, seconds: number, faster: number, name: string): Promise<void> {
  await person.go(server.url);
  await person.click(demo);
  await person.click("Watch");
  for (let i = 0; i < faster; i++) await (await person.find("[role=slider]")).sendKeys(Key.ARROW_RIGHT);
  await person.driver.wait(
    async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-seconds")) > seconds,
    120_000,
  );
  await (await person.find("[data-testid=play]")).click();
  await person.driver.sleep(300);
  await keep(name);
}
await watched("Container quay", 88_000, 5, "ways");
await watched("Cruise call", 3_000, 3, "escorts");

// A study driven by tables.
await person.go(server.url);
await person.click("Hull workshop");
await person.onFloor("Painting bay");
await person.click("Tables");
await person.find("aside[aria-label=Tables]");
await (await person.driver.findElement(By.xpath("//aside//button[contains(., 'Steps')]"))).click();
await (await person.find("[data-testid=table-grid]")).click();
await person.press(Key.HOME, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
await person.driver.sleep(500);
await keep("tables");

// A family of bays, and a distribution fitted to observed times.
const store = async (study: object): Promise<string> => {
  return storeStudy(server, study);
};

const yard = familyYard();
Object.assign(yard.designs[0].elements[1], {
  time: "row.Work",
  capacity: "row.Slots",
  family: { table: "bays", columns: { calendar: "hours" } },
});
await person.go(`${server.url}/study/${await store(yard)}/build`);
const bay = await person.onFloor("Bays");
await person.clickAt(bay.x, bay.y);
await person.setting("Time");
await person.driver.executeScript("document.querySelector('[data-testid=members]').scrollIntoView({ block: 'end' })");
await person.driver.sleep(500);
await keep("family");
await person.go(`${server.url}/study/${await store(observedDesk())}/build/tables?table=seen`);
await (await person.find("[data-testid=table-grid]")).click();
await person.click("Fit a distribution");
await person.find("[data-testid=fits]");
await person.driver.wait(async () => !(await person.text("[data-testid=fits]")).includes("…"), 60_000);
await person.driver.sleep(300);
await keep("fitting");

// Stock points watched, and a rule that calls a procedure.
await person.go(server.url);
await person.click("Chandlery store");
await person.onFloor("Shelves");
await person.click("Watch");
await person.find("[data-testid=clock]");
for (let i = 0; i < 8; i++) await person.press("]");
await person.driver.sleep(600);
await person.press(" ");
await person.driver.sleep(600);
await keep("stock");
await person.go(`${server.url}/study/${await store(weighedCrates())}/build/procedures`);
await person.sees("Otherwise");
await (await person.driver.findElements(By.css("[data-step]")))[2].click();
await person.driver.sleep(500);
await keep("procedures");

// A background drawing, in inches, under a study in feet.
await planInFeet(person, server.url, 380);
await dropFile(
  person,
  "Ticket hall.dxf",
  readFileSync(join(process.cwd(), "web", "test", "drawings", "hall-2000-inches.dxf")),
);
await person.sees("Ticket hall added.");
await person.driver.sleep(6000);
await keep("drawing");

await person.close();
await server.stop();
