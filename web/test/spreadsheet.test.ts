import ExcelJS from "exceljs";
import { zipSync } from "fflate";
import { tableSchema } from "@busy-harbor/core";
import { blockOf, lettersOf } from "../src/tables/spreadsheet/address.ts";
import { checkArchive, partsLost } from "../src/tables/spreadsheet/guard.ts";
import { putSheet } from "../src/tables/spreadsheet/putSheet.ts";
import { readText } from "../src/tables/spreadsheet/readText.ts";
import { readWorkbook } from "../src/tables/spreadsheet/readWorkbook.ts";
import { sheetNameRefusal } from "../src/tables/spreadsheet/sheetName.ts";
import { writeWorkbook } from "../src/tables/spreadsheet/writeWorkbook.ts";

async function file(fill: (workbook: ExcelJS.Workbook) => void): Promise<Uint8Array> {
  const workbook = new ExcelJS.Workbook();
  fill(workbook);
  return new Uint8Array((await workbook.xlsx.writeBuffer()) as ArrayBuffer);
}
const refused = async (bytes: Uint8Array): Promise<string> =>
  readWorkbook(bytes).then(
    () => "taken",
    (error: Error) => error.message,
  );

test("cells come as a person reads them: dates, times, percent, formulas, yes and no, rich text", async () => {
  const bytes = await file((workbook) => {
    const sheet = workbook.addWorksheet("Boats");
    sheet.addRow(["Kind", "Due", "At", "Open", "Share", "Heavy", "Sum", "Note", "None"]);
    sheet.addRow([
      " cutter ",
      new Date(Date.UTC(2026, 5, 24)),
      new Date(Date.UTC(2026, 5, 24, 6, 30)),
      1.5 / 24,
      0.3,
      true,
      { formula: "1+2", result: 3 },
      { richText: [{ text: "fast" }, { text: " boat" }] },
      { formula: "[2]Other!A1" },
    ]);
    sheet.getCell("B2").numFmt = "yyyy-mm-dd";
    sheet.getCell("C2").numFmt = "yyyy-mm-dd hh:mm";
    sheet.getCell("D2").numFmt = "[h]:mm";
    sheet.getCell("E2").numFmt = "0 %";
    sheet.addRow(["yawl", null, null, null, 0.1 + 0.2, false, { error: "#N/A" }]);
    // Formulas that come to nothing, and to no.
    sheet.addRow(["ketch", ...[0, false].map((result) => ({ formula: "A1", result }))]);
  });
  const { ranges, notes } = await readWorkbook(bytes);
  expect(ranges.map(({ sheet, address }) => `${sheet} ${address}`)).toEqual(["Boats A1:I4"]);
  expect(ranges[0].cells.slice(1)).toEqual([
    ["cutter", "2026-06-24", "2026-06-24 06:30", "1:30", "30 %", "yes", "3", "fast boat", ""],
    ["yawl", "", "", "", "0.3", "no", "", "", ""],
    ["ketch", "0", "no", "", "", "", "", "", ""],
  ]);
  expect(notes).toEqual(["One formula has no value in the file.", "One cell holds an error, and is empty here."]);
});

test("filled ranges are found wherever they stand, merged cells are filled, hidden rows and sheets left out", async () => {
  const bytes = await file((workbook) => {
    const sheet = workbook.addWorksheet("Plan");
    sheet.getCell("C4").value = "Name";
    sheet.getCell("D4").value = "Value";
    sheet.getCell("C5").value = "a";
    sheet.mergeCells("C5:C6");
    sheet.getCell("D5").value = 1;
    sheet.getCell("D6").value = 2;
    sheet.getCell("D7").value = 3;
    sheet.getRow(7).hidden = true;
    sheet.getCell("D8").value = 4;
    sheet.getCell("G5").value = "beside";
    sheet.getCell("A12").value = "below";
    workbook.addWorksheet("Secret", { state: "hidden" }).getCell("A1").value = "x";
  });
  const { ranges, notes } = await readWorkbook(bytes);
  expect(ranges.map(({ address, cells }) => [address, cells])).toEqual([
    [
      "C4:D8",
      [
        ["Name", "Value"],
        ["a", "1"],
        ["a", "2"],
        ["", "4"],
      ],
    ],
    ["G5:G5", [["beside"]]],
    ["A12:A12", [["below"]]],
  ]);
  expect(notes).toEqual(["One hidden row was left out."]);
});

test("blocks beside one another are found each as far as it is filled, however they overlap", async () => {
  const bytes = await file((workbook) => {
    const sheet = workbook.addWorksheet("Plan");
    const fill = (columns: string, from: number, to: number) => {
      for (const column of columns)
        for (let row = from; row <= to; row++) sheet.getCell(`${column}${row}`).value = column;
    };
    fill("BC", 3, 11);
    fill("FGH", 5, 8);
    // Below the second, apart from it but not from the first.
    fill("G", 10, 12);
  });
  const { ranges } = await readWorkbook(bytes);
  expect(ranges.map(({ address, cells }) => `${address} ${cells.length}`)).toEqual([
    "B3:C11 9",
    "F5:H8 4",
    "G10:G12 3",
  ]);
});

test("what is written is read again as it was", async () => {
  const table = tableSchema.parse({
    id: "t",
    name: "Kinds: all/of them",
    columns: [
      { id: "a", name: "Kind", holds: "text" },
      { id: "b", name: "Time", holds: "number", unit: "min" },
      { id: "c", name: "Open", holds: "duration", unit: "min" },
      { id: "d", name: "Due", holds: "date" },
      { id: "e", name: "Heavy", holds: "yes or no" },
    ],
    rows: [
      ["cutter", "3.5", "1:30", "2026-06-24 06:30", "yes"],
      ["007", "2 h", "45 min"],
      ["=1+1", "1e3"],
    ],
  });
  const bytes = await writeWorkbook([table, { ...table, id: "u" }]);
  const { ranges } = await readWorkbook(bytes);
  expect(ranges).toHaveLength(2);
  expect(new Set(ranges.map(({ sheet }) => sheet)).size).toBe(2);
  expect(ranges[0].cells).toEqual([
    ["Kind", "Time (min)", "Open (min)", "Due", "Heavy"],
    ["cutter", "3.5", "1:30", "2026-06-24 06:30", "yes"],
    ["007", "2 h", "45 min", "", ""],
    ["=1+1", "1000", "", "", ""],
  ]);
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load(bytes.buffer as never);
  const [row] = workbook.worksheets[0].getRows(2, 1)!;
  expect([1, 2, 3, 4, 5].map((c) => row.getCell(c).type)).toEqual([
    ExcelJS.ValueType.String,
    ExcelJS.ValueType.Number,
    ExcelJS.ValueType.Date,
    ExcelJS.ValueType.Date,
    ExcelJS.ValueType.Boolean,
  ]);
});

describe("hostile files are refused with a reason", () => {
  const text = (s: string) => new TextEncoder().encode(s);

  test("what is no archive, an old or locked file, a damaged one, one without a workbook", async () => {
    expect(await refused(text("Kind,Time\na,3"))).toBe("This is no .xlsx file, whatever its name says.");
    expect(await refused(new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 1]))).toContain("older spreadsheet");
    expect(await refused(new Uint8Array([0x50, 0x4b, 3, 4, 9, 9]))).toContain("damaged");
    expect(await refused(zipSync({ "readme.txt": text("hello") }))).toBe("This archive holds no spreadsheet.");
    expect(await refused(zipSync({ "xl/workbook.xml": text("<workbook") }))).toMatch(/damaged|no filled cells/);
  });

  test("an archive that unpacks to a thousand times its size, before it is unpacked", () => {
    const bomb = zipSync({ "xl/workbook.xml": text("<x/>"), "xl/sheet.xml": new Uint8Array(40 * 1024 * 1024) });
    expect(bomb.length).toBeLessThan(100_000);
    expect(() => checkArchive(bomb)).toThrow(/would unpack to 40 MB in 2 parts/);
  });

  test("a sheet of more columns than a table has", async () => {
    const bytes = await file((workbook) => {
      const sheet = workbook.addWorksheet("Wide");
      sheet.addRow(Array.from({ length: 1200 }, (_, i) => i));
    });
    expect(await refused(bytes)).toContain("has 1200 columns; a table has at most 1000");
  });

  test("a million rows without a cell are passed over", async () => {
    const text = (body: string) => new TextEncoder().encode(body);
    const rows = Array.from({ length: 1_000_000 }, (_, i) => `<row r="${i + 1}" ht="${(i * 7919) % 9973}"/>`).join("");
    const main = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
    const office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    const bytes = zipSync({
      "[Content_Types].xml": text(
        '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/></Types>',
      ),
      "_rels/.rels": text(
        `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
      ),
      "xl/workbook.xml": text(
        `<workbook ${main} xmlns:r="${office}"><sheets><sheet name="Empty" sheetId="1" r:id="r1"/></sheets></workbook>`,
      ),
      "xl/_rels/workbook.xml.rels": text(
        `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
      ),
      "xl/worksheets/sheet1.xml": text(`<worksheet ${main}><sheetData>${rows}</sheetData></worksheet>`),
    });
    expect(bytes.length).toBeGreaterThan(1_000_000);
    expect(await refused(bytes)).toBe("There are no filled cells in this file.");
  }, 60_000);

  test("an empty one", async () => {
    expect(await refused(await file((workbook) => void workbook.addWorksheet("Empty")))).toContain("no filled cells");
  });
});

describe("rows put on a named sheet", () => {
  const content = (run: number, mode: "clear" | "append" = "clear", sheet = "Results") => ({
    sheet,
    head: ["Run", "Mean"],
    rows: [
      [run, 1.5],
      [run, ""],
    ],
    mode,
  });
  const sheets = async (bytes: Uint8Array) => {
    const { ranges } = await readWorkbook(bytes);
    return ranges.map(({ sheet, cells }) => [sheet, ...cells.map((line) => line.join("|"))]);
  };

  test("make a spreadsheet, go below what is there, or take its place; other sheets stay", async () => {
    const first = await putSheet(undefined, content(1));
    expect(await sheets(first)).toEqual([["Results", "Run|Mean", "1|1.5", "1|"]]);
    const second = await putSheet(first, content(2, "append", "results"));
    expect(await sheets(second)).toEqual([["Results", "Run|Mean", "1|1.5", "1|", "2|1.5", "2|"]]);
    const other = await putSheet(second, content(3, "append", "Night"));
    const third = await putSheet(other, content(4, "clear"));
    expect(await sheets(third)).toEqual([
      ["Results", "Run|Mean", "4|1.5", "4|"],
      ["Night", "Run|Mean", "3|1.5", "3|"],
    ]);
  });

  test("are refused by a file of which something would be lost, which stays as it is", async () => {
    const bytes = await file((workbook) => {
      const sheet = workbook.addWorksheet("Plan");
      sheet.getCell("A1").value = "x";
      const id = workbook.addImage({ buffer: Buffer.from("89504e470d0a1a0a", "hex") as never, extension: "png" });
      sheet.addImage(id, "B2:C3");
    });
    expect(partsLost(bytes)).toEqual(["drawings"]);
    await expect(putSheet(bytes, content(1))).rejects.toThrow("The file has drawings, which would be lost.");
    await expect(putSheet(new Uint8Array([1, 2]), content(1))).rejects.toThrow("This is no .xlsx file");
    expect(
      partsLost(zipSync({ "xl/charts/chart1.xml": new Uint8Array(), "xl/vbaProject.bin": new Uint8Array() })),
    ).toEqual(["charts", "macros"]);
  });

  test("a sheet's name is one that a spreadsheet may have", () => {
    for (const name of ["", "  ", "a/b", "x".repeat(32), "'quoted'", "[1]"])
      expect(sheetNameRefusal(name)).toBeDefined();
    for (const name of ["Results", "Night 2", "x".repeat(31)]) expect(sheetNameRefusal(name)).toBeUndefined();
  });
});

describe("a text of cells", () => {
  const latin = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

  test("is read as UTF-8, or as office programs of old write it", () => {
    expect(readText(new TextEncoder().encode("Kind;Größe\nJolle;3,5\n"))).toEqual([
      ["Kind", "Größe"],
      ["Jolle", "3,5"],
    ]);
    expect(readText(latin("Kind;Gr\u00f6\u00dfe\nJolle;3,5\n"))[0]).toEqual(["Kind", "Größe"]);
  });

  test("that is larger than a table may be, or cannot be told apart, is refused", () => {
    expect(() => readText(latin("a,b\n".repeat(200_006)))).toThrow("The text has 200006 lines");
    expect(() => readText(latin("a,".repeat(1001)))).toThrow("The text has 1002 columns");
    expect(() => readText(latin('a,"b\n1,2'))).toThrow("A quotation mark in row 1 is not closed");
    expect(() => readText(latin("  \n"))).toThrow("There are no cells in it.");
  });
});

test("columns have the letters of a spreadsheet", () => {
  expect([1, 26, 27, 52, 702, 703].map(lettersOf)).toEqual(["A", "Z", "AA", "AZ", "ZZ", "AAA"]);
  expect(blockOf("B3:AA20")).toEqual({ left: 2, top: 3, right: 27, bottom: 20 });
  expect(blockOf("B3")).toBeUndefined();
});
