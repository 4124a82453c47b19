import { type Design, type Problem, renameUses, type Study } from "@busy-harbor/core";
import {
  type ClipboardEvent,
  type KeyboardEvent,
  type PointerEvent,
  useEffect,
  useId,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { readBlock, writeBlock } from "./block.ts";
import { useLedger } from "./ledgerStore.ts";
import { type Column, type Item, placeIn, type Sheet } from "./sheet.ts";

const ROW = 28;
const NUMBERS = 46;
/** Rows drawn beyond the window's edges. */
const BEYOND = 6;

interface Cell {
  readonly row: number;
  readonly column: number;
}

interface GridProps {
  readonly sheet: Sheet;
  readonly columns: readonly Column[];
  readonly rows: readonly Item[];
  readonly study: Study;
  readonly design: Design;
  readonly problems: readonly Problem[];
  /** A block was pasted at a cell. */
  readonly onPaste: (cells: string[][], at: Cell) => void;
}

/**
 * The rows and columns of a sheet: cells are chosen, edited, filled and pasted into like those of a spreadsheet. Only
 * the rows in sight are drawn.
 */
export function Grid({ sheet, columns, rows, study, design, problems, onPaste }: GridProps) {
  const { changeDesign, selection, select } = useStudy();
  const { widths, setWidth, sorting, sort } = useLedger();
  const [active, setActive] = useState<Cell>({ row: 0, column: 0 });
  const [anchor, setAnchor] = useState<Cell>({ row: 0, column: 0 });
  const [edited, showEdited] = useState<string>();
  // Leaving an editor blurs it, which would commit what Escape has just given up: the ref knows at once.
  const editing = useRef<string>(undefined);
  const setEdited = (text: string | undefined) => {
    editing.current = text;
    showEdited(text);
  };
  const [refusal, setRefusal] = useState<string>();
  const [window, setWindow] = useState({ top: 0, height: 200 });
  const scroller = useRef<HTMLDivElement>(null);
  const id = useId();
  const place = placeIn(study, design);
  const widthOf = (c: Column) => widths[`${sheet.id}/${c.id}`] ?? c.width;
  const total = NUMBERS + columns.reduce((sum, c) => sum + widthOf(c), 0);
  const chosen = useMemo(() => new Set(selection), [selection]);
  const troubles = useMemo(() => new Map(problems.map((p) => [`${p.id}/${p.field}`, p.message])), [problems]);
  const here: Cell = {
    row: Math.min(active.row, rows.length - 1),
    column: Math.min(active.column, columns.length - 1),
  };
  const range = {
    top: Math.min(here.row, anchor.row),
    bottom: Math.max(here.row, Math.min(anchor.row, rows.length - 1)),
    left: Math.min(here.column, anchor.column),
    right: Math.max(here.column, Math.min(anchor.column, columns.length - 1)),
  };
  const first = Math.max(0, Math.floor(window.top / ROW) - BEYOND);
  const last = Math.min(rows.length, Math.ceil((window.top + window.height) / ROW) + BEYOND);

  useLayoutEffect(() => {
    const element = scroller.current!;
    const observer = new ResizeObserver(() => setWindow({ top: element.scrollTop, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  // What is selected on the floor is brought into sight here.
  const shown = useRef<readonly string[]>([]);
  useEffect(() => {
    if (shown.current === selection) return;
    shown.current = selection;
    const row = rows.findIndex((r) => r.id === selection[0]);
    const element = scroller.current;
    if (row < 0 || !element) return;
    setActive((a) => ({ ...a, row }));
    setAnchor((a) => ({ ...a, row }));
    reveal(element, row);
  }, [selection, rows]);

  const go = (to: Cell, extend = false) => {
    if (rows.length === 0) return;
    const cell = {
      row: Math.min(rows.length - 1, Math.max(0, to.row)),
      column: Math.min(columns.length - 1, Math.max(0, to.column)),
    };
    setActive(cell);
    if (!extend) setAnchor(cell);
    if (scroller.current) reveal(scroller.current, cell.row);
    const [from, until] = extend
      ? [Math.min(cell.row, anchor.row), Math.max(cell.row, anchor.row)]
      : [cell.row, cell.row];
    const ids = rows.slice(from, until + 1).map((r) => r.id);
    shown.current = ids;
    if (sheet.id !== "entityTypes") select(ids);
  };

  /** Puts text into cells as one step of the history; says why where it cannot. */
  const write = (
    name: string,
    cells: ReadonlyArray<{ readonly row: number; readonly column: number; readonly text: string }>,
  ): boolean => {
    const refused: string[] = [];
    changeDesign(name, (d) => {
      const drafts = new Map(sheet.rows(d).map((r) => [r.id, r]));
      for (const { row, column, text } of cells) {
        const draft = drafts.get(rows[row].id);
        const before = draft && "name" in draft ? draft.name : "";
        const why = draft && columns[column].write(draft, text, placeIn(study, d));
        if (why) refused.push(why);
        else if (cells.length === 1 && draft && "name" in draft && draft.name !== before)
          renameUses(d, before, draft.name);
      }
    });
    setRefusal(refused[0]);
    if (refused.length > 0) announce(refused[0], true);
    return refused.length === 0;
  };

  const commit = (move: Cell | undefined): void => {
    const text = editing.current;
    if (text === undefined) return;
    const column = columns[here.column];
    if (
      text !== column.read(rows[here.row], place) &&
      !write(`Change ${column.label.toLowerCase()} of ${nameOf(rows[here.row], sheet)}`, [{ ...here, text }])
    )
      return;
    setEdited(undefined);
    setRefusal(undefined);
    scroller.current?.focus();
    if (move) go(move);
  };

  const key = (event: KeyboardEvent) => {
    if (edited !== undefined) {
      const down = event.shiftKey ? -1 : 1;
      if (event.key === "Enter") commit({ row: here.row + down, column: here.column });
      else if (event.key === "Tab") commit({ row: here.row, column: here.column + down });
      else if (event.key === "Escape") {
        setEdited(undefined);
        setRefusal(undefined);
        scroller.current?.focus();
      } else return;
      event.preventDefault();
      return;
    }
    if (rows.length === 0) return;
    const page = Math.max(1, Math.floor(window.height / ROW) - 1);
    const steps: Record<string, readonly [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-page, 0],
      PageDown: [page, 0],
      Home: [0, -columns.length],
      End: [0, columns.length],
    };
    const step = steps[event.key];
    const control = event.ctrlKey || event.metaKey;
    if (step) {
      const toCorner = control && (event.key === "Home" || event.key === "End");
      const far = control ? Math.max(rows.length, columns.length) : 1;
      go(
        { row: here.row + (toCorner ? Math.sign(step[1]) : step[0]) * far, column: here.column + step[1] * far },
        event.shiftKey,
      );
    } else if (event.key === "Enter" || event.key === "F2") setEdited(columns[here.column].read(rows[here.row], place));
    else if (control && event.key.toLowerCase() === "d") fillDown();
    else if (control && event.key.toLowerCase() === "a") {
      setAnchor({ row: 0, column: 0 });
      setActive({ row: rows.length - 1, column: columns.length - 1 });
      if (sheet.id !== "entityTypes") select((shown.current = rows.map((r) => r.id)));
    } else if (event.key === "Delete" || event.key === "Backspace")
      write(
        "Clear cells",
        cellsOf(range)
          .filter((c) => columns[c.column].mono && columns[c.column].read(rows[c.row], place) !== "")
          .map((c) => ({ ...c, text: "" })),
      );
    else if (event.key.length === 1 && !control && !event.altKey) setEdited(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const fillDown = () => {
    const cells = cellsOf({ ...range, top: range.top + 1 }).map((c) => ({
      ...c,
      text: columns[c.column].read(rows[range.top], place),
    }));
    if (cells.length === 0) return announce("Choose the cells to fill, with the one to fill from at the top.");
    if (write("Fill down", cells)) announce(`Filled down ${range.bottom - range.top} rows.`);
  };

  const copy = (event: ClipboardEvent) => {
    if (edited !== undefined || rows.length === 0) return;
    const block = rows
      .slice(range.top, range.bottom + 1)
      .map((row) => columns.slice(range.left, range.right + 1).map((c) => c.read(row, place)));
    event.clipboardData.setData("text/plain", writeBlock(block));
    event.preventDefault();
    announce(`${block.length * block[0].length} cells copied.`);
  };

  const paste = (event: ClipboardEvent) => {
    if (edited !== undefined) return;
    event.preventDefault();
    const { cells, problem } = readBlock(event.clipboardData.getData("text/plain"));
    if (problem) return announce(`The clipboard was not put in. ${problem}`, true);
    onPaste(cells, { row: range.top, column: range.left });
  };

  const press = (event: PointerEvent, cell: Cell) => {
    if (edited !== undefined) {
      if (cell.row === here.row && cell.column === here.column) return;
      commit(undefined);
    }
    go(cell, event.shiftKey);
  };

  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={sheet.label}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      aria-multiselectable
      aria-activedescendant={rows.length > 0 ? `${id}-${here.row}-${here.column}` : undefined}
      tabIndex={0}
      data-testid="ledger-grid"
      className="relative min-h-0 grow overflow-auto select-none focus-visible:-outline-offset-2"
      onKeyDown={key}
      onCopy={copy}
      onPaste={paste}
      onScroll={(event) => setWindow({ top: event.currentTarget.scrollTop, height: event.currentTarget.clientHeight })}
    >
      <div
        role="row"
        className="sticky top-0 z-10 flex border-b border-line bg-sheet"
        style={{ width: total, height: ROW }}
      >
        <span className="sticky left-0 shrink-0 border-r border-line bg-sheet" style={{ width: NUMBERS }} />
        {columns.map((column) => {
          const by = sorting[sheet.id]?.column === column.id ? sorting[sheet.id] : undefined;
          return (
            <div
              key={column.id}
              role="columnheader"
              aria-sort={by ? (by.down ? "descending" : "ascending") : "none"}
              className="relative shrink-0 border-r border-line"
              style={{ width: widthOf(column) }}
            >
              <button
                tabIndex={-1}
                className="flex h-full w-full items-center gap-1 truncate px-2 text-left font-semibold hover:bg-water"
                title={column.help}
                onClick={() =>
                  sort(
                    sheet.id,
                    !by ? { column: column.id, down: false } : by.down ? undefined : { column: column.id, down: true },
                  )
                }
              >
                {column.label}{" "}
                {by && (
                  <span aria-hidden className="text-action">
                    {by.down ? "▾" : "▴"}
                  </span>
                )}
              </button>
              <span
                className="absolute top-0 -right-1 z-10 h-full w-2 cursor-col-resize touch-none"
                onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
                onPointerMove={(event) =>
                  event.buttons === 1 && setWidth(sheet.id, column.id, widthOf(column) + event.movementX)
                }
              />
            </div>
          );
        })}
      </div>
      <div style={{ height: rows.length * ROW, width: total }} className="relative">
        {rows.slice(first, last).map((item, i) => {
          const row = first + i;
          return (
            <div
              key={item.id}
              role="row"
              aria-rowindex={row + 2}
              aria-selected={chosen.has(item.id)}
              className={`absolute flex border-b border-line/60 ${chosen.has(item.id) ? "bg-water" : ""}`}
              style={{ top: row * ROW, height: ROW, width: total }}
            >
              <span
                role="rowheader"
                className={`sticky left-0 flex shrink-0 items-center justify-end border-r border-line px-2 text-xs text-soft ${chosen.has(item.id) ? "bg-water" : "bg-sheet"}`}
                style={{ width: NUMBERS }}
                onPointerDown={(event) => press(event, { row, column: here.column })}
              >
                {row + 1}
              </span>
              {columns.map((column, c) => {
                const isActive = row === here.row && c === here.column;
                const inRange = row >= range.top && row <= range.bottom && c >= range.left && c <= range.right;
                const trouble = troubles.get(`${item.id}/${column.id}`);
                const text = column.read(item, place);
                return (
                  <div
                    key={column.id}
                    id={`${id}-${row}-${c}`}
                    role="gridcell"
                    aria-selected={inRange}
                    aria-invalid={trouble !== undefined}
                    title={trouble ?? text}
                    className={`shrink-0 overflow-hidden border-r border-line/60 ${inRange && !isActive ? "bg-action/10" : ""} ${isActive ? "outline-2 -outline-offset-2 outline-action" : ""} ${trouble ? "shadow-[inset_3px_0_0] shadow-buoy" : ""}`}
                    style={{ width: widthOf(column) }}
                    onPointerDown={(event) => press(event, { row, column: c })}
                    onDoubleClick={() => setEdited(text)}
                  >
                    {isActive && edited !== undefined ? (
                      <Editor
                        text={edited}
                        column={column}
                        choices={column.choices?.(place)}
                        refusal={refusal}
                        onChange={setEdited}
                        onBlur={() => commit(undefined)}
                      />
                    ) : (
                      <span className={`block truncate px-2 leading-7 ${column.mono ? "mono" : ""}`}>{text}</span>
                    )}
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
      {rows.length === 0 && (
        <p className="p-3 text-soft">No rows. Add one above, or paste a block from a spreadsheet.</p>
      )}
    </div>
  );
}

function Editor({
  text,
  column,
  choices,
  refusal,
  onChange,
  onBlur,
}: {
  text: string;
  column: Column;
  choices?: readonly string[];
  refusal?: string;
  onChange: (text: string) => void;
  onBlur: () => void;
}) {
  const listId = useId();
  return (
    <>
      <input
        autoFocus
        aria-label={column.label}
        aria-invalid={refusal !== undefined}
        title={refusal}
        className={`h-full w-full bg-sheet px-2 outline-none ${column.mono ? "mono" : ""} ${refusal ? "text-buoy-deep" : ""}`}
        value={text}
        list={choices ? listId : undefined}
        autoComplete="off"
        onFocus={(event) => event.target.setSelectionRange(text.length, text.length)}
        onChange={(event) => onChange(event.target.value)}
        onBlur={onBlur}
      />
      {choices && (
        <datalist id={listId}>
          {choices.map((c) => (
            <option key={c} value={c} />
          ))}
        </datalist>
      )}
    </>
  );
}

const nameOf = (item: Item, sheet: Sheet) => ("name" in item ? item.name : sheet.one);

function cellsOf({ top, bottom, left, right }: { top: number; bottom: number; left: number; right: number }): Cell[] {
  const cells: Cell[] = [];
  for (let row = top; row <= bottom; row++)
    for (let column = left; column <= right; column++) cells.push({ row, column });
  return cells;
}

function reveal(element: HTMLElement, row: number): void {
  const [top, bottom] = [row * ROW, (row + 2) * ROW];
  if (top < element.scrollTop) element.scrollTop = top;
  else if (bottom > element.scrollTop + element.clientHeight) element.scrollTop = bottom - element.clientHeight;
}
