import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { By, Key } from "selenium-webdriver";
import { useStage } from "./support/stage.ts";

const stage = useStage();

const until = async (what: string, good: () => Promise<boolean>) => {
  for (let i = 0; i < 150; i++) {
    // What is looked at may just be drawn anew.
    if (await good().catch(() => false)) return;
    await stage.person.driver.sleep(100);
  }
  throw new Error(`It never came to this: ${what}.`);
};
const read = (css: string) => stage.person.text(css);
/** Texts of the numbers behind the chart: a list a row. */
const numbers = async (): Promise<string[][]> => {
  const rows = await stage.person.driver.findElements(By.css("[data-testid=chosen-view] tbody tr"));
  return Promise.all(rows.map(async (row) => (await row.getText()).split(" ")));
};
const setBox = async (label: string, value: string) => {
  const box = await stage.person.driver.findElement(By.xpath(`//label[contains(., ${JSON.stringify(label)})]/input`));
  await box.sendKeys(Key.chord(Key.CONTROL, "a"), value, Key.TAB);
};

/** Takes the chart of the chosen measure out. */
const tool = async (words: string) =>
  (
    await stage.person.driver.findElement(By.xpath(`//*[@data-testid='chosen-view']//button[contains(., '${words}')]`))
  ).click();
const choose = async (label: string, option: string) =>
  stage.person.chooseIn(await stage.person.find(`[aria-label="${label}"]`), option);

beforeAll(async () => {
  const { person, server } = stage;
  const studies = (await (await fetch(`${server.url}/api/studies`)).json()) as { id: string; name: string }[];
  await person.go(`${server.url}/study/${studies.find((s) => s.name.startsWith("Foot"))!.id}/measure`);
  await (await person.find("[data-testid=run]")).click();
  await person.sees("40 of 40 replications");
});

test("times in system are kept, and drawn in bins of one's own with the numbers behind them", async () => {
  const { person } = stage;
  await person.click("Histogram");
  await person.sees("single observations of it were not kept");
  await person.click("Keep them, and run again");
  await person.sees("Run 2: One shared line");
  await person.find("[data-testid=bins]");
  await person.sees("Kept one by one");
  await until("all are there", async () => /40 replications/.test(await read("[data-testid=histogram-words]")));
  const all = Number(/([\d,]+) observations/.exec(await read("[data-testid=histogram-words]"))![1].replace(",", ""));

  await setBox("Width, min", "5");
  await setBox("Start, min", "1");
  await setBox("Bins", "3");
  await until("three bins are there", async () => (await numbers()).length === 3);
  await until("they begin where it is said", async () => (await numbers())[0][0] === "1");
  const rows = await numbers();
  expect(rows.map(([from, to]) => [from, to])).toEqual([
    ["1", "6"],
    ["6", "11"],
    ["11", "16"],
  ]);
  // What lies outside of all bins is told, and with it all are there.
  const words = await read("[data-testid=histogram-words]");
  const outside = [...words.matchAll(/([\d.]+) % lie/g)].reduce((sum, [, share]) => sum + Number(share), 0);
  const inside = rows.reduce((sum, row) => sum + Number(row[2]), 0);
  expect(outside).toBeGreaterThan(0);
  expect(inside / all + outside / 100).toBeCloseTo(1, 3);

  // A width that cannot be read changes nothing, and stays as it is typed.
  await setBox("Width, min", "x");
  expect(await numbers()).toEqual(rows);
  await setBox("Width, min", "5");

  await person.driver.executeScript(
    "navigator.clipboard.writeText = (text) => ((window.copied = text), Promise.resolve())",
  );
  await tool("Numbers");
  const copied = await person.driver.executeScript<string>("return window.copied");
  expect(copied.split("\n").filter((line) => line.trim() !== "")).toHaveLength(4);
  await tool("SVG");
  await until("the drawing is saved", () =>
    Promise.resolve(readdirSync(person.downloads).some((name) => name.endsWith(".svg"))),
  );
  const drawing = readdirSync(person.downloads).find((name) => name.endsWith(".svg"))!;
  const svg = readFileSync(join(person.downloads, drawing), "utf8");
  expect(svg).toContain('xmlns="http://www.w3.org/2000/svg"');
  // Colours are those seen, not names of the page's.
  expect(svg).not.toMatch(/fill: var|class=/);
  await tool("PNG");
  await until("the picture is saved", () =>
    Promise.resolve(readdirSync(person.downloads).some((name) => name.endsWith(".png"))),
  );
});

test("the same is read as a distribution function, a box, over time and by the hour", async () => {
  const { person } = stage;
  await person.click("Distribution function");
  await person.sees("Quantiles are exact");
  const quantiles = (await numbers()).map(([, value]) => Number(value));
  expect(quantiles).toEqual([...quantiles].sort((a, b) => a - b));
  await person.click("Box plot");
  await until("the box is there", async () => (await numbers())[0]?.[0] === "Observations");
  await person.click("Over time");
  await person.sees("Means of pieces of 42 s, over 40 replications.");
  await setBox("Pieces of time", "7");
  await until("seven pieces are there", async () => (await numbers()).length === 7);
  expect((await numbers()).map(([time]) => time)).toEqual(["5", "15", "25", "35", "45", "55", "65"]);
  await person.click("By hour");
  await until("two hours are there", async () => (await numbers()).length === 2);
  expect((await numbers()).map(([hour]) => hour)).toEqual(["08:00", "09:00"]);
  expect(await person.errors()).toEqual([]);
});

test("the table is put together otherwise, turned, set beside another run, and copied; the level changes without a run", async () => {
  const { person } = stage;
  const { driver } = person;
  const cell = (row: string, nth: number) =>
    read(`[data-testid=results] [data-row$="${row}"] [aria-colindex="${nth}"]`);
  const half = () => cell("/timeInSystem.mean", 3);
  await person.write(await person.find("[aria-label='Find a measure']"), "commuter time in system, mean");
  const before = Number(await half());
  await person.fill("Level, %", "99");
  await until("the interval is wider", async () => Number(await half()) > before * 1.2);
  await person.fill("Level, %", "95");
  await until("it is what it was", async () => Number(await half()) === before);

  // The same random numbers again: no difference at all.
  await choose("Beside another run", "beside run 1, One shared line");
  await until("the other run is there", async () => (await cell("/timeInSystem.mean", 6)) === "0");
  await person.sees("replications are paired");
  await driver.executeScript("navigator.clipboard.writeText = (text) => ((window.copied = text), Promise.resolve())");
  await (await person.find("[aria-label='Copy the table']")).click();
  const [head, row] = (await driver.executeScript<string>("return window.copied")).split(/\r?\n/);
  expect(head.split("\t").slice(0, 2)).toEqual(["Figure", "Mean"]);
  // In full, not as it is rounded.
  expect(row.split("\t")[1].length).toBeGreaterThan(8);

  await person.write(await person.find("[aria-label='Find a measure']"), "time");
  await choose("Put together by", "measure");
  await until("measures head the rows", async () => (await read("[data-testid=results]")).includes("Time worked on"));
  await person.click("Pivot");
  await choose("Rows", "measure");
  await choose("Columns", "element");
  await choose("Values", "mean");
  await until("it is turned", async () =>
    /Commuter[\s\S]*Visitor[\s\S]*Time in system[\s\S]*min/.test(await read("[data-testid=pivot]")),
  );
  expect(await person.errors()).toEqual([]);
});
