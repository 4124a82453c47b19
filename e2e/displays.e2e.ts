import { readFileSync } from "node:fs";
import { join } from "node:path";
import { By, Key } from "selenium-webdriver";
import { dropFile } from "./support/drop.ts";
import { useStage } from "./support/stage.ts";

const stage = useStage();

const display = (label: string) => stage.person.find(`[data-testid=displays] li[aria-label^='${label}']`);

test("a display is added, told what to show, moved by keys, deleted and brought back", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.command("add display: bar");
  await person.sees("Bar placed.");
  await person.fill("Title", "Busy desks");
  // A slip is told at its place; the design still runs.
  await person.fill("Shows", "TicketDesk.busy");
  await person.sees("Did you mean Ticket desks?");
  await person.fill("Shows", "`Ticket desks`.busy");
  await person.fill("To", "3");
  const bar = await display("Bar Busy desks");
  const before = await bar.getRect();
  await person.driver.executeScript("arguments[0].focus()", bar);
  await person.press(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_DOWN);
  const after = await (await display("Bar Busy desks")).getRect();
  expect(after.x).toBeGreaterThan(before.x + 5);
  expect(after.y).toBeGreaterThan(before.y + 2);
  await person.press(Key.DELETE);
  await person.sees("Display deleted.");
  expect(await person.driver.findElements(By.css("[data-testid=displays] li[aria-label^='Bar']"))).toEqual([]);
  await person.chord(Key.CONTROL, "z");
  await display("Bar Busy desks");
});

test("one card at a time: a display clicked while a drawing's card is open shows its own, and a drawing its own again", async () => {
  const { person } = stage;
  await dropFile(person, "Ticket hall.dxf", readFileSync(join(__dirname, "..", "web", "test", "drawings", "hall-r12.dxf")));
  await person.sees("Ticket hall added.");
  const card = () => person.text("[data-testid=card] header");
  expect(await card()).toContain("Background drawing");
  const gauge = await (await display("Gauge Waiting for a desk")).getRect();
  await person.clickAt(gauge.x + 20, gauge.y + 20);
  expect(await card()).toMatch(/Display\s+Waiting for a desk/);
  await person.press(Key.ESCAPE);
  expect(await card()).toContain("One shared line");
  await person.click("Ticket hall");
  expect(await card()).toContain("Background drawing");
  // A display that reads an element is listed on that element's card, and found from there.
  const line = await person.onFloor("Ticket line");
  await person.clickAt(line.x, line.y);
  await (await person.driver.findElement(By.xpath("//aside//button[.='Waiting for a desk']"))).click();
  expect(await card()).toMatch(/Display\s+Waiting for a desk/);
});

test("while watching, displays say what the floor and the instruments say", async () => {
  const { person } = stage;
  await person.click("Watch");
  await (await person.find("input[type=range]")).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await person.driver.wait(async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-seconds")) > 1500, 60_000);
  // Paused by its key; the palette has what can be done here, too.
  await person.press(Key.SPACE);
  await person.driver.wait(async () => (await person.text("[data-testid=play]")) === "Play", 5000, "The space bar did not pause");
  await person.driver.sleep(300);
  const clock = async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-events"));
  const events = await clock();
  await person.command("one event");
  await person.driver.wait(async () => (await clock()) === events + 1, 5000, "The palette ran no event");
  await person.driver.sleep(200);
  const instruments = await person.text("[aria-label=Instruments]");
  const waiting = await (await (await display("Gauge Waiting for a desk")).findElement(By.css("svg"))).getAttribute("aria-label");
  expect(instruments).toContain(`Ticket line ${waiting}`);
  expect(Number(waiting)).toBeGreaterThan(0);
  const busy = await (await display("Bar Busy desks")).getText();
  expect(instruments).toMatch(new RegExp(`Ticket desks\\s+${busy.split("\n").find((line) => /^\d+$/.test(line))}\\b`));
  expect(await person.errors()).toEqual([]);
});
