import { type Table, type TableLink, tableLinkSchema, tableSchema } from "@busy-harbor/core";
import { headerLines } from "../src/tables/guess.ts";
import { arriving, cameFrom, firstTargets, takenIn } from "../src/tables/incoming.ts";
import { cellsAt } from "../src/tables/linked/cellsAt.ts";
import { changesOf, sayChanges } from "../src/tables/linked/changes.ts";
import { linkOf } from "../src/tables/linked/linkOf.ts";
import { refreshed } from "../src/tables/linked/refreshed.ts";
import type { FilledRange } from "../src/tables/spreadsheet/readWorkbook.ts";

const known = { elements: [], entityTypes: [] };
const boats = (rows: string[][], more: object = {}): Table =>
  tableSchema.parse({
    id: "t",
    name: "Boats",
    key: "k",
    columns: [
      { id: "k", name: "Kind", holds: "text" },
      { id: "m", name: "Work", unit: "h" },
      { id: "n", name: "Note", holds: "text" },
    ],
    rows,
    ...more,
  });
const link = (more: Partial<TableLink> = {}): TableLink =>
  tableLinkSchema.parse({
    folder: "data",
    file: "boats.xlsx",
    sheet: "Boats",
    cells: "B3:C5",
    columns: [
      { name: "Kind", to: "k" },
      { name: "Hours", to: "m" },
    ],
    ...more,
  });

describe("the range of a linked table", () => {
  const range = (address: string, cells: string[][], rows: number[], sheet = "Boats"): FilledRange => ({
    sheet,
    address,
    cells,
    rows,
  });
  const filled = range(
    "B3:C6",
    [
      ["Kind", "Hours"],
      ["cutter", "3"],
      ["yawl", "5"],
      ["sloop", "8"],
    ],
    [3, 4, 5, 6],
  );

  test("follows the rows that were added below, and begins where it did though more stands around it", () => {
    expect(cellsAt([filled], "Boats", "B3:C5", false)).toHaveLength(4);
    // A title was written above, and a column of remarks at the left: the range begins at A1 now.
    const around = range(
      "A2:C5",
      [
        ["", "Boats of the yard", ""],
        ["old", "Kind", "Hours"],
        ["", "cutter", "3"],
        ["", "yawl", "5"],
      ],
      [2, 3, 4, 5],
    );
    expect(cellsAt([around], "Boats", "B3:C5", false)).toEqual([
      ["Kind", "Hours"],
      ["cutter", "3"],
      ["yawl", "5"],
    ]);
  });

  test("is just its cells where it is pinned, hidden rows left out, over several filled ranges", () => {
    const beside = range("E4:E6", [["x"], ["y"], ["z"]], [4, 5, 6]);
    const hidden = { ...filled, cells: [...filled.cells.slice(0, 1), ...filled.cells.slice(2)], rows: [3, 5, 6] };
    expect(cellsAt([hidden, beside], "Boats", "C3:E5", true)).toEqual([
      ["Hours", "", ""],
      ["", "", "x"],
      ["5", "", "y"],
    ]);
  });

  test("that is gone, or whose sheet is, is told", () => {
    expect(() => cellsAt([filled], "Ships", "B3:C5", false)).toThrow('The file has no filled sheet "Ships".');
    expect(() => cellsAt([filled], "Boats", "F9:G12", false)).toThrow("Nothing stands at F9 of the sheet Boats");
    expect(() => cellsAt([filled], "Boats", "F9:G12", true)).toThrow("The pinned cells are empty.");
  });
});

describe("a table that is read again", () => {
  const before = boats([
    ["cutter", "3", "by crane"],
    ["yawl", "5", ""],
    ["ketch", "9", "slow"],
  ]);
  const cells = [
    ["Hours", "Kind", "Owner"],
    ["5", "yawl", "Ada"],
    ["8", "sloop", "Bo"],
    ["4", "cutter", "Cy"],
  ];

  test("takes its columns by name, keeps the cells of others with their rows, and says what changes", () => {
    const { table, missing, unused } = refreshed(before, link(), cells);
    expect(table.rows).toEqual([
      ["yawl", "5", ""],
      ["sloop", "8", ""],
      ["cutter", "4", "by crane"],
    ]);
    expect(missing).toEqual([]);
    expect(unused).toEqual(["Owner"]);
    const changes = changesOf(before, table);
    expect(changes).toEqual([
      { what: "new", row: "sloop", column: "", was: "", becomes: "sloop, 8" },
      { what: "changed", row: "cutter", column: "Work", was: "3", becomes: "4" },
      { what: "gone", row: "ketch", column: "", was: "ketch, 9, slow", becomes: "" },
    ]);
    expect(sayChanges(changes)).toBe("1 row new, 1 row changed, 1 row gone");
    expect(sayChanges(changesOf(before, before))).toBe("nothing has changed");
  });

  test("updated by key loses no row", () => {
    const { table } = refreshed(before, link({ mode: "update" }), cells);
    expect(table.rows).toEqual([
      ["cutter", "4", "by crane"],
      ["yawl", "5", ""],
      ["ketch", "9", "slow"],
      ["sloop", "8", ""],
    ]);
  });

  test("keeps the cells of a column that the file has no more, and says so", () => {
    const { table, missing } = refreshed(before, link(), [["Kind"], ["yawl"], ["cutter"]]);
    expect(missing).toEqual(["Hours"]);
    expect(table.rows).toEqual([
      ["yawl", "5", ""],
      ["cutter", "3", "by crane"],
    ]);
  });

  test("without a key is compared row by row, by number", () => {
    const list = boats(
      [
        ["a", "1"],
        ["b", "2"],
      ],
      { key: "" },
    );
    const { table } = refreshed(list, link(), [
      ["Kind", "Hours"],
      ["b", "2"],
    ]);
    expect(changesOf(list, table).map(({ what, row, column }) => [what, row, column])).toEqual([
      ["changed", "1", "Kind"],
      ["changed", "1", "Work"],
      ["gone", "2", ""],
    ]);
  });

  test("is read as it was taken in the first time: new columns, those of its own, decimal commas, two header lines", () => {
    const lines = [
      ["Boat", "Work", "Work"],
      ["Kind", "least", "most"],
      ["cutter", "1,5", "3"],
      ["yawl", "2,5", "4"],
    ];
    expect(headerLines(lines)).toBe(2);
    const fresh = boats([], { columns: [], key: "" });
    const plan = { header: 2, commas: true, mode: "replace" as const, targets: [] as string[] };
    const coming = arriving(lines, plan, known);
    expect(coming.names).toEqual(["Boat Kind", "Work least", "Work most"]);
    const targets = ["new", "", "new"];
    const taken = takenIn(fresh, { ...plan, targets }, coming);
    const made = linkOf({ folder: "data", path: "boats.csv" }, undefined, { ...plan, targets }, coming.names, taken);
    expect(made.columns).toEqual([
      { name: "Boat Kind", to: taken.columns[0].id },
      { name: "Work most", to: taken.columns[1].id },
    ]);
    expect(refreshed(taken, made, [...lines, ["ketch", "3", "4,25"]]).table.rows).toEqual([
      ["cutter", "3"],
      ["yawl", "4"],
      ["ketch", "4.25"],
    ]);
    // One more column to those that are there: it stands behind them.
    const more = { ...plan, targets: [taken.columns[0].id, "new", ""] };
    const wider = takenIn(taken, more, coming);
    expect(linkOf({ folder: "", path: "x.csv" }, undefined, more, coming.names, wider).columns).toEqual([
      { name: "Boat Kind", to: taken.columns[0].id },
      { name: "Work least", to: wider.columns[2].id },
    ]);
    expect(firstTargets(coming.columns, fresh)).toEqual(["new", "new", "new"]);
  });
});

test("one line of names is one, and numbers alone have none", () => {
  expect(
    headerLines([
      ["Kind", "Time"],
      ["a", "1"],
    ]),
  ).toBe(1);
  expect(
    headerLines([
      ["1", "2"],
      ["3", "4"],
    ]),
  ).toBe(0);
  expect(
    headerLines([
      ["Monday", "", "Tuesday", ""],
      ["from", "to", "from", "to"],
      ["8", "12", "9", "12"],
    ]),
  ).toBe(2);
  expect(
    headerLines([
      ["Monday", "Monday", "Tuesday", "Tuesday"],
      ["from", "to", "from", "to"],
      ["8", "12", "9", "12"],
    ]),
  ).toBe(2);
});

test("a heading over several columns is part of the name of each, whether it is merged or stands once", () => {
  const below = ["Kind", "from", "to", "from", "to"];
  const names = (heading: string[]) =>
    arriving(
      [heading, below, ["a", "1", "2", "3", "4"]],
      { header: 2, commas: false, mode: "replace", targets: [] },
      known,
    ).names;
  const wanted = ["Kind", "Monday from", "Monday to", "Tuesday from", "Tuesday to"];
  expect(names(["", "Monday", "Monday", "Tuesday", "Tuesday"])).toEqual(wanted);
  expect(names(["", "Monday", "", "Tuesday", ""])).toEqual(wanted);
});

test("each line that comes in is known by the row that it becomes, and each column by where it came from", () => {
  const before = boats([
    ["cutter", "3"],
    ["yawl", "5"],
  ]);
  const lines = [
    ["Hours", "Kind", "Owner"],
    ["7", "sloop", "Bo"],
    ["4", "cutter", "Cy"],
  ];
  const plan = { header: 1, commas: false, mode: "update" as const, targets: ["m", "k", "new"] };
  const became: [number, number][] = [];
  const coming = arriving(lines, plan, known);
  const result = takenIn(before, plan, coming, (row, line) => void became.push([row, line]));
  expect(became).toEqual([
    [2, 0],
    [0, 1],
  ]);
  expect(result.rows.map((row) => row[0])).toEqual(["cutter", "yawl", "sloop"]);
  const came = cameFrom(plan, result);
  expect([...came]).toEqual([
    ["m", 0],
    ["k", 1],
    [result.columns[3].id, 2],
  ]);
});
