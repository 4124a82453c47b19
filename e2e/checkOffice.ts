import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { tableSchema } from "@busy-harbor/core";
import { readWorkbook } from "../web/src/tables/spreadsheet/readWorkbook.ts";
import { writeWorkbook } from "../web/src/tables/spreadsheet/writeWorkbook.ts";

/**
 * Shows that spreadsheets go both ways between Busy Harbor and an independent office program: one that the program
 * wrote is read rightly, and one that is written here opens there with the right types. Prints a line a check.
 */
const folder = mkdtempSync(join(tmpdir(), "harbor-office-"));

/** Has the office program write a file in another format; returns its path. */
function converted(path: string, to: string): string {
  const done = spawnSync(
    "soffice",
    [`-env:UserInstallation=file://${folder}/profile`, "--headless", "--convert-to", to, "--outdir", folder, path],
    { encoding: "utf8", timeout: 120_000 },
  );
  if (done.status !== 0) throw new Error(`The office program did not write ${to}: ${done.stderr}`);
  return path.replace(/\.\w+$/, `.${to}`);
}

let wrong = 0;
function check(what: string, found: unknown, wanted: unknown): void {
  const [a, b] = [JSON.stringify(found), JSON.stringify(wanted)];
  if (a !== b) wrong += 1;
  console.log(a === b ? `right  ${what}` : `WRONG  ${what}: found ${a}, wanted ${b}`);
}

const cell = (type: string, value: string, more = "") =>
  `<table:table-cell office:value-type="${type}" ${value} ${more}/>`;
const text = (words: string, more = "") =>
  `<table:table-cell office:value-type="string" ${more}><text:p>${words}</text:p></table:table-cell>`;
const number = (value: number, more = "") => cell("float", `office:value="${value}"`, more);
const formula = (words: string) => `<table:table-cell table:formula="of:=${words}"/>`;
const row = (cells: readonly string[], more = "") => `<table:table-row ${more}>${cells.join("")}</table:table-row>`;
const sheet = (name: string, rows: readonly string[], more = "") =>
  `<table:table table:name="${name}" ${more}>${rows.join("")}</table:table>`;

const SHEETS = [
  sheet("Boats", [
    row([text("Boats of the yard")]),
    row([]),
    row([
      text("Kind", 'table:number-rows-spanned="2"'),
      text("Work", 'table:number-columns-spanned="2"'),
      "<table:covered-table-cell/>",
      ...["Due", "Open", "Share", "Heavy", "Twice", "Wrong", "Call"].map((name) => text(name)),
    ]),
    row(["<table:covered-table-cell/>", text("least"), text("most")]),
    row([
      text("cutter"),
      number(1.5),
      number(3),
      cell("date", 'office:date-value="2026-06-24T06:30:00"', 'table:style-name="moment"'),
      cell("time", 'office:time-value="PT26H15M00S"', 'table:style-name="hours"'),
      cell("percentage", 'office:value="0.25"', 'table:style-name="share"'),
      cell("boolean", 'office:boolean-value="true"', 'table:style-name="truth"'),
      formula("[.B5]+[.C5]*2"),
      formula("1/0"),
      text("0071"),
    ]),
    row([text("hidden"), number(9)], 'table:visibility="collapse"'),
    row([
      text("yawl &amp; ketch"),
      number(0.1),
      number(1e6),
      cell("date", 'office:date-value="2026-01-02"', 'table:style-name="day"'),
      cell("time", 'office:time-value="PT00H45M30S"', 'table:style-name="hours"'),
      cell("percentage", 'office:value="1.5"', 'table:style-name="share"'),
      cell("boolean", 'office:boolean-value="false"', 'table:style-name="truth"'),
      formula("CONCATENATE(&quot;a&quot;;&quot;b&quot;)"),
      "<table:table-cell/>",
      text("12,5"),
    ]),
  ]),
  sheet("Notes", [row([text("n")]), row([number(-2)])]),
];

const STYLES = `<number:date-style style:name="N1"><number:year number:style="long"/><number:text>-</number:text><number:month number:style="long"/><number:text>-</number:text><number:day number:style="long"/><number:text> </number:text><number:hours number:style="long"/><number:text>:</number:text><number:minutes number:style="long"/></number:date-style>
<number:date-style style:name="N2"><number:year number:style="long"/><number:text>-</number:text><number:month number:style="long"/><number:text>-</number:text><number:day number:style="long"/></number:date-style>
<number:time-style style:name="N3" number:truncate-on-overflow="false"><number:hours/><number:text>:</number:text><number:minutes number:style="long"/><number:text>:</number:text><number:seconds number:style="long"/></number:time-style>
<number:percentage-style style:name="N4"><number:number number:decimal-places="0" number:min-integer-digits="1"/><number:text>%</number:text></number:percentage-style>
<number:boolean-style style:name="N5"><number:boolean/></number:boolean-style>
${[
  ["moment", "N1"],
  ["day", "N2"],
  ["hours", "N3"],
  ["share", "N4"],
  ["truth", "N5"],
]
  .map(
    ([name, style]) => `<style:style style:name="${name}" style:family="table-cell" style:data-style-name="${style}"/>`,
  )
  .join("\n")}`;

const NAMESPACES = ["office", "table", "text", "style", "number"]
  .map((name) => `xmlns:${name}="urn:oasis:names:tc:opendocument:xmlns:${name === "number" ? "datastyle" : name}:1.0"`)
  .join(" ");

async function checkReading(): Promise<void> {
  const path = join(folder, "boats.fods");
  writeFileSync(
    path,
    `<?xml version="1.0" encoding="UTF-8"?><office:document ${NAMESPACES} xmlns:of="urn:oasis:names:tc:opendocument:xmlns:of:1.2" office:version="1.3" office:mimetype="application/vnd.oasis.opendocument.spreadsheet"><office:automatic-styles>${STYLES}</office:automatic-styles><office:body><office:spreadsheet>${SHEETS.join("")}</office:spreadsheet></office:body></office:document>`,
  );
  const { ranges, notes } = await readWorkbook(new Uint8Array(readFileSync(converted(path, "xlsx"))));
  check(
    "the ranges",
    ranges.map(({ sheet: name, address }) => `${name} ${address}`),
    ["Boats A1:A1", "Boats A3:J7", "Notes A1:A2"],
  );
  const [, boats] = ranges;
  check("merged headings stand in each of their cells", boats.cells[0].slice(0, 4), ["Kind", "Work", "Work", "Due"]);
  check("the second line of headings", boats.cells[1].slice(0, 3), ["Kind", "least", "most"]);
  check("numbers, a moment, a duration, a share, yes, a formula, an error, digits that are text", boats.cells[2], [
    ...["cutter", "1.5", "3", "2026-06-24 06:30", "26:15", "25 %", "yes", "7.5", "", "0071"],
  ]);
  check("a hidden row is left out, and the next is as it stands", boats.cells[3], [
    ...["yawl & ketch", "0.1", "1000000", "2026-01-02", "0:45:30", "150 %", "no", "ab", "", "12,5"],
  ]);
  check("what is left out is told", notes, [
    "One hidden row was left out.",
    "One cell holds an error, and is empty here.",
  ]);
  check("numbers below 0", ranges[2].cells, [["n"], ["-2"]]);
}

/** Cells of a sheet as the office program understands them: their type and value. */
function understood(flat: string, name: string): string[][] {
  const [, body = ""] = new RegExp(`<table:table table:name="${name}".*?>(.*?)</table:table>`, "s").exec(flat) ?? [];
  return [...body.matchAll(/<table:table-row[^>]*>(.*?)<\/table:table-row>/gs)].map(([, cells]) =>
    [...cells.matchAll(/<table:table-cell([^>]*?)(?:\/>|>(.*?)<\/table:table-cell>)/gs)].flatMap(
      ([, about, inside]) => {
        const type = /office:value-type="(\w+)"/.exec(about)?.[1];
        if (!type) return [];
        // A truth is a formula to it.
        const truth = /table:formula="of:=(TRUE|FALSE)\(\)"/.exec(about)?.[1];
        if (truth) return [`boolean ${truth.toLowerCase()}`];
        const value = /office:(?:boolean-|date-|time-)?value="([^"]*)"/.exec(about)?.[1];
        return [`${type} ${value ?? /<text:p[^>]*>(.*?)<\/text:p>/s.exec(inside)?.[1] ?? ""}`];
      },
    ),
  );
}

async function checkWriting(): Promise<void> {
  const column = (id: string, holds: string, unit = "") => ({ id, name: id, holds, unit });
  const table = tableSchema.parse({
    id: "t",
    name: "Kinds: all",
    columns: [
      column("kind", "text"),
      column("time", "number", "min"),
      column("due", "date"),
      column("open", "duration"),
      column("heavy", "yes or no"),
      column("work", "expression", "min"),
    ],
    rows: [
      ["007", "2.5", "2026-06-24 06:30", "26:15", "yes", "exponential(3 min)"],
      ["=1+1", "-1e3", "2026-06-24", "0:45:30", "no", "5"],
    ],
  });
  const path = join(folder, "out.xlsx");
  writeFileSync(path, await writeWorkbook([table, { ...table, name: "kinds / all", rows: [] }]));
  const flat = readFileSync(converted(path, "fods"), "utf8");
  const names = [...flat.matchAll(/<table:table table:name="([^"]*)"/g)].map(([, name]) => name);
  check("sheets have names that a spreadsheet may have, each its own", names, ["Kinds  all", "kinds   all"]);
  const [head, first, second] = understood(flat, "Kinds  all");
  check("the header has units", head, [
    ...["kind", "time (min)", "due", "open", "heavy", "work (min)"].map((words) => `string ${words}`),
  ]);
  check("types and values of a row", first, [
    "string 007",
    "float 2.5",
    "date 2026-06-24T06:30:00",
    "time PT26H15M00S",
    "boolean true",
    "string exponential(3 min)",
  ]);
  check("what looks like a formula is text, and nothing is worked out", second.slice(0, 5), [
    "string =1+1",
    "float -1000",
    "date 2026-06-24",
    "time PT00H45M30S",
    "boolean false",
  ]);
  const again = await readWorkbook(new Uint8Array(readFileSync(converted(join(folder, "out.fods"), "xlsx"))));
  check("and what the office program saves again is read as it was", again.ranges[0].cells.slice(1), [
    ["007", "2.5", "2026-06-24 06:30", "26:15", "yes", "exponential(3 min)"],
    ["=1+1", "-1000", "2026-06-24", "0:45:30", "no", "5"],
  ]);
}

void (async () => {
  await checkReading();
  await checkWriting();
  console.log(wrong === 0 ? "Spreadsheets go both ways." : `${wrong} wrong.`);
  process.exitCode = wrong === 0 ? 0 : 1;
})();
