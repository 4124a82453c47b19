import { type Design, findUnit, type Problem, renameUses, type Study, tablesOf, unfold } from "@busy-harbor/core";
import { Download, Plus, Trash2, Upload, X } from "lucide-react";
import { Tabs } from "radix-ui";
import { useCallback, useDeferredValue, useMemo, useRef, useState } from "react";
import { deleteSelection } from "../build/selection.ts";
import { useCompiled } from "../state/compiled.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { saveFile } from "../ui/saveFile.ts";
import { groupBy } from "../groupBy.ts";
import { readBlock, writeCsv } from "../grid/cells.ts";
import type { Entry, GridColumn } from "../grid/column.ts";
import { ColumnsMenu } from "../grid/ColumnsMenu.tsx";
import { Grid } from "../grid/Grid.tsx";
import { useGrid } from "../grid/useGrid.ts";
import { Choice } from "../ui/Choice.tsx";
import { type BlockPlan, planBlock } from "./block.ts";
import { useLedger } from "./ledgerStore.ts";
import { cellOfMember, withMembers, writeMember } from "./members.ts";
import { type Column, type Item, type Place, placeIn, type Sheet, sheetsOf } from "./sheet.ts";

/** Largest file of rows taken in. */
const MOST_BYTES = 16 * 1024 * 1024;

/** The ledger: everything of a kind as the rows of a table, edited in its cells. It rises from the bottom edge. */
export default function Ledger({ study, design }: { study: Study; design: Design }) {
  const { sheet: sheetId, filter, toggle, show, setFilter } = useLedger();
  const { changeDesign, select, selection } = useStudy();
  const compilation = useCompiled();
  const [plan, setPlan] = useState<BlockPlan>();
  const file = useRef<HTMLInputElement>(null);
  const sheets = sheetsOf(design);
  const sheet = sheets.find((s) => s.id === sheetId) ?? sheets.find((s) => s.common)!;
  const place = useMemo(() => placeIn(study, design), [study, design]);
  // A new list whenever the design changes: what a row shows may be another's name.
  const unfolded = useMemo(() => unfold(study, design), [study, design]);
  const all = useMemo(() => withMembers(sheet.rows(design), unfolded), [sheet, design, unfolded]);
  const gridColumns = useMemo(() => {
    const tables = tablesOf(study.tables, design.tables);
    return sheet.columns.map((c): GridColumn<Item> => {
      const column = asGridColumn(c, place);
      if (unfolded.members.size === 0) return column;
      return {
        ...column,
        read(item) {
          const member = unfolded.members.get(item.id);
          return (member && cellOfMember(member, c.id, tables)) ?? column.read(item);
        },
      };
    });
  }, [sheet, place, unfolded, study.tables, design.tables]);
  const model = useGrid({ id: sheet.id, rows: all, columns: gridColumns, rowId, filter: useDeferredValue(filter) });
  const rows = model.found;
  const columns = model.columns.map((c) => sheet.columns.find(({ id }) => id === c.id)!);
  const problems = compilation?.problems;
  const byCell = useMemo(() => groupBy(problems ?? [], (p) => `${p.id}/${p.field}`), [problems]);
  const problemsAt = useCallback(
    (id: string, column: string) => byCell.get(`${id}/${column}`) ?? NO_PROBLEMS,
    [byCell],
  );
  // Kinds of which there are none wait in a list, so that the others have room.
  const shownSheets = sheets.filter((s) => s === sheet || s.common || s.rows(design).length > 0);
  const otherSheets = sheets.filter((s) => !shownSheets.includes(s));

  const take = (cells: string[][], at: { row: number; column: number }) => {
    const next = planBlock(cells, { study, designId: design.id, sheet, rowIds: rows.map((r) => r.id), columns, ...at });
    if (next.added === 0 && next.refusals.length === 0 && next.problems.length === 0) apply(next);
    else setPlan(next);
  };
  const apply = (block: BlockPlan) => {
    setPlan(undefined);
    let ids: string[] = [];
    changeDesign(block.name, (d) => void (ids = block.apply(d)));
    if (sheet.id !== "entityTypes") select(ids);
    announce(`${block.changed} ${block.changed === 1 ? "row" : "rows"} changed, ${block.added} added.`, false, {
      label: "Undo",
      run: () => useStudy.getState().undo(),
    });
  };
  const addRow = () => {
    let made: string | { id: string } | undefined;
    changeDesign(`Add ${sheet.one}`, (d) => {
      const item = sheet.add(d, nextPlace(d));
      made = typeof item === "string" ? item : { id: item.id };
    });
    if (typeof made === "string") announce(made);
    else if (made && sheet.id !== "entityTypes") select([made.id]);
  };
  /** Puts text into cells as one step of the history; says why where it cannot. */
  const write = (what: string, entries: readonly Entry<Item>[]): string | undefined => {
    let refused: string | undefined;
    const [{ row, column }] = entries;
    const ofMembers = entries.filter((e) => unfolded.members.has(e.row.id));
    if (ofMembers.length > 0) {
      // What members have of their own stands in a table, which is another part of the study.
      useStudy.getState().change(what || `Change ${column.label.toLowerCase()} of ${nameOf(row, sheet)}`, (s) => {
        for (const entry of ofMembers)
          refused ??= writeMember(s, design.id, unfolded.members.get(entry.row.id)!, entry.column.id, entry.text);
      });
      if (refused !== undefined || ofMembers.length === entries.length) return refused;
    }
    changeDesign(what || `Change ${column.label.toLowerCase()} of ${nameOf(row, sheet)}`, (d) => {
      const drafts = new Map(sheet.rows(d).map((r) => [r.id, r]));
      for (const entry of entries) {
        const draft = drafts.get(entry.row.id);
        const before = draft && "name" in draft ? draft.name : "";
        const why = draft && columnOf(entry.column.id).write(draft, entry.text, placeIn(study, d));
        refused ??= why;
        if (!why && entries.length === 1 && draft && "name" in draft && draft.name !== before)
          renameUses(d, before, draft.name);
      }
    });
    return refused;
  };
  const columnOf = (id: string) => sheet.columns.find((c) => c.id === id)!;
  const exportRows = () =>
    saveFile(
      `${study.name}, ${sheet.label.toLowerCase()}.csv`,
      writeCsv([columns.map((c) => c.label), ...rows.map((r) => columns.map((c) => c.read(r, place)))]),
      "text/csv",
    );
  const importRows = async (chosen: File | undefined) => {
    if (!chosen) return;
    if (chosen.size > MOST_BYTES)
      return announce("This file is larger than 16 MB. Split it, or take in fewer rows.", true);
    const { cells, problem } = readBlock(await chosen.text());
    if (problem) return announce(`${chosen.name} was not taken in. ${problem}`, true);
    if (cells.length < 2) return announce("This file has no rows below a line of column names.", true);
    take(cells, { row: rows.length, column: 0 });
  };
  /** A member is no part of the document by itself: the floor's selection stays. */
  const selectRows = (ids: readonly string[]) => {
    const own = ids.filter((id) => !unfolded.members.has(id));
    // The same list where it holds no member: the grid knows by it that it was told of its own choice.
    if (own.length > 0) select(own.length === ids.length ? ids : own);
  };
  const selectedRows = sheet.id === "entityTypes" ? [] : rows.filter((r) => selection.includes(r.id)).map((r) => r.id);
  const deleteRows = () => {
    // What else is selected on the floor has no row here, and stays.
    select(selectedRows);
    deleteSelection();
  };

  return (
    <Tabs.Root value={sheet.id} onValueChange={show} activationMode="manual" asChild>
      <section
        aria-label="Ledger"
        data-testid="ledger"
        className="flex h-full flex-col border-t border-ink/40 bg-sheet"
      >
        <div className="flex h-10 shrink-0 items-center gap-2 border-b border-line px-3">
          <Tabs.List aria-label="Kinds" className="flex h-full min-w-0 overflow-x-auto whitespace-nowrap">
            {shownSheets.map((s) => (
              <Tabs.Trigger
                key={s.id}
                value={s.id}
                className="border-b-2 border-transparent px-1.5 text-soft hover:text-ink focus-visible:-outline-offset-2 data-[state=active]:border-buoy data-[state=active]:font-semibold data-[state=active]:text-ink"
              >
                {s.label} <span className="text-xs font-normal text-soft">{s.rows(design).length}</span>
              </Tabs.Trigger>
            ))}
          </Tabs.List>
          {otherSheets.length > 0 && (
            <Choice
              label="Other kinds"
              className="w-28! shrink-0"
              value=""
              placeholder="others …"
              options={otherSheets.map(({ id, label }) => ({ value: id, label }))}
              onChange={show}
            />
          )}
          <input
            aria-label="Filter rows"
            placeholder="Filter"
            className="field ml-auto w-24! shrink-0"
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
          />
          <ColumnsMenu model={model} />
          <button className="button px-2!" onClick={addRow} data-tip={`Add ${sheet.one}`}>
            <Plus size={14} />
            <span className="max-xl:sr-only">Row</span>
          </button>
          <button
            className="button px-2!"
            disabled={selectedRows.length === 0}
            onClick={deleteRows}
            aria-label="Delete the selected rows"
            data-tip="Delete the selected rows"
          >
            <Trash2 size={14} />
          </button>
          <button
            className="button px-2!"
            onClick={exportRows}
            aria-label="Export these rows as CSV"
            data-tip="Export these rows as CSV"
          >
            <Download size={14} />
          </button>
          <button
            className="button px-2!"
            onClick={() => file.current?.click()}
            aria-label="Take in rows from CSV"
            data-tip="Take in rows from CSV: the first line names the columns, rows are matched by name"
          >
            <Upload size={14} />
          </button>
          <input
            ref={file}
            type="file"
            accept=".csv,.tsv,.txt,text/csv"
            className="hidden"
            data-testid="ledger-file"
            onChange={(event) => {
              void importRows(event.target.files?.[0]);
              event.target.value = "";
            }}
          />
          <button
            className="button button-quiet px-2!"
            onClick={toggle}
            aria-label="Close the ledger (T)"
            data-tip="Close the ledger (T)"
          >
            <X size={15} />
          </button>
        </div>
        {plan && <Preview plan={plan} onApply={() => apply(plan)} onCancel={() => setPlan(undefined)} />}
        <Tabs.Content key={sheet.id} value={sheet.id} tabIndex={-1} className="flex min-h-0 grow flex-col">
          <Grid
            model={model}
            label={sheet.label}
            testId="ledger-grid"
            numbered
            selection={selection}
            follows
            onSelect={sheet.id === "entityTypes" ? undefined : selectRows}
            onWrite={write}
            onPaste={take}
            problemsAt={problemsAt}
            placeOf={placeOfCell}
            empty="No rows. Add one above, or paste a block from a spreadsheet."
          />
        </Tabs.Content>
      </section>
    </Tabs.Root>
  );
}

const NO_PROBLEMS: readonly Problem[] = [];
/** Where in the study a cell stands. */
const placeOfCell = (item: Item, column: string): readonly string[] => [
  "from" in item ? "links" : "kind" in item ? "elements" : "entityTypes",
  item.id,
  ...column.split("."),
];

const rowId = (item: Item): string => item.id;
const nameOf = (item: Item, sheet: Sheet) => ("name" in item ? item.name : sheet.one);

/** A number with its unit, if there is one. */
const MEASURED = /^(-?\d+(?:\.\d+)?(?:e[+-]?\d+)?)\s*(\S*)$/i;

/** What a text sorts by: a quantity by how much it is, whatever its unit. */
function sortedBy(text: string): number | string | undefined {
  const [, number, unit] = MEASURED.exec(text.trim()) ?? [];
  const factor = unit ? findUnit(unit)?.factor : 1;
  return number !== undefined && factor !== undefined ? Number(number) * factor : text || undefined;
}

/** The column as the grid wants it, where the rows stand now. */
function asGridColumn({ choices, read, write: _, ...column }: Column, place: Place): GridColumn<Item> {
  return {
    ...column,
    frozen: column.id === "name",
    choices: choices && (() => choices(place)),
    read: (item) => read(item, place),
    value: column.mono ? (item) => sortedBy(read(item, place)) : undefined,
  };
}

const APART = 8;
const nextPlace = (design: Design): [number, number] => [
  Math.min(0, ...design.elements.map((e) => e.at[0])),
  Math.max(0, ...design.elements.map((e) => e.at[1])) + APART,
];

/** Most remarks shown before a block is put in. */
const MOST_REMARKS = 6;

/** What a block would do, before it does it. */
function Preview({ plan, onApply, onCancel }: { plan: BlockPlan; onApply: () => void; onCancel: () => void }) {
  const remarks = [
    ...plan.refusals.map((r) => `Row ${r.row}${r.column ? `, ${r.column}` : ""}: ${r.message} It is left as it is.`),
    ...plan.problems.map((p) => `${p.name}: ${p.message} ${p.hint ?? ""}`),
  ];
  const passedOver = plan.columns.filter((c) => !c).length;
  return (
    <div
      role="alertdialog"
      aria-label="Paste"
      data-testid="paste-preview"
      className="shrink-0 border-b border-line bg-water px-4 py-2"
    >
      <div className="flex items-center gap-3">
        <p className="grow">
          <strong>
            {plan.added > 0 ? `${plan.added} ${plan.added === 1 ? "row" : "rows"} added` : ""}
            {plan.added > 0 && plan.changed > 0 ? ", " : ""}
            {plan.changed > 0 ? `${plan.changed} changed` : ""}
          </strong>
          {remarks.length > 0 && ` with ${remarks.length} ${remarks.length === 1 ? "remark" : "remarks"}`}
          {passedOver > 0 &&
            `; ${passedOver} ${passedOver === 1 ? "column has" : "columns have"} no place here and ${passedOver === 1 ? "is" : "are"} passed over`}
          .
        </p>
        <button autoFocus className="button button-main" onClick={onApply}>
          Put in
        </button>
        <button className="button" onClick={onCancel}>
          Leave out
        </button>
      </div>
      {remarks.length > 0 && (
        <ul className="max-h-28 overflow-y-auto pt-1 text-xs text-buoy-deep">
          {remarks.slice(0, MOST_REMARKS).map((r, i) => (
            <li key={i}>{r}</li>
          ))}
          {remarks.length > MOST_REMARKS && <li>and {remarks.length - MOST_REMARKS} more</li>}
        </ul>
      )}
    </div>
  );
}
