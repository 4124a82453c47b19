import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { tableSchema } from "@busy-harbor/core";
import { By } from "selenium-webdriver";
import { readWorkbook } from "../web/src/tables/spreadsheet/readWorkbook.ts";
import { writeWorkbook } from "../web/src/tables/spreadsheet/writeWorkbook.ts";
import { useStage } from "./support/stage.ts";

const stage = useStage();

const COLUMNS = [
  { id: "k", name: "Kind", holds: "text" },
  { id: "w", name: "Work", unit: "min" },
];
/** Somebody else writes the spreadsheet, in a folder that the server may read. */
const write = async (rows: string[][]) => {
  const folder = join(stage.server.data, "yard");
  mkdirSync(folder, { recursive: true });
  const bytes = await writeWorkbook([tableSchema.parse({ id: "t", name: "Boats", columns: COLUMNS, rows })]);
  writeFileSync(join(folder, "kinds.xlsx"), bytes);
};
const cellsOf = async (grid: string) => {
  const found = await (await stage.person.find(grid)).findElements(By.css("[data-row] [role=gridcell]"));
  return Promise.all(found.map((cell) => cell.getText()));
};
const button = async (within: string, words: string) =>
  (await stage.person.find(within)).findElement(By.xpath(`.//button[normalize-space(.)=${JSON.stringify(words)}]`));
const box = (words: string) =>
  stage.person.driver.findElement(By.xpath(`//label[contains(., ${JSON.stringify(words)})]//button`));

test("a table is linked to a spreadsheet of the data folder, and what the file changes is shown row by row first", async () => {
  const { person } = stage;
  await write([
    ["cutter", "3"],
    ["yawl", "5"],
    ["ketch", "9"],
  ]);
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.click("Tables");
  await (await button("aside[aria-label=Tables]", "Table")).click();
  await person.write(await person.find("[aria-label='Name of the table']"), "Boats");
  await person.click("Link to a file …");
  await person.sees("yard/kinds.xlsx");
  await (await person.driver.findElement(By.xpath("//button[contains(., 'yard/kinds.xlsx')]"))).click();
  await person.sees("3 rows of 2 columns");
  await person.click("Take in");
  await person.sees("data/yard/kinds.xlsx, sheet Boats");
  await person.sees("From A1 on.");
  expect(await cellsOf("[data-testid=table-grid]")).toEqual(["cutter", "3", "yawl", "5", "ketch", "9"]);

  await write([
    ["cutter", "4"],
    ["yawl", "5"],
    ["sloop", "7"],
  ]);
  await person.click("Refresh …");
  await person.sees("1 row new, 1 row changed, 1 row gone");
  expect(await cellsOf("[data-testid=refresh-grid]")).toEqual([
    ...["cutter", "changed", "Work", "3", "4"],
    ...["sloop", "new row", "", "", "sloop, 7"],
    ...["ketch", "row gone", "", "ketch, 9", ""],
  ]);
  // Nothing is taken in before it is said to be.
  expect(await cellsOf("[data-testid=table-grid]")).toEqual(["cutter", "3", "yawl", "5", "ketch", "9"]);
  await (await button("[data-testid=refresh]", "Take in")).click();
  await person.sees("Taken in: Boats, 1 row new, 1 row changed, 1 row gone.");
  expect(await cellsOf("[data-testid=table-grid]")).toEqual(["cutter", "4", "yawl", "5", "sloop", "7"]);
  await person.click("Undo");
  expect(await cellsOf("[data-testid=table-grid]")).toEqual(["cutter", "3", "yawl", "5", "ketch", "9"]);
  expect(await person.errors()).toEqual([]);
});

test("a run reads the file as it is when it starts and keeps it, and says why where it cannot be read", async () => {
  const { person } = stage;
  await (await box("Read anew at the start of a run")).click();
  await write([["cutter", "2.5"]]);
  await (await person.find("[data-testid=run]")).click();
  await person.sees("Read anew for the run. Boats: 1 row changed, 2 rows gone.");
  const studyId = /study\/([\w-]+)/.exec(await person.driver.getCurrentUrl())![1];
  const run = async () =>
    ((await (await fetch(`${stage.server.url}/api/studies/${studyId}/runs`)).json()) as { state: string }[]).length;
  await person.driver.wait(async () => (await run()) === 1, 10_000, "No run was started");
  const stored = (await (await fetch(`${stage.server.url}/api/studies/${studyId}`)).json()) as {
    study: { tables: { rows: string[][] }[] };
  };
  expect(stored.study.tables[0].rows).toEqual([["cutter", "2.5"]]);

  await person.sees("40 of 40 replications");
  rmSync(join(stage.server.data, "yard", "kinds.xlsx"));
  await (await person.find("[data-testid=run]")).click();
  await person.sees('There is no file "yard/kinds.xlsx" in the folder data.');
  expect(await run()).toBe(1);
});

test("results go onto a sheet of a new spreadsheet, and those of another run below them", async () => {
  const { person } = stage;
  const saved = (name: string) => readdirSync(person.downloads).find((file) => file.includes(name));
  const until = (name: string) =>
    person.driver.wait(async () => saved(name) !== undefined, 10_000, `${name} was not saved`);
  await person.click("XLSX …");
  await person.write(await person.find("[data-testid=sheet-dialog] [aria-label=Sheet]"), "a/b");
  await person.sees("A sheet's name has 1 to 31 characters");
  await person.write(await person.find("[data-testid=sheet-dialog] [aria-label=Sheet]"), "Ferry");
  // The button moves when what was wrong is no longer told.
  await person.driver.wait(
    async () => !(await person.text("[data-testid=sheet-dialog]")).includes("has 1 to 31 characters"),
    10_000,
    "The sheet's name is still wrong",
  );
  await (await button("[data-testid=sheet-dialog]", "Save")).click();
  await person.sees("Run 1 is on the sheet Ferry.");
  await until("run 1.xlsx");
  const first = join(person.downloads, saved("run 1.xlsx")!);
  const rowsOf = async (path: string) => (await readWorkbook(new Uint8Array(readFileSync(path)))).ranges[0].cells;
  const rows = await rowsOf(first);
  expect(rows[0].slice(0, 8)).toEqual(["Run", "Design", "Seed", "Of", "Measure", "Unit", "Mean", "Half-width"]);
  expect(rows[1].slice(0, 3)).toEqual(["1", "One shared line", "2207"]);

  const given = join(stage.server.data, "results.xlsx");
  renameSync(first, given);
  await person.click("XLSX …");
  await person.click("Add to a sheet");
  await person.write(await person.find("[data-testid=sheet-dialog] [aria-label=Sheet]"), "Ferry");
  await (await person.find("[data-testid=sheet-file]")).sendKeys(given);
  await until("results.xlsx");
  const both = await rowsOf(join(person.downloads, saved("results.xlsx")!));
  expect(both).toEqual([...rows, ...rows.slice(1)]);
  // The file that was gone before is all that could not be had.
  expect((await person.errors()).filter((error) => !error.includes("kinds.xlsx"))).toEqual([]);
});
