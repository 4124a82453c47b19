import type { Design, Study } from "@busy-harbor/core";
import { Columns3, Download, Plus, Trash2, Upload, X } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useMemo, useRef, useState } from "react";
import { deleteSelection } from "../build/selection.ts";
import { useCompiled } from "../state/compiled.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { saveFile } from "../ui/saveFile.ts";
import { arrangeRows } from "./arrangeRows.ts";
import { type BlockPlan, planBlock, readBlock, writeCsv } from "./block.ts";
import { Grid } from "./Grid.tsx";
import { useLedger } from "./ledgerStore.ts";
import { placeIn, sheetsOf } from "./sheet.ts";
import { Choice } from "../ui/Choice.tsx";

/** Largest file of rows taken in. */
const MOST_BYTES = 16 * 1024 * 1024;

/** The ledger: everything of a kind as the rows of a table, edited in its cells. It rises from the bottom edge. */
export function Ledger({ study, design }: { study: Study; design: Design }) {
  const {
    open,
    height,
    sheet: sheetId,
    hidden,
    sorting,
    filter,
    toggle,
    show,
    setHeight,
    setHidden,
    setFilter,
  } = useLedger();
  const { changeDesign, select, selection } = useStudy();
  const compilation = useCompiled();
  const [plan, setPlan] = useState<BlockPlan>();
  const file = useRef<HTMLInputElement>(null);
  const sheets = sheetsOf(design);
  const sheet = sheets.find((s) => s.id === sheetId) ?? sheets.find((s) => s.common)!;
  const hiddenHere = useMemo(() => new Set(hidden[sheet.id] ?? []), [hidden, sheet]);
  const columns = useMemo(() => sheet.columns.filter((c) => !hiddenHere.has(c.id)), [sheet, hiddenHere]);
  const rows = useMemo(
    () => arrangeRows(sheet.rows(design), columns, placeIn(study, design), filter, sorting[sheet.id]),
    [sheet, design, columns, study, filter, sorting],
  );
  if (!open) return null;
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
  const exportRows = () =>
    saveFile(
      `${study.name}, ${sheet.label.toLowerCase()}.csv`,
      writeCsv([
        columns.map((c) => c.label),
        ...rows.map((r) => columns.map((c) => c.read(r, placeIn(study, design)))),
      ]),
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
  const selectedRows = sheet.id === "entityTypes" ? [] : rows.filter((r) => selection.includes(r.id)).map((r) => r.id);
  const deleteRows = () => {
    // What else is selected on the floor has no row here, and stays.
    select(selectedRows);
    deleteSelection();
  };

  return (
    <section
      aria-label="Ledger"
      data-testid="ledger"
      className="relative z-10 flex shrink-0 flex-col border-t border-ink/40 bg-sheet"
      style={{ height: `min(${height}px, 80%)` }}
    >
      <div
        role="separator"
        aria-orientation="horizontal"
        aria-label="Height of the ledger"
        aria-valuenow={height}
        tabIndex={0}
        className="absolute -top-1 right-0 left-0 h-2 cursor-row-resize touch-none"
        onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
        onPointerMove={(event) => event.buttons === 1 && setHeight(height - event.movementY)}
        onKeyDown={(event) => {
          if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
          event.preventDefault();
          event.stopPropagation();
          setHeight(height + (event.key === "ArrowUp" ? 28 : -28));
        }}
      />
      <div className="flex h-10 shrink-0 items-center gap-2 border-b border-line px-3">
        <div role="tablist" aria-label="Kinds" className="flex h-full min-w-0 overflow-x-auto whitespace-nowrap">
          {shownSheets.map((s) => (
            <button
              key={s.id}
              role="tab"
              aria-selected={s.id === sheet.id}
              className={`border-b-2 px-1.5 ${s.id === sheet.id ? "border-buoy font-semibold" : "border-transparent text-soft hover:text-ink"}`}
              onClick={() => show(s.id)}
            >
              {s.label} <span className="text-xs font-normal text-soft">{s.rows(design).length}</span>
            </button>
          ))}
        </div>
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
        <DropdownMenu.Root>
          <DropdownMenu.Trigger className="button px-2!" title="Columns shown" aria-label="Columns shown">
            <Columns3 size={14} />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="end" className="panel float z-40 p-1">
              {sheet.columns.map((c) => (
                <DropdownMenu.CheckboxItem
                  key={c.id}
                  checked={!hiddenHere.has(c.id)}
                  onSelect={(event) => event.preventDefault()}
                  onCheckedChange={(on) =>
                    setHidden(sheet.id, on ? [...hiddenHere].filter((h) => h !== c.id) : [...hiddenHere, c.id])
                  }
                  className="flex cursor-pointer items-center gap-2 rounded-md px-2 py-1 outline-none data-[highlighted]:bg-water"
                >
                  <span className="w-3 text-action">{hiddenHere.has(c.id) ? "" : "●"}</span> {c.label}
                </DropdownMenu.CheckboxItem>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        <button className="button px-2!" onClick={addRow} title={`Add ${sheet.one}`}>
          <Plus size={14} />
          <span className="max-xl:sr-only">Row</span>
        </button>
        <button
          className="button px-2!"
          disabled={selectedRows.length === 0}
          onClick={deleteRows}
          aria-label="Delete the selected rows"
          title="Delete the selected rows"
        >
          <Trash2 size={14} />
        </button>
        <button
          className="button px-2!"
          onClick={exportRows}
          aria-label="Export these rows as CSV"
          title="Export these rows as CSV"
        >
          <Download size={14} />
        </button>
        <button
          className="button px-2!"
          onClick={() => file.current?.click()}
          aria-label="Take in rows from CSV"
          title="Take in rows from CSV: the first line names the columns, rows are matched by name"
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
          title="Close the ledger (T)"
        >
          <X size={15} />
        </button>
      </div>
      {plan && <Preview plan={plan} onApply={() => apply(plan)} onCancel={() => setPlan(undefined)} />}
      <Grid
        key={sheet.id}
        sheet={sheet}
        columns={columns}
        rows={rows}
        study={study}
        design={design}
        problems={compilation?.problems ?? []}
        onPaste={take}
      />
    </section>
  );
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
