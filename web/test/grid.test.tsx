/** @jest-environment jsdom */
import "./setup.ts";
import { act, createEvent, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { useArrangements } from "../src/grid/arrangements.ts";
import type { Entry, GridColumn } from "../src/grid/column.ts";
import { ColumnsMenu } from "../src/grid/ColumnsMenu.tsx";
import { filled, goOn } from "../src/grid/fill.ts";
import { Grid } from "../src/grid/Grid.tsx";
import { cellAfter, rangeOf } from "../src/grid/range.ts";
import { useGrid } from "../src/grid/useGrid.ts";

interface Quay {
  readonly id: string;
  readonly name: string;
  readonly depth: string;
  readonly side: string;
}

const quay = (id: string, name: string, depth: string, side: string): Quay => ({ id, name, depth, side });
const FIVE = [
  quay("a", "Berth 10", "4", "north"),
  quay("b", "Berth 2", "12", "south"),
  quay("c", "Slip", "", "north"),
  quay("d", "Berth 1", "6", "south"),
  quay("e", "Basin", "8", "north"),
];

const COLUMNS: readonly GridColumn<Quay>[] = [
  { id: "name", label: "Name", width: 120, frozen: true, read: (r) => r.name },
  {
    id: "depth",
    label: "Depth (m)",
    width: 80,
    mono: true,
    read: (r) => r.depth,
    value: (r) => (r.depth ? Number(r.depth) : undefined),
  },
  { id: "side", label: "Side", width: 80, read: (r) => r.side, choices: () => ["north", "south", "east"] },
];

// The page in tests lays nothing out: a grid of so many pixels, however much it holds.
const SIZE = {
  scrollHeight: 5_000_000,
  scrollWidth: 5000,
  offsetHeight: 300,
  offsetWidth: 500,
  clientHeight: 300,
  clientWidth: 500,
};
beforeAll(() => {
  for (const [name, value] of Object.entries(SIZE))
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => value });
  Element.prototype.scrollTo = function (this: Element, to?: ScrollToOptions | number) {
    if (typeof to === "object" && to.top !== undefined) this.scrollTop = to.top;
    setTimeout(() => act(() => void this.dispatchEvent(new Event("scroll"))));
  } as Element["scrollTo"];
});
beforeEach(() => act(() => useArrangements.setState({ of: {} })));

const wrote: { what: string; cells: string[] }[] = [];
const pasted: { cells: string[][]; at: unknown }[] = [];

function Quays({ first, filter, groupBy }: { first: readonly Quay[]; filter?: string; groupBy?: string }) {
  const [rows, setRows] = useState(first);
  const model = useGrid({ id: "quays", rows, columns: COLUMNS, rowId: idOf, filter, groupBy });
  const [selection, select] = useState<readonly string[]>([]);
  const write = (what: string, entries: readonly Entry<Quay>[]) => {
    if (entries.some((e) => e.column.id === "name" && e.text === "")) return "A name is needed.";
    wrote.push({ what, cells: entries.map((e) => `${e.row.id}.${e.column.id}=${e.text}`) });
    setRows((now) =>
      now.map((r) =>
        entries
          .filter((e) => e.row.id === r.id)
          .reduce<Quay>((quayNow, e) => ({ ...quayNow, [e.column.id]: e.text }), r),
      ),
    );
    return undefined;
  };
  return (
    <>
      <ColumnsMenu model={model} />
      <Grid
        model={model}
        label="Quays"
        numbered
        selection={selection}
        follows
        onSelect={select}
        onWrite={write}
        onPaste={(cells, at) => pasted.push({ cells, at })}
        headingOf={(row, count) => `${row.side}: ${count}`}
        empty="No quays."
      />
      <output>{selection.join(" ")}</output>
    </>
  );
}
const idOf = (row: Quay) => row.id;

const grid = () => screen.getByLabelText("Quays");
const cellsShown = () => within(grid()).queryAllByRole("gridcell");
const column = (index: number) =>
  within(grid())
    .getAllByRole("row")
    .slice(1)
    .map((row) => within(row).queryAllByRole("gridcell")[index]?.textContent);

function open(first: readonly Quay[] = FIVE, more: { filter?: string; groupBy?: string } = {}) {
  wrote.length = pasted.length = 0;
  const user = userEvent.setup();
  render(<Quays first={first} {...more} />);
  act(() => grid().focus());
  return user;
}

test("a click on a column's name sorts by it: numbers as numbers, numbers in names too, what is empty last; a third click ends it", async () => {
  const user = open();
  await user.click(screen.getByRole("button", { name: "Depth (m)" }));
  expect(column(1)).toEqual(["4", "6", "8", "12", ""]);
  expect(screen.getByRole("columnheader", { name: "Depth (m)" }).getAttribute("aria-sort")).toBe("ascending");
  await user.click(screen.getByRole("button", { name: "Depth (m)" }));
  expect(column(1)).toEqual(["12", "8", "6", "4", ""]);
  await user.click(screen.getByRole("button", { name: "Depth (m)" }));
  expect(column(1)).toEqual(["4", "12", "", "6", "8"]);
  await user.click(screen.getByRole("button", { name: "Name" }));
  expect(column(0)).toEqual(["Basin", "Berth 1", "Berth 2", "Berth 10", "Slip"]);
});

test("by keyboard a column is sorted and sized", async () => {
  const user = open();
  await user.keyboard("{ArrowRight}{Alt>}{ArrowDown}{/Alt}");
  expect(column(1)).toEqual(["12", "8", "6", "4", ""]);
  const width = () => screen.getByRole("columnheader", { name: "Depth (m)" }).style.width;
  await user.keyboard("{Alt>}{ArrowRight}{ArrowRight}{/Alt}");
  expect(width()).toBe("112px");
  await user.keyboard("{Alt>}{ArrowLeft}{ArrowLeft}{ArrowLeft}{ArrowLeft}{ArrowLeft}{ArrowLeft}{/Alt}");
  expect(width()).toBe("44px");
});

test("rows have every word looked for, in whatever column, hidden or not", async () => {
  act(() => useArrangements.setState({ of: { quays: { columnVisibility: { side: false } } } }));
  open(FIVE, { filter: "berth SOUTH" });
  expect(screen.queryByRole("columnheader", { name: "Side" })).toBeNull();
  expect(column(0)).toEqual(["Berth 2", "Berth 1"]);
});

test("columns are hidden, moved and kept at the left from the list of columns", async () => {
  const user = open();
  const names = () => screen.getAllByRole("columnheader").map((h) => h.textContent);
  expect(names()).toEqual(["Name", "Depth (m)", "Side"]);
  await user.click(screen.getByRole("button", { name: "Columns" }));
  await user.click(screen.getByRole("button", { name: "Keep Side at the left" }));
  expect(names()).toEqual(["Name", "Side", "Depth (m)"]);
  await user.click(screen.getByRole("checkbox", { name: "Name" }));
  expect(names()).toEqual(["Side", "Depth (m)"]);
});

test("typing writes over a cell and Enter goes down; Escape gives up; what is refused stays in the cell", async () => {
  const user = open();
  await user.keyboard("Quay 7{Enter}");
  expect(wrote).toEqual([{ what: "", cells: ["a.name=Quay 7"] }]);
  expect(document.querySelector("output")!.textContent).toBe("b");
  await user.keyboard("Nowhere{Escape}");
  expect(column(0)).toEqual(["Quay 7", "Berth 2", "Slip", "Berth 1", "Basin"]);
  await user.keyboard("{F2}");
  const field = screen.getByLabelText("Name") as HTMLInputElement;
  expect(field.value).toBe("Berth 2");
  await user.clear(field);
  await user.keyboard("{Enter}");
  expect(screen.getByLabelText("Name").getAttribute("aria-invalid")).toBe("true");
  await user.keyboard("Berth 3{Tab}");
  expect(column(0)[1]).toBe("Berth 3");
  expect(wrote).toHaveLength(2);
});

test("a cell of few values offers them as one types, and takes no others", async () => {
  const user = open();
  await user.keyboard("{ArrowRight}{ArrowRight}s");
  const offered = () => screen.getAllByRole("option").map((o) => o.textContent);
  expect(offered()).toEqual(["south", "east"]);
  await user.keyboard("o{Enter}");
  expect(wrote.at(-1)?.cells).toEqual(["a.side=south"]);
  await user.keyboard("{Enter}");
  expect(offered()).toEqual(["north", "south", "east"]);
  await user.keyboard("{ArrowDown}{Tab}");
  expect(column(2)[1]).toBe("east");
});

test("Shift chooses a block; it is filled down, cleared and copied as a spreadsheet has it", async () => {
  const user = open();
  await user.keyboard("{ArrowRight}{Shift>}{ArrowDown}{ArrowDown}{/Shift}");
  expect(document.querySelector("output")!.textContent).toBe("a b c");
  await user.keyboard("{Control>}d{/Control}");
  expect(wrote.at(-1)).toEqual({ what: "Fill down", cells: ["b.depth=4", "c.depth=4"] });
  const data = { text: "", setData: (_: string, text: string) => void (data.text = text) };
  fireEvent(grid(), createEvent.copy(grid(), { clipboardData: data }));
  expect(data.text).toBe("4\n4\n4");
  await user.keyboard("{Delete}");
  expect(wrote.at(-1)?.cells).toEqual(["a.depth=", "b.depth=", "c.depth="]);
});

test("a block goes to the first cell chosen; a single text fills all that are", async () => {
  const user = open();
  const paste = (text: string) =>
    fireEvent(grid(), createEvent.paste(grid(), { clipboardData: { getData: () => text } }));
  await user.keyboard("{ArrowDown}{ArrowRight}{Shift>}{ArrowDown}{/Shift}");
  paste("1\t2\n3\t4\n");
  expect(pasted).toEqual([
    {
      cells: [
        ["1", "2"],
        ["3", "4"],
      ],
      at: { row: 1, column: 1 },
    },
  ]);
  paste("9");
  expect(wrote.at(-1)?.cells).toEqual(["b.depth=9", "c.depth=9"]);
});

test("the corner of a block is dragged to go on with its steps", async () => {
  open([quay("a", "A", "2", "north"), quay("b", "B", "4", "north"), ...FIVE.slice(2)]);
  const at = (row: number) => ({ clientX: 46 + 120 + 10, clientY: 28 * (row + 1) + 10, button: 0, buttons: 1 });
  const point = (kind: string, target: Element, row: number) =>
    fireEvent(target, new MouseEvent(`pointer${kind}`, { bubbles: true, cancelable: true, ...at(row) }));
  point("down", cellsShown()[1], 0);
  point("move", grid(), 1);
  point("up", grid(), 1);
  point("down", grid().querySelector("[data-fill]")!, 1);
  point("move", grid(), 4);
  point("up", grid(), 4);
  expect(wrote.at(-1)?.cells).toEqual(["c.depth=6", "d.depth=8", "e.depth=10"]);
});

test("groups have headings that fold; while rows are sorted there are none", async () => {
  const user = open(FIVE, { groupBy: "side" });
  expect(column(0)).toEqual(["north: 3", "Berth 10", "Slip", "Basin", "south: 2", "Berth 2", "Berth 1"]);
  await user.keyboard("{ArrowLeft}");
  expect(column(0)).toEqual(["north: 3", "south: 2", "Berth 2", "Berth 1"]);
  await user.keyboard("{ArrowRight}");
  await user.click(screen.getByRole("button", { name: "Depth (m)" }));
  expect(column(0)).toEqual(["Berth 10", "Berth 1", "Basin", "Berth 2", "Slip"]);
});

test("of 100,000 rows those in sight are drawn, and the last is a key away", async () => {
  const many = Array.from({ length: 100_000 }, (_, i) => quay(`q${i}`, `Quay ${i}`, String(i), "north"));
  const user = open(many);
  const drawn = () => within(grid()).getAllByRole("row").length;
  expect(drawn()).toBeLessThan(40);
  expect(grid().getAttribute("aria-rowcount")).toBe("100001");
  await user.keyboard("{Control>}{End}{/Control}");
  expect(document.querySelector("output")!.textContent).toBe("q99999");
  await waitFor(() => expect(column(0)).toContain("Quay 99999"));
  expect(drawn()).toBeLessThan(40);
});

test("steps go on where numbers are even and of one unit; all else is repeated", () => {
  expect(goOn(["2 min", "4 min"], 3)).toEqual(["6 min", "8 min", "10 min"]);
  expect(goOn(["0.1", "0.2"], 2)).toEqual(["0.3", "0.4"]);
  expect(goOn(["5", "3"], 3)).toEqual(["1", "-1", "-3"]);
  expect(goOn(["7"], 2)).toEqual(["7", "7"]);
  expect(goOn(["2 min", "4 h"], 2)).toEqual(["2 min", "4 h"]);
  expect(goOn(["1", "2", "4"], 2)).toEqual(["1", "2"]);
  expect(goOn(["north", "south"], 3)).toEqual(["north", "south", "north"]);
});

test("a block grows downwards or to the right, each line by itself", () => {
  const texts = [
    ["1", "a"],
    ["2", "b"],
  ];
  const from = rangeOf({ row: 0, column: 0 }, { row: 1, column: 1 });
  const textAt = (row: number, at: number) => texts[row][at];
  expect(filled(from, { ...from, bottom: 3 }, textAt)).toEqual([
    { row: 2, column: 0, text: "3" },
    { row: 3, column: 0, text: "4" },
    { row: 2, column: 1, text: "a" },
    { row: 3, column: 1, text: "b" },
  ]);
  expect(filled(from, { ...from, right: 2 }, textAt)).toEqual([
    { row: 0, column: 2, text: "1" },
    { row: 1, column: 2, text: "2" },
  ]);
});

test("keys of movement lead by cells, pages and to the ends", () => {
  const key = (name: string, ctrlKey = false) =>
    cellAfter({ key: name, ctrlKey, metaKey: false }, { row: 5, column: 2 }, 20, 4, 7);
  expect(key("PageDown")).toEqual({ row: 12, column: 2 });
  expect(key("Home")).toEqual({ row: 5, column: 0 });
  expect(key("End", true)).toEqual({ row: 19, column: 3 });
  expect(key("ArrowUp", true)).toEqual({ row: 0, column: 2 });
  expect(key("x")).toBeUndefined();
});
