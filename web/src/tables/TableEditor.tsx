import {
  type Compilation,
  type Design,
  nameKey,
  type Problem,
  type Study,
  type Table,
  tablesOf,
} from "@busy-harbor/core";
import { Columns3, Plus, Trash2, Upload } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, ApiProblem } from "../api/client.ts";
import { KeptInput } from "../build/fields.tsx";
import type { Entry } from "../grid/column.ts";
import { ColumnsMenu } from "../grid/ColumnsMenu.tsx";
import { writeCsv } from "../grid/cells.ts";
import { Grid } from "../grid/Grid.tsx";
import type { Cell } from "../grid/range.ts";
import { useGrid } from "../grid/useGrid.ts";
import { announce } from "../ui/announce.ts";
import { saveBlob, saveFile, XLSX } from "../ui/saveFile.ts";
import { footOf, gridColumns, namedBy, labelOf, rowId, type TableRow } from "./columns.ts";
import { addColumn, editTable, putCell, renameInUse } from "./edits.ts";
import { headerLines } from "./guess.ts";
import { readFile } from "./readFile.ts";
import { SpreadsheetProblem } from "./spreadsheet/guard.ts";
import { saveSpreadsheet } from "./spreadsheet/openSpreadsheet.ts";
import { Incoming, type IncomingBlock } from "./Incoming.tsx";
import { SaveMenu } from "../ui/SaveMenu.tsx";
import { TableAside } from "./TableAside.tsx";

const MOST_BYTES = 64 * 1024 * 1024;
const NOTHING: readonly string[] = [];
const NO_PROBLEMS: readonly Problem[] = [];

/** One table: its rows in a grid, its columns on a card. */
export function TableEditor({
  table,
  study,
  design,
  compilation,
  at,
  onShow,
}: {
  table: Table;
  study: Study;
  design: Design;
  compilation: Compilation | undefined;
  at: { readonly row: string; readonly column: string } | undefined;
  onShow: (id: string) => void;
}) {
  const [filter, setFilter] = useState("");
  const [selected, setSelected] = useState<readonly string[]>([]);
  const [columnId, setColumnId] = useState<string>();
  const [reading, setReading] = useState<{ readonly from: string; readonly stop: () => void }>();
  const [incoming, setIncoming] = useState<IncomingBlock>();
  const file = useRef<HTMLInputElement>(null);
  const source = compilation?.model.tables.find(({ id }) => id === table.id);
  const tables = useMemo(() => tablesOf(study.tables, design.tables), [study.tables, design.tables]);
  const rows = useMemo(() => table.rows.map((cells, index): TableRow => ({ index, cells })), [table.rows]);
  const named = useMemo(() => namedBy(study, design), [study, design]);
  const columns = useMemo(
    () => gridColumns(table, source, design, named, tables),
    [table, source, design, named, tables],
  );
  const model = useGrid({ id: `table ${table.id}`, rows, columns, rowId, filter });
  const problems = useMemo(() => compilation?.problems.filter((p) => p.id === table.id) ?? [], [compilation, table.id]);
  const byCell = useMemo(() => {
    const found = new Map<string, Problem[]>();
    for (const p of problems) found.set(p.field ?? "", [...(found.get(p.field ?? "") ?? []), p]);
    return found;
  }, [problems]);
  const problemsAt = useCallback(
    (row: string, column: string) => byCell.get(`cell.${row}.${column}`) ?? NO_PROBLEMS,
    [byCell],
  );
  const feet = useMemo(
    () => new Map(table.columns.map((column) => [column.id, footOf(column, source, table)])),
    [table, source],
  );
  const column = table.columns.find(({ id }) => id === columnId) ?? table.columns[0];

  const readName = useCallback((text: string) => nameFrom(text, study, design, table.id), [study, design, table.id]);

  const write = (what: string, entries: readonly Entry<TableRow>[]): string | undefined => {
    const [{ row, column: first, text }] = entries;
    const place = (id: string) => table.columns.findIndex((c) => c.id === id);
    const old = row.cells[place(first.id)] ?? "";
    if (entries.length === 1 && first.id === keyOf(table) && old !== "" && text !== "" && source) {
      renameInUse({ table: table.id, row: row.index, to: text }, `Rename ${old}`, (t) => {
        // Only the row itself: other versions may have it elsewhere.
        const c = t.columns.findIndex(({ id }) => id === first.id);
        const index = t.rows.findIndex((cells) => cells[c] === old);
        if (index >= 0) putCell(t, index, c, text);
      });
      return undefined;
    }
    editTable(table.id, what || `Change ${first.label} of ${table.name}`, (t) => {
      for (const entry of entries) putCell(t, entry.row.index, place(entry.column.id), entry.text.trim());
    });
    return undefined;
  };
  const known = {
    elements: named.elements.map(({ name }) => name),
    entityTypes: named.entityTypes.map(({ name }) => name),
  };
  /** A block pasted: into a table without rows it makes the columns too; else it goes where the cursor is. */
  const paste = (cells: string[][], { row, column: left }: Cell) => {
    if (table.rows.length === 0 && headerLines(cells) > 0) return setIncoming({ cells, from: "the clipboard" });
    const width = Math.max(...cells.map((line) => line.length));
    const places = model.columns.slice(left, left + width).map(({ id }) => table.columns.findIndex((c) => c.id === id));
    const indices = cells.map((_, i) =>
      rows.length === 0 ? i : (model.found[row + i]?.index ?? rows.length + row + i - model.found.length),
    );
    editTable(table.id, `Paste into ${table.name}`, (t) => {
      cells.forEach((line, i) => places.forEach((c, j) => putCell(t, indices[i], c, (line[j] ?? "").trim())));
    });
    if (width > places.length)
      announce(
        `${width - places.length} columns found no place to the right and were left out. Add columns first.`,
        true,
      );
  };
  /** Reads a file, and shows what would come in. */
  const take = async (
    from: string,
    source: NonNullable<IncomingBlock["file"]>,
    bytesOf: (signal: AbortSignal) => Promise<Uint8Array>,
  ) => {
    const abort = new AbortController();
    setReading({ from, stop: () => abort.abort() });
    try {
      const read = await readFile(source.path, await bytesOf(abort.signal), abort.signal);
      setIncoming({ ...read, from, file: source });
    } catch (error) {
      if (abort.signal.aborted) return announce(`${from} was not taken in: reading it was stopped.`);
      if (!(error instanceof SpreadsheetProblem) && !(error instanceof ApiProblem)) throw error;
      const hint = error instanceof SpreadsheetProblem ? ` ${error.hint}` : "";
      announce(`${from} was not taken in. ${error.message}${hint}`, true);
    } finally {
      setReading(undefined);
    }
  };
  const takeChosen = async (chosen: File | undefined) => {
    if (!chosen) return;
    if (chosen.size > MOST_BYTES) return announce("This file is larger than 64 MB. Take in a part of it.", true);
    await take(chosen.name, { folder: "", path: chosen.name }, async () => new Uint8Array(await chosen.arrayBuffer()));
  };
  const takeFromFolder = ({ folder, path }: { readonly folder: string; readonly path: string }) =>
    take(`${folder}/${path}`, { folder, path }, (signal) => api.fileNow(folder, path, signal));
  /** By the row's key, or its number from 1. */
  const placeOfCell = ({ index, cells }: TableRow, columnId: string) => {
    const key = table.columns.findIndex(({ id }) => id === table.key);
    return ["tables", table.id, key < 0 ? String(index + 1) : (cells[key] ?? ""), columnId];
  };
  const addRow = () => editTable(table.id, `Add row to ${table.name}`, (t) => void t.rows.push([]));
  const insertRow = () => {
    const [first] = selected.map(Number).sort((a, b) => a - b);
    editTable(table.id, `Insert row into ${table.name}`, (t) => void t.rows.splice(first, 0, []));
  };
  const deleteRows = () => {
    const gone = new Set(selected.map(Number));
    editTable(table.id, `Delete ${gone.size === 1 ? "row" : `${gone.size} rows`} of ${table.name}`, (t) => {
      t.rows = t.rows.filter((_, i) => !gone.has(i));
    });
    setSelected([]);
  };
  const exportRows = () =>
    saveFile(
      `${study.name}, ${table.name}.csv`,
      writeCsv([table.columns.map(labelOf), ...table.rows.map((cells) => table.columns.map((_, c) => cells[c] ?? ""))]),
      "text/csv",
    );
  const saveAs = async (what: string, of: readonly Table[]) => {
    try {
      saveBlob(`${study.name}, ${what}.xlsx`, new Blob([await saveSpreadsheet(of)], { type: XLSX }));
    } catch (error) {
      announce(`Nothing was saved. ${error instanceof Error ? error.message : String(error)}`, true);
    }
  };
  return (
    <main className="flex min-w-0 grow">
      <div className="flex min-w-0 grow flex-col">
        <div className="flex min-h-11 shrink-0 flex-wrap items-center gap-2 border-b border-line px-3 py-1.5">
          <KeptInput
            label="Name of the table"
            className="w-44! font-semibold"
            shown={table.name}
            read={readName}
            wanted="A name that nothing else has is wanted."
            when="leaving"
            onChange={(to) => renameInUse({ table: table.id, to }, `Rename ${table.name}`, (t) => void (t.name = to))}
          />
          <input
            aria-label="Filter rows"
            placeholder="Filter"
            className="field ml-auto w-28! shrink-0"
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
          />
          <ColumnsMenu model={model} />
          <button className="button px-2!" onClick={addRow}>
            <Plus size={14} /> Row
          </button>
          <button
            className="button px-2!"
            disabled={selected.length === 0}
            onClick={insertRow}
            data-tip="Insert a row above the selected one"
          >
            Insert
          </button>
          <button className="button px-2!" onClick={() => addColumn(table, likeLast(table))}>
            <Columns3 size={14} /> Column
          </button>
          <button
            className="button px-2!"
            disabled={selected.length === 0}
            onClick={deleteRows}
            aria-label="Delete the selected rows"
            data-tip="Delete the selected rows"
          >
            <Trash2 size={14} />
          </button>
          <SaveMenu
            ways={[
              ["This table as CSV", exportRows],
              ["This table as XLSX", () => void saveAs(table.name, [table])],
              ["All tables as XLSX", () => void saveAs("tables", tables)],
            ]}
          />
          <button
            className="button px-2!"
            onClick={() => file.current?.click()}
            aria-label="Take in an XLSX, CSV or text file"
            data-tip="Take in an XLSX, CSV or text file"
          >
            <Upload size={14} />
          </button>
          <input
            ref={file}
            type="file"
            accept=".csv,.tsv,.txt,.xlsx,text/csv,text/plain"
            className="hidden"
            data-testid="table-file"
            onChange={(event) => {
              void takeChosen(event.target.files?.[0]);
              event.target.value = "";
            }}
          />
        </div>
        {reading && (
          <p role="status" className="flex items-center gap-3 border-b border-line bg-water px-4 py-2">
            Reading {reading.from} … <Elapsed />
            <button className="button" onClick={reading.stop}>
              Stop
            </button>
          </p>
        )}
        {incoming && (
          <Incoming
            key={`${incoming.from} ${incoming.cells.length}`}
            block={incoming}
            table={table}
            known={known}
            onDone={() => setIncoming(undefined)}
          />
        )}
        <Grid
          model={model}
          label={table.name}
          testId="table-grid"
          numbered
          selection={selected}
          onSelect={setSelected}
          onWrite={write}
          onPaste={paste}
          onActive={setColumnId}
          placeOf={placeOfCell}
          at={at}
          problemsAt={problemsAt}
          footOf={(id) => feet.get(id) ?? NOTHING}
          empty="No rows. Add one above, paste a block from a spreadsheet, or take in a file."
        />
      </div>
      <TableAside
        table={table}
        tables={tables}
        study={study}
        design={design}
        column={column}
        problems={problems}
        compilation={compilation}
        onFile={(file) => void takeFromFolder(file)}
        onGone={() => setColumnId(undefined)}
        onDelete={() => onShow("")}
      />
    </main>
  );
}

const keyOf = (table: Table): string | undefined => (table.matrix ? table.columns[0]?.id : table.key || undefined);

/** A further column of a matrix holds what the others hold. */
const likeLast = (table: Table) => {
  const last = table.columns.at(-1);
  return table.matrix && last && table.columns.length > 1 ? { holds: last.holds, unit: last.unit } : undefined;
};

function nameFrom(text: string, study: Study, design: Design, id: string): string | undefined {
  const name = text.trim();
  const key = nameKey(name);
  const taken = [...study.tables.filter((t) => t.id !== id), ...design.elements, ...design.entityTypes];
  const isFree = key !== "" && !["clock", "entity", "row"].includes(key) && !taken.some((t) => nameKey(t.name) === key);
  return isFree && name.length <= 80 ? name : undefined;
}

/** Seconds since it came on screen. */
function Elapsed() {
  const [seconds, setSeconds] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setSeconds((s) => s + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  return seconds > 0 && <span className="text-soft tabular-nums">{seconds} s</span>;
}
