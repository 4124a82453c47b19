import { produce } from "immer";
import { type Design, type ElementKindName, elementKinds, type Study, studySchema } from "@busy-harbor/core";
import { readBlock, writeBlock, writeCsv } from "../src/grid/cells.ts";
import { planBlock } from "../src/ledger/block.ts";
import { placeIn, type Sheet, sheetsOf } from "../src/ledger/sheet.ts";
import { addElement, addLink, emptyStudy, remove, setNeed } from "../src/state/edits.ts";

const sheetOf = (id: string, design = smallStudy().study.designs[0]): Sheet =>
  sheetsOf(design).find((s) => s.id === id)!;

function smallStudy() {
  const study: Study = studySchema.parse(emptyStudy("Ledger"));
  const [design] = study.designs;
  const [, a, b] = [
    addElement(design, "arrivals", [0, 0]),
    addElement(design, "station", [5, 0]),
    addElement(design, "station", [9, 0]),
    addElement(design, "departures", [14, 0]),
  ];
  [a.name, b.name] = ["Desk 2", "Desk 10"];
  for (let i = 1; i < design.elements.length; i++) addLink(design, design.elements[i - 1].id, design.elements[i].id);
  return { study, design, a, b };
}

function plan(study: Study, sheetId: string, cells: string[][], row = 0, column = 0) {
  const sheet = sheetOf(sheetId);
  const [design] = study.designs;
  return planBlock(cells, {
    study,
    designId: design.id,
    sheet,
    rowIds: sheet.rows(design).map((r) => r.id),
    columns: sheet.columns,
    row,
    column,
  });
}
const names = (design: Design) => design.elements.map((e) => e.name);

test("every cell of every sheet reads back what it shows", () => {
  const { study, design } = smallStudy();
  // Of every kind, so that every sheet has a row.
  for (const [i, kind] of (Object.keys(elementKinds) as ElementKindName[]).entries())
    addElement(design, kind, [i * 5, 40]);
  setNeed(
    design.elements.find((e) => e.kind === "station")!,
    design.elements.find((e) => e.kind === "crew")!.id,
    "2",
    ["setup", "work"],
  );
  const place = placeIn(study, design);
  for (const sheet of sheetsOf(design)) {
    for (const item of sheet.rows(design)) {
      const before = JSON.stringify(item);
      for (const column of sheet.columns)
        expect([column.id, column.write(item, column.read(item, place), place)]).toEqual([column.id, undefined]);
      expect(JSON.stringify(item)).toBe(before);
    }
  }
});

test("cells refuse what they cannot hold, and say why", () => {
  const { study, design, a } = smallStudy();
  const place = placeIn(study, design);
  const write = (sheet: string, column: string, item: Parameters<Sheet["columns"][0]["write"]>[0], text: string) =>
    sheetOf(sheet)
      .columns.find((c) => c.id === column)!
      .write(item, text, place);
  expect(write("station", "name", a, "  ")).toMatch(/name is needed/);
  expect(write("station", "across", a, "5 s")).toMatch(/not a length/);
  expect(write("station", "locked", a, "perhaps")).toMatch(/one of: yes, no/);
  expect(write("links", "to", design.links[0], "Nowhere")).toMatch(/No element is called "Nowhere"/);
  expect(write("links", "from", design.links[0], "Departures")).toMatch(/Nothing goes on from Departures/);
  expect(write("entityTypes", "colour", design.entityTypes[0], "teal")).toMatch(/#0B6E8A/);
  expect(a).toMatchObject({ name: "Desk 2", at: [5, 0], locked: false });
});

test("a block with column names changes rows of the same name and adds the others, placed apart", () => {
  const { study, design, a } = smallStudy();
  const block = plan(
    study,
    "station",
    readBlock("Time\tName\tUnknown\n3 min\tdesk 2\tx\n4 min\tDesk 11\tx\n5 min\tDesk 12\tx\n").cells,
  );
  expect(block).toMatchObject({ changed: 1, added: 2, refusals: [] });
  expect(block.columns.map((c) => c?.id)).toEqual(["time", "name", undefined]);
  expect(names(design)).toHaveLength(4); // planning changes nothing
  const ids = block.apply(design);
  expect(names(design).slice(4)).toEqual(["Desk 11", "Desk 12"]);
  expect(design.elements.filter((e) => e.kind === "station").map((e) => e.time)).toEqual([
    "3 min",
    "exponential(4 min)",
    "4 min",
    "5 min",
  ]);
  expect(ids[0]).toBe(a.id);
  expect(new Set(design.elements.map((e) => String(e.at))).size).toBe(design.elements.length);
});

test("a block without names goes to the active cell and on, and adds rows below", () => {
  const { study, design } = smallStudy();
  const block = plan(
    study,
    "station",
    [
      ["2", "1 min"],
      ["3", "2 min"],
    ],
    1,
    1,
  );
  expect(block).toMatchObject({ changed: 1, added: 1 });
  block.apply(design);
  expect(design.elements.filter((e) => e.kind === "station").map((e) => [e.capacity, e.time])).toEqual([
    ["1", "exponential(4 min)"],
    ["2", "1 min"],
    ["3", "2 min"],
  ]);
});

test("what the model would not take is told before the block is put in, with its row", () => {
  const { study } = smallStudy();
  const block = plan(study, "station", [
    ["Name", "Capacity", "Time"],
    ["Desk 2", "1.5", "5 m"],
    ["", "2", "3 min"],
  ]);
  expect(block.problems.map((p) => [p.name, p.field]).sort()).toEqual([
    ["Desk 2", "capacity"],
    ["Desk 2", "time"],
  ]);
  expect(block.refusals).toEqual([{ row: 2, column: "Name", message: "A name is needed." }]);
});

test("links are added by the names of their ends; none where there is nothing to link", () => {
  const { study, design, a } = smallStudy();
  addElement(design, "crew", [20, 0]).name = "Stewards";
  plan(study, "links", [
    ["From", "To", "Kind", "Time"],
    ["Desk 2", "Departures", "timed", "90 s"],
  ]).apply(design);
  expect(design.links.at(-1)).toMatchObject({ from: a.id, to: design.elements[3].id, kind: "timed", time: "90 s" });
  // Who escorts, and how; what it says not, or no more, is beside.
  const escorted = (how: string) =>
    plan(study, "links", [
      ["From", "To", "Kind", "Carried or escorted by", "Escorted: how"],
      ["Desk 2", "Departures", "escorted", "Stewards", how],
    ]);
  escorted("carried by two").apply(design);
  expect(design.links.at(-1)).toMatchObject({ kind: "escorted", by: design.elements.at(-1)!.id, how: "carries" });
  expect(escorted("dragged").refusals[0].message).toContain("Write one beside it, pushed by one, carried by two.");
  escorted("").apply(design);
  expect(design.links.at(-1)!.how).toBeUndefined();
  const empty: Study = studySchema.parse(emptyStudy("Empty"));
  expect(
    plan(empty, "links", [
      ["From", "To"],
      ["A", "B"],
    ]).refusals[0].message,
  ).toMatch(/two elements/);
});

test("blocks survive the way through a spreadsheet or a file", () => {
  const cells = [
    ["Name", "Note"],
    ["Gate, north", 'says "wait"'],
    ["Tab\there", "two\nlines"],
    ["ünï", "1;2"],
  ];
  expect(readBlock(writeBlock(cells))).toEqual({ cells });
  const forFile = cells.filter((row) => !row[0].includes("\t"));
  expect(readBlock(writeCsv(forFile))).toEqual({ cells: forFile });
  expect(readBlock("a;b\n1;2\n")).toEqual({
    cells: [
      ["a", "b"],
      ["1", "2"],
    ],
  });
});

test("text that is no block says why", () => {
  expect(readBlock("\n \n").problem).toMatch(/no cells/);
  expect(readBlock('Name,Note\nGate,"open\nRoad,x').problem).toMatch(/quotation mark in row 2 is not closed/);
});

describe("needs of resources by stations", () => {
  const study = studySchema.parse({
    ...(emptyStudy("Needs") as object),
    designs: [
      {
        id: "d",
        name: "D",
        elements: [
          {
            kind: "station",
            id: "a",
            name: "Dock",
            at: [0, 0],
            needs: [{ id: "n1", anyOf: ["fit", "rig"], count: "2", phases: ["setup", "work"] }],
          },
          { kind: "station", id: "b", name: "Yard", at: [9, 0] },
          { kind: "crew", id: "fit", name: "Fitters", at: [0, 9] },
          { kind: "equipment", id: "rig", name: "Rig", at: [9, 9] },
        ],
      },
    ],
  });
  const [design] = study.designs;
  const sheet = sheetsOf(design).find((s) => s.id === "needs")!;
  const place = placeIn(study, design);
  const cell = (of: typeof design, row: string, column: string) =>
    sheet.columns
      .find((c) => c.id === column)!
      .read(
        sheet.rows(of).find((r) => r.id === row)!,
        place,
      );
  const write = (row: string, column: string, text: string) => {
    let why: string | undefined;
    const after = produce(
      design,
      (d) =>
        void (why = sheet.columns
          .find((c) => c.id === column)!
          .write(
            sheet.rows(d).find((r) => r.id === row)!,
            text,
            place,
          )),
    );
    return { after, why };
  };

  test("a row a station, a column a resource, with counts, phases and what else would do", () => {
    expect(sheet.columns.map((c) => c.label)).toEqual(["Name", "Fitters", "Rig"]);
    expect([cell(design, "a", "fit"), cell(design, "a", "rig"), cell(design, "b", "fit")]).toEqual([
      "2 setup, work or Rig",
      "2 setup, work or Fitters",
      "",
    ]);
  });

  test("a cell gives, changes and takes away a need", () => {
    expect(cell(write("b", "rig", "3").after, "b", "rig")).toBe("3");
    expect(cell(write("b", "rig", "1 teardown").after, "b", "rig")).toBe("1 teardown");
    expect(cell(write("a", "fit", "4").after, "a", "rig")).toBe("4 setup, work or Fitters");
    // Pasted back as it was shown, it stays.
    expect(cell(write("a", "fit", "2 setup, work or Rig").after, "a", "fit")).toBe("2 setup, work or Rig");
    const without = write("a", "fit", "").after;
    expect([cell(without, "a", "fit"), cell(without, "a", "rig")]).toEqual(["", "2 setup, work"]);
    expect(write("b", "fit", "setup").why).toMatch(/how many/);
  });

  test("there is no such tab without resources", () => {
    expect(sheetsOf({ ...design, elements: design.elements.slice(0, 2) }).some((s) => s.id === "needs")).toBe(false);
  });

  test("deleting one of two resources that would do leaves the other", () => {
    const after = produce(design, (d) => void remove(d, new Set(["fit"])));
    expect(cell(after, "a", "rig")).toBe("2 setup, work");
  });
});

test("a setting without use shows nothing until it says something of its own, and is not lost by being looked at", () => {
  const { design, a, study } = smallStudy();
  const column = sheetOf("station").columns.find((c) => c.id === "setupBy")!;
  const place = placeIn(study, design);
  expect(column.read(a, place)).toBe("");
  expect([column.write(a, "", place), (a as { setupBy: string }).setupBy]).toEqual([undefined, "entity.type"]);
  column.write(a, "entity.colour", place);
  expect(column.read(a, place)).toBe("entity.colour");
  const [queue] = [addElement(design, "station", [0, 0])];
  Object.assign(queue, { setupWhen: "on change" });
  expect(column.read(queue, place)).toBe("entity.type");
});
