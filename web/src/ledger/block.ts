import type { Design, Point, Problem, Study } from "@busy-harbor/core";
import { compile } from "@busy-harbor/core";
import { produce } from "immer";
import { type Column, placeIn, type Sheet } from "./sheet.ts";

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
export function planBlock(
  cells: readonly (readonly string[])[],
  { study, designId, sheet, rowIds, columns, row, column }: Target,
): BlockPlan {
  const heading = (cells[0] ?? []).map((text) =>
    sheet.columns.find((c) => c.label.toLowerCase() === text.trim().toLowerCase()),
  );
  const known = heading.filter(Boolean).length;
  const headed = known > 1 || (known === 1 && cells[0].every((text, i) => heading[i] || text.trim() === ""));
  const body = headed ? cells.slice(1) : cells;
  const goesTo = headed ? heading : (cells[0] ?? []).map((_, i) => columns[column + i] as Column | undefined);
  const nameAt = headed ? goesTo.findIndex((c) => c?.id === "name") : -1;

  const put = (design: Design): Outcome => {
    const outcome: Outcome = { changed: [], added: [], refusals: [] };
    const place = placeIn(study, design);
    body.forEach((line, i) => {
      const name = nameAt >= 0 ? line[nameAt]?.trim().toLowerCase() : "";
      const present = sheet
        .rows(design)
        .find((r) => (headed ? name && "name" in r && r.name.toLowerCase() === name : r.id === rowIds[row + i]));
      if (!headed && !present && rowIds[row + i] !== undefined)
        return void outcome.refusals.push({
          row: i + 1,
          column: "",
          message: "This is a member of a family: paste into the table of its rows.",
        });
      const item = present ?? sheet.add(design, freePlace(design, outcome.added.length));
      if (typeof item === "string") return void outcome.refusals.push({ row: i + 1, column: "", message: item });
      (present ? outcome.changed : outcome.added).push(item.id);
      line.forEach((text, c) => {
        const why = goesTo[c]?.write(item, text, place);
        if (why) outcome.refusals.push({ row: i + 1, column: goesTo[c]!.label, message: why });
      });
    });
    return outcome;
  };

  let outcome: Outcome = { changed: [], added: [], refusals: [] };
  const before = new Set(compile(study, designId).problems.map(key));
  const after = produce(
    study,
    (draft) => void (outcome = put(draft.designs.find((d) => d.id === designId)! as Design)),
  );
  const { changed, added, refusals } = outcome;
  const touched = new Set([...changed, ...added]);
  const names = new Map(
    sheet.rows(after.designs.find((d) => d.id === designId)!).map((r) => [r.id, "name" in r ? r.name : sheet.one]),
  );
  const total = touched.size;
  return {
    name: `Paste ${total} ${total === 1 ? "row" : "rows"} of ${sheet.label.toLowerCase()}`,
    columns: goesTo,
    changed: changed.length,
    added: added.length,
    refusals,
    problems: compile(after, designId).problems.flatMap((p) =>
      p.id && touched.has(p.id) && p.field && !before.has(key(p)) ? [{ ...p, name: names.get(p.id) ?? "" }] : [],
    ),
    apply(design) {
      const done = put(design);
      return [...done.changed, ...done.added];
    },
  };
}

/** What putting a block in came to: ids of rows, and cells refused. */
interface Outcome {
  readonly changed: string[];
  readonly added: string[];
  readonly refusals: Refusal[];
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
