import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { tableSchema } from "@busy-harbor/core";
import { By, Key } from "selenium-webdriver";
import { readWorkbook } from "../web/src/tables/spreadsheet/readWorkbook.ts";
import { writeWorkbook } from "../web/src/tables/spreadsheet/writeWorkbook.ts";
import { useStage } from "./support/stage.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const KINDS = [
  "Kind\tWork (min)\tShare\tDesk\tOpen",
  "cutter\t3\t0.5\tTicket desks\t1:30",
  "dinghy\t4,5\t0.3\tTicket machine\t0:45",
  "yawl\t7\t0.2\tTicket desks\t2:00",
].join("\n");

/** What the clipboard holds is pasted where the focus is. */
const paste = (text: string) =>
  stage.person.driver.executeScript(
    `const data = new DataTransfer();
     data.setData("text/plain", arguments[0]);
     document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));`,
    text,
  );
const grid = () => stage.person.find("[data-testid=table-grid]");
const cells = async () => {
  const found = await (await grid()).findElements(By.css("[data-row] [role=gridcell]"));
  return Promise.all(found.map((cell) => cell.getText()));
};
const button = async (within: string, words: string) =>
  (await stage.person.find(within)).findElement(By.xpath(`.//button[normalize-space(.)=${JSON.stringify(words)}]`));

test("a block pasted into an empty table makes its columns, and what would not be understood is told before", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.click("Tables");
  await person.sees("A table holds what a model is driven by");
  await (await button("aside[aria-label=Tables]", "Table")).click();
  await (await grid()).click();
  await paste(KINDS);
  await person.sees("3 rows of 5 columns");
  await person.sees("Table, row 2, Work");
  expect(await person.text("[data-testid=refused]")).toContain("line 3, place 2:");
  const commas = await person.driver.findElement(
    By.xpath("//label[contains(., '3,5 means three and a half')]//button"),
  );
  await commas.click();
  await person.driver.wait(
    async () => !(await person.text("[data-testid=incoming]")).includes("would not be understood"),
    5000,
    "The comma is still not understood",
  );
  await person.click("Take in");
  await person.sees("3 rows taken in from the clipboard.");
  expect((await cells()).slice(0, 5)).toEqual(["cutter", "3", "0.5", "Ticket desks", "1:30"]);
  expect(await person.text("[data-testid=grid-foot]")).toMatch(/sum 14\.5\s+mean 4\.83/);
});

test("an expression reads it by completion, and goes along when the table and its column are called otherwise", async () => {
  const { person } = stage;
  const name = await person.find("[aria-label='Name of the table']");
  await person.write(name, "Boats");
  await person.press(Key.ENTER);
  await person.click("Floor");
  const desks = await person.onFloor("Ticket desks");
  await person.clickAt(desks.x, desks.y);
  await person.fill("Time", 'Boats["cutter"].');
  await person.driver.actions().sendKeys("Wo").perform();
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css(".cm-tooltip-autocomplete li"))).length === 1,
    5000,
    "Its column is not offered",
  );
  // What has only just come up is not taken yet, lest a key meant for something else does.
  await person.driver.sleep(200);
  await person.press(Key.ARROW_DOWN, Key.ENTER);
  await person.sees('Boats["cutter"].Work each');
  await person.click("Tables");
  await person.find("[data-testid=table-grid]");
  await person.sees("Ticket desks, time");
  await (await grid()).click();
  await person.press(Key.HOME, Key.ARROW_RIGHT);
  const named = `return document.querySelector("[aria-label='Name of the column']")?.value`;
  await person.driver.wait(
    async () => (await person.driver.executeScript(named)) === "Work",
    5000,
    "The card is not that of the column gone to",
  );
  await person.write(await person.find("[aria-label='Name of the column']"), "Service time");
  await person.press(Key.ENTER);
  await person.sees("The new name is written in one expression too.");
  const use = await person.driver.findElement(By.xpath("//aside//button[contains(., 'Ticket desks, time')]"));
  expect(await use.getAttribute("data-tip")).toBe('Boats["cutter"].`Service time`');
  await use.click();
  await person.sees("Takes entities from");
});

test("a design has its own version, which says in how many cells it differs, and a slip leads to its cell", async () => {
  const { person } = stage;
  await person.click("Tables");
  await person.click("Own version");
  await person.sees("has its own, and it is the same");
  await (await grid()).click();
  await person.press(Key.chord(Key.CONTROL, Key.HOME), Key.ARROW_RIGHT);
  await person.driver.actions().sendKeys("6 m").perform();
  await person.press(Key.ENTER);
  await person.sees("differs in 1 cell");
  await person.sees("a time is wanted");
  // From the problem on the design's card back to the cell.
  await person.click("Floor");
  await person.onFloor("Ticket desks");
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  const problem = await person.driver.wait(
    async () => (await person.driver.findElements(By.xpath("//button[contains(., 'Boats, row 1, Service time')]")))[0],
    8000,
    "The problem is not told on the floor",
  );
  await problem!.click();
  await person.find("[data-testid=table-grid]");
  await person.driver.wait(
    async () => (await (await grid()).getAttribute("aria-activedescendant"))?.endsWith("-0-1"),
    5000,
    "The cell was not gone to",
  );
  await person.driver.actions().sendKeys("6").perform();
  await person.press(Key.ENTER);
  await person.driver.wait(
    async () => !(await person.text("aside[aria-label='Columns and uses']")).includes("a time is wanted"),
    5000,
    "The problem stays",
  );
  await person.click("Take the study's");
  await person.sees("The study's, for all designs");
  expect((await cells())[1]).toBe("3");
  await person.chord(Key.CONTROL, "z");
  await person.sees("differs in 1 cell");
  expect(await person.errors()).toEqual([]);
});

test("a spreadsheet is taken in by key, off the page's thread, and all tables are saved as one", async () => {
  const { person } = stage;
  const folder = mkdtempSync(join(tmpdir(), "harbor-tables-"));
  const columns = ["Desk", "Kind", "Service time"].map((name, i) => ({ id: `c${i}`, name, holds: "text" }));
  const file = (rows: string[][]) =>
    writeWorkbook([
      tableSchema.parse({ id: "t", name: "Boats", columns, rows }),
      tableSchema.parse({ id: "u", name: "Notes", columns: [{ id: "n", name: "Note", holds: "text" }], rows: [["x"]] }),
    ]);
  const path = join(folder, "boats.xlsx");
  const rows = [
    ["Ticket machine", "yawl", "9 min"],
    ["Ticket desks", "sloop", "11 min"],
  ];
  writeFileSync(path, await file(rows));
  await (await person.find("[data-testid=table-file]")).sendKeys(path);
  await person.sees("2 rows of 3 columns");
  expect(await person.text("[data-testid=incoming]")).toContain("Boats, A1:C3");
  await person.click("Take in");
  await person.sees("2 rows taken in from boats.xlsx.");
  const now = await cells();
  expect(now.slice(0, 2)).toEqual(["cutter", "6"]);
  expect(now.slice(10, 14)).toEqual(["yawl", "9 min", "0.2", "Ticket machine"]);
  expect(now.slice(15, 19)).toEqual(["sloop", "11 min", "", "Ticket desks"]);

  // What is no spreadsheet is refused by what it is, whatever it is called.
  const wrong = join(folder, "wrong.xlsx");
  writeFileSync(wrong, "Kind,Time");
  await (await person.find("[data-testid=table-file]")).sendKeys(wrong);
  await person.sees("This is no .xlsx file, whatever its name says.");

  await (await person.find("[aria-label='Save as a file']")).click();
  await person.click("All tables as XLSX");
  const saved = () => readdirSync(person.downloads).find((name) => name.endsWith("tables.xlsx"));
  await person.driver.wait(async () => saved() !== undefined, 10_000, "No file was saved");
  const { ranges } = await readWorkbook(new Uint8Array(readFileSync(join(person.downloads, saved()!))));
  expect(ranges[0].cells[4]).toEqual(["sloop", "11 min", "", "Ticket desks", ""]);
  expect(await person.errors()).toEqual([]);
});

test("a source gets a seed of its own, and only what it drives changes; arrivals are held the same", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Hull workshop");
  await person.onFloor("Painting bay");
  /** Mean and half-width of a measure, found by words. */
  const reading = async (words: string, row: string) => {
    await person.write(await person.find("[aria-label='Find a measure']"), words);
    const cell = async (nth: number) => (await person.find(`[data-row$="${row}"] [aria-colindex="${nth}"]`)).getText();
    return { mean: await cell(2), halfWidth: await cell(3) };
  };
  const figures = async (run: number) => {
    await (await person.find("[data-testid=run]")).click();
    await person.click("Measure");
    await person.sees(`Run ${run}: As it is`, 60_000);
    await person.sees("20 of 20 replications of 60 d", 60_000);
    return {
      arrived: await reading("slip created", "slip/created"),
      stays: await reading("dinghy time in system", "Dinghy/timeInSystem.mean"),
    };
  };
  const first = await figures(1);
  await person.click("Build");
  await person.onFloor("Painting bay");
  await person.click("Random sources");
  const sources = await person.find("[data-testid=sources-grid]");
  expect(await sources.getText()).toContain("entity.route.work");
  // The painting bay's work: its row is found by typing, its seed is written in its cell.
  await (await person.find("[aria-label='Filter rows']")).sendKeys("painting time");
  await person.driver.wait(
    async () => (await sources.findElements(By.css("[role=row][data-row]"))).length === 1,
    5000,
    "The filter does not find the painting bay's work",
  );
  await sources.click();
  await person.press(Key.chord(Key.CONTROL, Key.HOME), Key.END, Key.ARROW_LEFT);
  await person.driver.actions().sendKeys("77").perform();
  await person.press(Key.ENTER);
  await person.driver.wait(async () => (await sources.getText()).includes("77"), 5000, "The seed is not there");
  const pinned = await figures(2);
  expect(pinned.arrived).toEqual(first.arrived);
  expect(pinned.stays.mean).not.toBe(first.stays.mean);

  await person.click("Build");
  await person.onFloor("Painting bay");
  await person.click("Random sources");
  await person.click("Count draws");
  await person.driver.wait(
    async () =>
      /^[\d,]+$/.test(await person.text("[data-testid=sources-grid] [data-row]:first-of-type [aria-colindex='5']")),
    20_000,
    "The draws are not counted",
  );
  await person.click("Hold arrivals the same, vary the rest");
  await person.sees("Arrivals held the same, all else new.");
  const held = await figures(3);
  // The same number arrives in each replication: there is no spread.
  expect(Number(held.arrived.halfWidth)).toBe(0);
  expect(Number(first.arrived.halfWidth)).toBeGreaterThan(0);
  expect(held.stays.mean).not.toBe(pinned.stays.mean);
  expect(await person.errors()).toEqual([]);
});

test("a demand profile is the rows of a table, and follows them", async () => {
  const { person } = stage;
  const study = {
    format: "busy-harbor-study",
    version: 1,
    name: "Calls by the hour",
    tables: [
      {
        id: "calls",
        name: "Calls seen",
        columns: [
          { id: "at", name: "From", holds: "duration", unit: "h" },
          { id: "came", name: "Came" },
        ],
        rows: [
          ["8", "30"],
          ["10", "22"],
          ["12", "0"],
        ],
      },
    ],
    designs: [{ id: "d", name: "Base", entityTypes: [{ id: "t", name: "Call" }] }],
  };
  const id = await storeStudy(stage.server, study);
  await person.go(`${stage.server.url}/study/${id}/build/calendars`);
  await person.click("Demand profile");
  await person.choose("Goes by", "rows of a table");
  await person.choose("Each row", "holds from an hour of each day on");
  // 52 calls a day for fourteen days, of which the first begins at eight.
  await person.sees("728 arrivals expected in these two weeks");
  await person.click("Tables");
  const seen = await person.find("[data-testid=table-grid]");
  await seen.click();
  await person.press(Key.HOME, Key.ARROW_RIGHT, "40", Key.ENTER);
  await person.click("Calendars");
  await person.sees("868 arrivals expected in these two weeks");
  expect(await person.errors()).toEqual([]);
});

test("the times at which calls came make a demand profile, with how sure each rate is", async () => {
  const { person } = stage;
  // Two weeks from a Monday on: three calls from eight to nine on working days, one from twelve to one each day.
  const rows = Array.from({ length: 14 }, (_, day) => {
    const date = `2026-06-${String(day + 1).padStart(2, "0")}`;
    const work = day % 7 < 5 ? ["08:05", "08:20", "08:55"] : [];
    return [...work, "12:30"].map((time) => [`${date} ${time}`]);
  }).flat();
  const study = {
    format: "busy-harbor-study",
    version: 1,
    name: "Calls as they came",
    tables: [{ id: "log", name: "Log", columns: [{ id: "at", name: "Came", holds: "date" }], rows }],
    designs: [{ id: "d", name: "Base", entityTypes: [{ id: "t", name: "Call" }] }],
  };
  const id = await storeStudy(stage.server, study);
  await person.go(`${stage.server.url}/study/${id}/build/calendars`);
  await person.click("Demand profile");
  await person.click("From when they came …");
  await person.sees("44 from 1 Jun 2026 to 14 Jun 2026, both days whole.");
  await person.chooseIn(
    await person.find("[data-testid=stamps] [aria-label='Days of the week']"),
    "working days alike, the weekend alike",
  );
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css("[data-testid=rates-grid] [data-row]"))).length === 3,
    5000,
    "There are not three intervals",
  );
  const found = await (
    await person.find("[data-testid=rates-grid]")
  ).findElements(By.css("[data-row]:first-of-type [role=gridcell]"));
  const texts = await Promise.all(found.map((cell) => cell.getText()));
  // 30 on ten days: 20.24 to 42.83 by the tables, a tenth of that an hour.
  expect(texts.slice(0, 7)).toEqual(["Mon to Fri", "08:00", "09:00", "30", "10", "3", "2.02 to 4.28"]);
  await person.sees("less than by chance: do they come by appointment?");
  await person.click("Use these rates");
  await person.sees("The profile has 3 rows now.");
  await person.sees("44 arrivals expected in these two weeks");
  expect(await person.errors()).toEqual([]);
});
