import type { Design, Point, Problem, Study } from "@busy-harbor/core";
import { compile } from "@busy-harbor/core";
import { produce } from "immer";
import Papa from "papaparse";
import type { Column, Item, Sheet } from "./sheet.ts";

/** Reads a block of cells, as spreadsheets copy them (tabs) or write them (commas, semicolons). */
export function readBlock(text: string): string[][] {
  const tabs = text.includes("\t");
  const { data } = Papa.parse<string[]>(text.replace(/\r?\n$/, ""), tabs ? { delimiter: "\t" } : { delimitersToGuess: [",", ";", "|"] });
  return data.filter((row) => row.some((cell) => cell.trim() !== ""));
}

/** The block as tab-separated text for a spreadsheet. */
export const writeBlock = (rows: readonly (readonly string[])[]): string => Papa.unparse(rows as string[][], { delimiter: "\t", newline: "\n" });

/** The block as comma-separated text for a file. */
export const writeCsv = (rows: readonly (readonly string[])[]): string => `${Papa.unparse(rows as string[][], { newline: "\r\n" })}\r\n`;

export interface Refusal {
  /** Row of the block, counted from 1. */
  readonly row: number;
  readonly column: string;
  readonly message: string;
}

/** What putting a block into a sheet would do. */
export interface BlockPlan {
  readonly name: string;
  /** Columns of the sheet that the block's columns go to; undefined for those that are passed over. */
  readonly columns: readonly (Column | undefined)[];
  readonly changed: number;
  readonly added: number;
  /** Cells that cannot be taken, and stay as they are. */
  readonly refusals: readonly Refusal[];
  /** Problems that the model would have afterwards and has not now, each with the name of its row. */
  readonly problems: ReadonlyArray<Problem & { readonly name: string }>;
  /** Does it, to a draft of the design; returns the ids of its rows. */
  apply(design: Design): string[];
}

export interface Target {
  readonly study: Study;
  readonly designId: string;
  readonly sheet: Sheet;
  /** Ids of the rows shown, in their order, and the columns shown. */
  readonly rowIds: readonly string[];
  readonly columns: readonly Column[];
  /** The cell that the block's first cell goes to. */
  readonly row: number;
  readonly column: number;
}

/**
 * Plans putting a block of cells into the ledger. A first line of column names says
 * where the columns go, and rows are then matched by name; else the block goes to
 * the active cell and on. Rows that there are none for are added.
 */
export function planBlock(cells: readonly (readonly string[])[], { study, designId, sheet, rowIds, columns, row, column }: Target): BlockPlan {
  const byLabel = (label: string) => sheet.columns.find((c) => c.label.toLowerCase() === label.trim().toLowerCase());
  const heading = cells[0]?.map(byLabel) ?? [];
  const headed = heading.some((c) => c) && heading.every((c, i) => c || cells[0][i].trim() === "" || heading.filter(Boolean).length > 1);
  const body = headed ? cells.slice(1) : cells;
  const goesTo = headed ? heading : (cells[0] ?? []).map((_, i) => columns[column + i] as Column | undefined);
  const nameAt = headed ? goesTo.findIndex((c) => c?.id === "name") : -1;

  const refusals: Refusal[] = [];
  let changed = 0;
  let added = 0;
  const apply = (design: Design, note?: { readonly refusals: Refusal[]; readonly ids: Set<string> }) => {
    changed = 0;
    added = 0;
    body.forEach((line, i) => {
      const wanted = nameAt >= 0 ? line[nameAt]?.trim().toLowerCase() : undefined;
      const rows = sheet.rows(design);
      let item: Item | undefined = headed ? (wanted ? rows.find((r) => "name" in r && r.name.toLowerCase() === wanted) : undefined) : rows.find((r) => r.id === rowIds[row + i]);
      if (item) changed += 1;
      else {
        const made = sheet.add(design, freePlace(design, added));
        if (typeof made === "string") {
          note?.refusals.push({ row: i + 1, column: "", message: made });
          return;
        }
        item = made;
        added += 1;
      }
      note?.ids.add(item.id);
      line.forEach((text, c) => {
        const target = goesTo[c];
        const why = target?.write(item, text, { design, units: study.units });
        if (why) note?.refusals.push({ row: i + 1, column: target!.label, message: why });
      });
    });
  };

  const touched = new Set<string>();
  const before = new Set(compile(study, designId).problems.map(key));
  const after = produce(study, (draft) => apply(draft.designs.find((d) => d.id === designId)! as Design, { refusals, ids: touched }));
  const names = new Map(sheet.rows(after.designs.find((d) => d.id === designId)!).map((r) => [r.id, "name" in r ? r.name : sheet.one]));
  const problems = compile(after, designId).problems.flatMap((p) => (p.id && touched.has(p.id) && p.field && !before.has(key(p)) ? [{ ...p, name: names.get(p.id) ?? "" }] : []));
  const total = changed + added;
  return {
    name: `Paste ${total} ${total === 1 ? "row" : "rows"} of ${sheet.label.toLowerCase()}`,
    columns: goesTo,
    changed,
    added,
    refusals,
    problems,
    apply(design) {
      const ids = new Set<string>();
      apply(design, { refusals: [], ids });
      return [...ids];
    },
  };
}

const key = (p: Problem) => `${p.id}/${p.field}/${p.code}`;

const PER_ROW = 10;
const APART = 8;

/** A place below all there is, in rows of ten, for the n-th element added. */
function freePlace(design: Design, n: number): Point {
  const others = design.elements.slice(0, design.elements.length - n);
  const left = Math.min(0, ...others.map((e) => e.at[0]));
  const below = Math.max(0, ...others.map((e) => e.at[1])) + APART;
  return [left + (n % PER_ROW) * APART, below + Math.floor(n / PER_ROW) * APART];
}
