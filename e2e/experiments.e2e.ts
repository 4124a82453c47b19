import { By, Key } from "selenium-webdriver";
import type { Study } from "@busy-harbor/core";
import { useStage } from "./support/stage.ts";

const stage = useStage();

const demo = async (name: string): Promise<string> => {
  const studies = (await (await fetch(`${stage.server.url}/api/studies`)).json()) as { id: string; name: string }[];
  return studies.find((s) => s.name.startsWith(name))!.id;
};
const saved = async (id: string): Promise<Study> => {
  await stage.person.sees("Saved");
  return ((await (await fetch(`${stage.server.url}/api/studies/${id}`)).json()) as { study: Study }).study;
};
const showElement = async (name: string) => {
  const { person } = stage;
  await person.find("[data-testid=floor]");
  await person.chord(Key.CONTROL, "f");
  await (await person.find("[cmdk-input]")).sendKeys(name);
  await person.driver.sleep(300);
  await person.press(Key.ENTER);
  await person.find(`[data-field=capacity]`);
};
/** Text of a cell of the scenarios, by its row from 1 and its column from 1. */
const cell = (row: number, column: number) =>
  stage.person.text(`[data-testid=scenarios] [role=row][aria-rowindex="${row + 1}"] [aria-colindex="${column}"]`);
const until = async (what: string, good: () => Promise<boolean>) => {
  for (let i = 0; i < 200; i++) {
    // What is looked at may just be drawn anew.
    if (await good().catch(() => false)) return;
    await stage.person.driver.sleep(100);
  }
  throw new Error(`It never came to this: ${what}.`);
};
const read = (css: string) => stage.person.text(css);

test("two factors are picked on cards, made into scenarios, run and read; an edit marks the numbers it leaves behind", async () => {
  const { person, server } = stage;
  const { driver } = person;
  const id = await demo("Foot passengers");
  // The demo's own experiment is put away, so that the first factor makes a new one.
  await person.go(`${server.url}/study/${id}/compare?experiment=desks-machines`);
  await person.click("Delete this experiment");
  await until("the experiment is gone", async () => ((await saved(id)).experiments ?? []).length === 0);

  await person.go(`${server.url}/study/${id}/build`);
  await showElement("Ticket desks");
  await driver
    .actions()
    .move({ origin: await person.find("[data-field=capacity] label") })
    .perform();
  await (await person.find("[data-field=capacity] [aria-label^='Capacity: Use as factor']")).click();
  await person.sees("It is a factor of Experiment");
  await showElement("Ticket machine");
  // By the keys: the setting that has them.
  await (await person.find("[data-field=capacity] [role=textbox], [data-field=capacity] textarea")).click();
  await driver
    .actions()
    .keyDown(Key.CONTROL)
    .keyDown(Key.ALT)
    .sendKeys("f")
    .keyUp(Key.ALT)
    .keyUp(Key.CONTROL)
    .perform();
  await person.find("[data-field=capacity] [aria-label='Capacity: A factor of Experiment: open it']");
  await (await person.find("[data-field=capacity] [aria-label='Capacity: A factor of Experiment: open it']")).click();

  await person.find("[data-testid=scenarios]");
  await (await person.find("[data-testid=make-scenarios]")).click();
  await person.find("[data-testid=make-dialog] input.field");
  const [desks, machines] = await driver.findElements(By.css("[data-testid=make-dialog] input.field"));
  await desks.sendKeys(Key.chord(Key.CONTROL, "a"), "2 to 4 by 1");
  await machines.sendKeys(Key.chord(Key.CONTROL, "a"), "1 to");
  expect(await read("[data-testid=make-dialog]")).toContain("1 level");
  await machines.sendKeys(Key.chord(Key.CONTROL, "a"), "1, 2");
  await until("six are offered", async () => (await read("[data-testid=to-make]")) === "6 scenarios.");
  await person.click("Make 6");
  await until("they are there", async () => (await cell(6, 1)).includes("Ticket machine capacity 2"));
  const { experiments } = await saved(id);
  expect(experiments?.[0].factors.map(({ at }) => at)).toEqual([
    ["elements", "desks", "capacity"],
    ["elements", "machine", "capacity"],
  ]);

  await (await person.find("[data-testid=run-lacking]")).click();
  await person.sees("Up to date");
  await person.find("[data-testid=winners]");
  expect(await read("[data-testid=winners]")).toMatch(/best.*95 %/);

  await person.click("Boxes");
  await person.find("[data-testid=boxes] rect[rx='2']");
  expect((await driver.findElements(By.css("[data-testid=boxes] rect[rx='2']"))).length).toBe(6);

  await person.click("Baseline");
  await until(
    "each is held against the first",
    async () => (await driver.findElements(By.css("[data-testid=against-baseline] tbody tr"))).length === 5,
  );
  await person.click("Effects");
  expect(await read("[data-testid=terms]")).toMatch(/Ticket desks: Capacity × Ticket machine: Capacity/);

  // Another level, with no run of its own.
  const before = await cell(1, 5);
  const level = await person.find("[aria-label='Confidence level, percent']");
  await level.sendKeys(Key.chord(Key.CONTROL, "a"), "99", Key.TAB);
  await until("the half-width is larger", async () => (await cell(1, 5)) !== before);
  const half = (text: string) => Number(text.split("±")[1]);
  expect(half(await cell(1, 5))).toBeGreaterThan(half(before));
  await person.sees("Up to date");

  // The whole table, as a spreadsheet takes it.
  await driver.executeScript("navigator.clipboard.writeText = (text) => ((window.copied = text), Promise.resolve())");
  await (await person.find("[aria-label='Copy the table']")).click();
  const copied = (await driver.executeScript<string>("return window.copied")).split("\n").map((l) => l.split("\t"));
  expect(copied).toHaveLength(7);
  expect(copied[0].slice(0, 5)).toEqual([
    "Scenario",
    "Design",
    "Ticket desks: Capacity",
    "Ticket machine: Capacity",
    "Commuter: In system, at the end",
  ]);
  expect(copied[1][4]).toBe(await cell(1, 5));

  // A factor edited: the numbers stand, marked.
  const numbers = await cell(3, 5);
  const third = '[data-testid=scenarios] [role=row][aria-rowindex="4"] [aria-colindex="3"]';
  await (await person.find(third)).click();
  await person.press("5");
  await driver.sleep(300);
  await person.press(Key.ENTER);
  await until("it is marked", async () => (await cell(3, 1)).includes("out of date"));
  expect(await cell(3, 5)).toBe(numbers);
  await person.chord(Key.CONTROL, "z");
  await until("undone it fits again", async () => !(await cell(3, 1)).includes("out of date"));

  // A value that cannot be is marked where it stands, and nothing is run.
  await (await person.find(third)).click();
  await person.press("many");
  await driver.sleep(300);
  await person.press(Key.ENTER);
  await person.find(`${third}[aria-invalid=true]`);
  await (await person.find("[data-testid=run-lacking]")).click();
  await person.sees("The cells at fault are marked");
}, 120_000);

test("a run goes on until its precision is reached, and the best of the scenarios is selected", async () => {
  const { person, server } = stage;
  const id = await demo("Hull workshop");
  await person.go(`${server.url}/study/${id}/measure`);
  await (await person.find("[data-testid=precision] [role=checkbox]")).click();
  const to = await person.find("[data-testid=precision] input.field");
  await to.sendKeys(Key.chord(Key.CONTROL, "a"), "40 apples");
  await person.sees("is no half-width of");
  await to.sendKeys(Key.chord(Key.CONTROL, "a"), "30 %");
  await until("that is right", async () => !(await read("[data-testid=precision]")).includes("no half-width"));
  await (await person.find("[data-testid=run]")).click();
  await until("it has stopped", async () =>
    (await read("[data-testid=run-words]")).includes("It stopped at the precision"),
  );
  const [, count] = /^(\d+) of \1 replications/.exec(await read("[data-testid=run-words]"))!;
  expect(Number(count)).toBeGreaterThanOrEqual(10);

  await person.go(`${server.url}/study/${id}/compare?experiment=bay-riggers`);
  await person.click("Select");
  await (await person.find("[data-testid=select-best] form button.button-main")).click();
  await until("one is selected", async () => (await read("[data-testid=selection-words]")).includes("is selected"));
  expect(await read("[data-testid=selection-words]")).toContain("Painting bays 2, Riggers 2");
  // A search over the same factors: begun, stopped, gone on, and what it found made a scenario.
  await person.click("Search");
  const fill = async (label: string, text: string) =>
    (await person.find(`[aria-label='${label}']`)).sendKeys(Key.chord(Key.CONTROL, "a"), text);
  await fill("From, Painting bays", "1");
  await fill("To, Painting bays", "4");
  await fill("Choices, Riggers", "1, 2, 3");
  const search = "[data-testid=search] form button.button-main";
  await until("it can begin", async () => (await person.find(search)).isEnabled());
  await (await person.find(search)).click();
  await until("it runs", async () => (await read("[data-testid=search-words]")).includes("Stop"));
  await (
    await person.driver.findElement(By.xpath("//*[@data-testid='search-words']//button[contains(., 'Stop')]"))
  ).click();
  await until("it is stopped", async () => (await read("[data-testid=search-words]")).includes("Go on"));
  await (
    await person.driver.findElement(By.xpath("//*[@data-testid='search-words']//button[contains(., 'Go on')]"))
  ).click();
  await until("it is over", async () => (await read("[data-testid=search-words]")).includes("is the best found"));
  await person.click("Make it a scenario");
  await until("it is one", async () => ((await saved(id)).experiments?.[0].scenarios.length ?? 0) === 5);
  // Its runs are kept together in the history.
  await person.click("Measure");
  await person.sees("Painting bays and riggers");
}, 120_000);
