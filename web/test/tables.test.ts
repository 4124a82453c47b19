import { compile, readStudy, type Study, type Table, tableSchema } from "@busy-harbor/core";
import { readBlock } from "../src/grid/cells.ts";
import {
  addColumn,
  cellsApart,
  deleteColumn,
  editTable,
  moveColumn,
  putCell,
  renameInUse,
  takeIn,
} from "../src/tables/edits.ts";
import { guessColumn, headerLines } from "../src/tables/guess.ts";
import { arriving, firstTargets, newOf, type Plan, takenIn, writesCommas, wrongIn } from "../src/tables/incoming.ts";
import { footOf } from "../src/tables/columns.ts";
import { useStudy } from "../src/state/study.ts";
import { startHistory } from "../src/state/history.ts";

const known = { elements: ["Ticket desks", "Gangway"], entityTypes: ["Visitor"] };
const holds = (label: string, ...cells: string[]) => {
  const { name, holds: what, unit } = guessColumn(label, cells, known);
  return [name, what, unit];
};

test.each([
  [
    ["Time (min)", "3", "4.5", ""],
    ["Time", "number", "min"],
  ],
  [
    ["Speed [km/h]", "3"],
    ["Speed", "number", "km/h"],
  ],
  [
    ["Note (old)", "3"],
    ["Note (old)", "number", ""],
  ],
  [
    ["Wait", "3 min", "0.5 min"],
    ["Wait", "number", "min"],
  ],
  [
    ["Share", "30 %", "70%"],
    ["Share", "number", ""],
  ],
  [
    ["Heavy", "yes", "No"],
    ["Heavy", "yes or no", ""],
  ],
  [
    ["Open", "1:30", "0:45"],
    ["Open", "duration", "min"],
  ],
  [
    ["Due", "2026-06-24", "2026-06-24 08:30"],
    ["Due", "date", ""],
  ],
  [
    ["Next", "ticket desks", "Gangway"],
    ["Next", "element", ""],
  ],
  [
    ["Who", "visitor"],
    ["Who", "entity type", ""],
  ],
  [
    ["Kind", "cutter", "3"],
    ["Kind", "text", ""],
  ],
  [
    ["Nothing", "", ""],
    ["Nothing", "text", ""],
  ],
])("a column %j is guessed as %j", ([label, ...cells], guess) => {
  expect(holds(label, ...cells)).toEqual(guess);
});

const table = (rows: string[][], more: object = {}): Table =>
  tableSchema.parse({
    id: "t",
    name: "Kinds",
    key: "k",
    columns: [
      { id: "k", name: "Kind", holds: "text" },
      { id: "m", name: "Time", unit: "min" },
    ],
    rows,
    ...more,
  });

const planned = (text: string, into: Table, part: Partial<Plan> = {}) => {
  const { cells } = readBlock(text);
  const plan: Plan = { header: headerLines(cells), commas: writesCommas(cells), mode: "append", targets: [], ...part };
  const coming = arriving(cells, plan, known);
  return takenIn(into, { ...plan, targets: part.targets ?? firstTargets(coming.columns, into) }, coming);
};

describe("lines that come in", () => {
  const two = table([
    ["cutter", "3"],
    ["yawl", "5"],
  ]);

  test("make the columns of a table without rows, and find its key", () => {
    const result = planned("Kind;Time (min);Share\ncutter;3,5;0,25\nyawl;1.234,5;0,75", table([]));
    expect(result.columns.map(({ name, holds: what, unit }) => [name, what, unit])).toEqual([
      ["Kind", "text", ""],
      ["Time", "number", "min"],
      ["Share", "number", ""],
    ]);
    expect(result.rows).toEqual([
      ["cutter", "3.5", "0.25"],
      ["yawl", "1234.5", "0.75"],
    ]);
    expect(result.key).toBe(result.columns[0].id);
  });

  test("go below, in place of, or by key, to columns of their name in whatever order", () => {
    const text = "Time (min)\tKind\n9\tyawl\n7\tsloop";
    expect(planned(text, two).rows).toEqual([
      ["cutter", "3"],
      ["yawl", "5"],
      ["yawl", "9"],
      ["sloop", "7"],
    ]);
    expect(planned(text, two, { mode: "replace" }).rows).toEqual([
      ["yawl", "9"],
      ["sloop", "7"],
    ]);
    expect(planned(text, two, { mode: "update" }).rows).toEqual([
      ["cutter", "3"],
      ["yawl", "9"],
      ["sloop", "7"],
    ]);
    expect(two.rows).toHaveLength(2);
  });

  test("make a new column of what a person says, where the guess is another", () => {
    const { columns } = planned("Kind\tBerth\nyawl\t7", two, { targets: ["k", newOf("text")] });
    expect(columns.map(({ name, holds: what }) => [name, what]).at(-1)).toEqual(["Berth", "text"]);
    const fresh = planned("Berth\tTime (min)\n7\t3", table([]), { targets: [newOf("text"), "new"] });
    expect(fresh.columns.map(({ holds: what, unit }) => [what, unit])).toEqual([
      ["text", ""],
      ["number", "min"],
    ]);
  });

  test("columns without a place are left out unless they are made new", () => {
    expect(planned("Kind\tCrew\nyawl\t2", two).columns).toHaveLength(2);
    const { columns, rows } = planned("Kind\tCrew\nyawl\t2", two, { targets: ["k", "new"] });
    expect([columns[2].name, rows[2]]).toEqual(["Crew", ["yawl", "", "2"]]);
  });

  test("points are no commas", () => {
    expect(writesCommas([["3.5", "1,200.5"]])).toBe(false);
    expect(writesCommas([["3,5"], ["7"], ["1.200,5"]])).toBe(true);
    expect(writesCommas([["abc"], ["12"]])).toBe(false);
  });
});

describe("edits of a table", () => {
  const study = (more: object = {}): Study => {
    const read = readStudy({
      format: "busy-harbor-study",
      version: 1,
      name: "Test",
      tables: [
        table([
          ["cutter", "3"],
          ["yawl", "x"],
        ]),
      ],
      designs: ["d1", "d2"].map((id) => ({
        id,
        name: id,
        entityTypes: [{ id: "v", name: "Visitor", attributes: [{ name: "stay", value: 'Kinds["cutter"].Time' }] }],
      })),
      ...more,
    });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    return read.study;
  };
  // Nothing is saved: there is no server.
  beforeAll(() => void jest.useFakeTimers());
  afterAll(() => void jest.useRealTimers());
  const show = (of: Study) => useStudy.setState({ id: "s", history: startHistory(of), designId: "d1" });
  const now = () => useStudy.getState().history!.present;
  const stays = () => now().designs.map((d) => d.entityTypes[0].attributes[0].value);

  test("what is wrong with cells is known before they are there", () => {
    const of = study();
    expect(wrongIn(of, "d1", of.tables[0]).map((p) => p.field)).toEqual(["cell.1.m"]);
    expect(wrongIn(of, "d1", { ...of.tables[0], rows: [["cutter", "3"]] })).toEqual([]);
  });

  test("a name that is changed is changed in every design, as one step", () => {
    show(study());
    renameInUse({ table: "t", column: "m", to: "Work time" }, "Rename", (t) => void (t.columns[1].name = "Work time"));
    expect(stays()).toEqual(['Kinds["cutter"].`Work time`', 'Kinds["cutter"].`Work time`']);
    renameInUse({ table: "t", row: 0, to: "ketch" }, "Rename", (t) => putCell(t, 0, 0, "ketch"));
    expect(stays()[1]).toBe('Kinds["ketch"].`Work time`');
    expect(now().tables[0].rows[0]).toEqual(["ketch", "3"]);
    useStudy.getState().undo();
    useStudy.getState().undo();
    expect(stays()[0]).toBe('Kinds["cutter"].Time');
  });

  test("a design's own version is edited alone, and its columns stay those of the study's", () => {
    const own = table([["cutter", "8"]]);
    const base = study();
    show({ ...base, designs: [{ ...base.designs[0], tables: [own] }, base.designs[1]] });
    editTable("t", "Edit", (t) => putCell(t, 0, 1, "9"));
    expect(now().tables[0].rows[0]).toEqual(["cutter", "3"]);
    expect(now().designs[0].tables[0].rows).toEqual([["cutter", "9"]]);
    expect(cellsApart(now().tables[0], now().designs[0].tables[0])).toBe(3);
    const [kind, time] = now().tables[0].columns;
    takeIn({ ...own, columns: [time, kind], rows: [["4", "sloop"]] }, "Take in");
    expect(now().designs[0].tables[0].rows).toEqual([["4", "sloop"]]);
    expect(now().tables[0].rows).toEqual([
      ["3", "cutter"],
      ["x", "yawl"],
    ]);
  });

  test("a column added is the same in every version of a table", () => {
    const base = study();
    show({ ...base, designs: [{ ...base.designs[0], tables: [table([["cutter", "8"]])] }, base.designs[1]] });
    const id = addColumn(now().designs[0].tables[0]);
    expect([now().tables[0], now().designs[0].tables[0]].map((t) => t.columns.at(-1)?.id)).toEqual([id, id]);
  });

  test("cells go with their column", () => {
    const of = table([["a", "1"], ["b"]]);
    moveColumn(of, "m", -1);
    expect(of.rows).toEqual([
      ["1", "a"],
      ["", "b"],
    ]);
    moveColumn(of, "m", -1);
    expect(of.columns.map(({ id }) => id)).toEqual(["m", "k"]);
    deleteColumn(of, "k");
    expect([of.rows, of.key]).toEqual([[["1"], [""]], ""]);
  });

  test("the foot has sum and mean in the unit of the column, whatever unit cells have", () => {
    const of = study({
      tables: [
        table([
          ["a", "1"],
          ["b", "1 h"],
          ["c", ""],
        ]),
      ],
    });
    const [source] = compile(of).model.tables;
    expect(footOf(of.tables[0].columns[1], source, of.tables[0])).toEqual(["sum 61", "mean 30.5"]);
    expect(footOf(of.tables[0].columns[0], source, of.tables[0])).toEqual(["3 filled"]);
  });
});
