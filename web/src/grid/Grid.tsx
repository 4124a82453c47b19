import type { Problem } from "@busy-harbor/core";
import { defaultRangeExtractor, type Range as Indices, useVirtualizer } from "@tanstack/react-virtual";
import {
  type ClipboardEvent,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  useCallback,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
} from "react";
import { fetchEditor } from "../expressions/ExpressionInput.tsx";
import { announce } from "../ui/announce.ts";
import { CellEditor } from "./CellEditor.tsx";
import { readBlock, writeBlock } from "./cells.ts";
import type { Entry } from "./column.ts";
import { filled } from "./fill.ts";
import { GridHead } from "./GridHead.tsx";
import { type Drawn, GridRow, ROW_HEIGHT } from "./GridRow.tsx";
import { type Cell, cellAfter, cellsOf, isOneCell, type Range, rangeOf, within } from "./range.ts";
import type { GridModel, RowData } from "./useGrid.ts";

const NUMBERS = 46;
/** Rows and columns drawn beyond the window's edges. */
const BEYOND = { rows: 4, columns: 1 };
/** By how much a key makes a column wider or narrower. */
const WIDER = 16;

interface GridProps<R extends RowData> {
  readonly model: GridModel<R>;
  readonly label: string;
  readonly testId?: string;
  /** Whether rows are numbered. */
  readonly numbered?: boolean;
  readonly selection?: readonly string[];
  /** Whether the first row selected is brought into sight when they change from outside. */
  readonly follows?: boolean;
  readonly onSelect?: (ids: readonly string[]) => void;
  /** Puts texts into cells as one step; returns why one cannot be taken. Without, nothing can be written. */
  readonly onWrite?: (what: string, entries: readonly Entry<R>[]) => string | undefined;
  /** A block was pasted at a cell. */
  readonly onPaste?: (cells: string[][], at: Cell) => void;
  readonly problemsAt?: (rowId: string, column: string) => readonly Problem[];
  /** What stands over a group, by one of its rows. */
  readonly headingOf?: (row: R, count: number) => ReactNode;
  /** Told which rows are in sight. */
  readonly onSight?: (rows: readonly R[]) => void;
  /** Told the column of the cell that has the keys. */
  readonly onActive?: (column: string) => void;
  /** Where in the study a cell stands, told of the one that has the keys. */
  readonly placeOf?: (row: R, column: string) => readonly string[] | undefined;
  /** A cell to go to, whenever it is another. */
  readonly at?: { readonly row: string; readonly column: string };
  /** What stands at the foot of a column, such as its sum. */
  readonly footOf?: (column: string) => readonly string[];
  /** Said where there are no rows. */
  readonly empty: string;
}

const NO_PROBLEMS: readonly Problem[] = [];
const noProblems = () => NO_PROBLEMS;

/**
 * Rows and columns as a spreadsheet has them: cells are gone to, chosen, written in, filled, copied and pasted into.
 * Only what is in sight is drawn.
 */
export function Grid<R extends RowData>({
  model,
  label,
  testId,
  numbered = false,
  selection = NOBODY,
  follows = false,
  onSelect,
  onWrite,
  onPaste,
  problemsAt = noProblems,
  headingOf,
  onSight,
  onActive,
  placeOf,
  at,
  footOf,
  empty,
}: GridProps<R>) {
  const { table, rows, columns } = model;
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
  /** The block that the range is being dragged out to. */
  const [fillTo, setFillTo] = useState<Range>();
  const dragging = useRef<"range" | "fill">(undefined);
  const scroller = useRef<HTMLDivElement>(null);
  const id = useId();
  const numbers = numbered ? NUMBERS : 0;
  const chosen = useMemo(() => new Set(selection), [selection]);
  const hasCells = rows.length > 0 && columns.length > 0;
  const here = within(active, rows.length, columns.length);
  const range = rangeOf(here, within(anchor, rows.length, columns.length));
  const isWriting = edited !== undefined;
  const isGrouped = table.state.grouping.length > 0;

  const frozenCount = table.getStartVisibleLeafColumns().length;
  const { columnSizing } = table.state;
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the sizes a person gave are read through the table
  const sizes = useMemo(() => columns.map((c) => table.getColumn(c.id)!.getSize()), [columns, table, columnSizing]);
  const frozenWidth = sizes.slice(0, frozenCount).reduce((sum, w) => sum + w, numbers);
  // A cell that is written in stays, however far one scrolls. The functions stay the same while nothing changes: a new
  // one has all that is in sight drawn anew.
  const rowKept = isWriting ? here.row : -1;
  const columnKept = isWriting ? here.column - frozenCount : -1;
  const rowsOf = useCallback((indices: Indices) => withKept(rowKept, indices), [rowKept]);
  const columnsOf = useCallback((indices: Indices) => withKept(columnKept, indices), [columnKept]);
  const down = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: BEYOND.rows,
    paddingStart: ROW_HEIGHT,
    scrollPaddingStart: ROW_HEIGHT,
    rangeExtractor: rowsOf,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length - frozenCount,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => sizes[frozenCount + i],
    overscan: BEYOND.columns,
    paddingStart: frozenWidth,
    scrollPaddingStart: frozenWidth,
    rangeExtractor: columnsOf,
  });
  const measured = [...sizes, frozenCount, numbers].join(" ");
  useEffect(() => across.measure(), [across, measured]);
  const total = Math.max(frozenWidth, across.getTotalSize());
  const rowsDrawn = down.getVirtualItems();
  // Rows that come into sight take the place of those that leave it: as many places as are ever drawn at this height.
  const inSight = Math.ceil((down.scrollRect?.height ?? 0) / ROW_HEIGHT) + 1;
  const pool = Math.max(rowsDrawn.length, inSight + 2 * BEYOND.rows);
  const columnsDrawn = across.getVirtualItems();

  const drawn = useMemo(() => {
    const list: Drawn<R>[] = [];
    let left = numbers;
    for (let i = 0; i < frozenCount; i++) {
      list.push({ column: columns[i], index: i, width: sizes[i], left });
      left += sizes[i];
    }
    for (const { index } of columnsDrawn) {
      const i = frozenCount + index;
      if (columns[i]) list.push({ column: columns[i], index: i, width: sizes[i], left: undefined });
    }
    return list;
  }, [columns, sizes, frozenCount, columnsDrawn, numbers]);
  const gap = columnsDrawn.length > 0 ? columnsDrawn[0].start - frozenWidth : 0;

  useEffect(() => {
    if (columns.some((c) => c.expression)) void fetchEditor();
  }, [columns]);

  const [firstSeen, lastSeen] = [rowsDrawn[0]?.index, rowsDrawn.at(-1)?.index];
  useEffect(() => {
    if (!onSight || firstSeen === undefined) return;
    onSight(rows.slice(firstSeen, lastSeen! + 1).flatMap((r) => (r.getIsGrouped() ? [] : [r.original])));
  }, [onSight, rows, firstSeen, lastSeen]);

  const reveal = useCallback(
    (cell: Cell) => {
      down.scrollToIndex(cell.row, { align: "auto" });
      if (cell.column >= frozenCount) across.scrollToIndex(cell.column - frozenCount, { align: "auto" });
    },
    [down, across, frozenCount],
  );

  // What is selected elsewhere is brought into sight here.
  const shown = useRef<readonly string[]>(NOBODY);
  useEffect(() => {
    if (!follows || shown.current === selection) return;
    shown.current = selection;
    const row = rows.findIndex((r) => r.id === selection[0]);
    if (row < 0) return;
    setActive((a) => ({ ...a, row }));
    setAnchor((a) => ({ ...a, row }));
    down.scrollToIndex(row, { align: "auto" });
  }, [follows, selection, rows, down]);

  const activeColumn = columns[here.column]?.id;
  useEffect(() => {
    if (activeColumn !== undefined) onActive?.(activeColumn);
  }, [onActive, activeColumn]);

  const activeRow = rows[here.row];
  const place =
    placeOf && activeRow && activeColumn !== undefined && !activeRow.getIsGrouped()
      ? placeOf(activeRow.original, activeColumn)
      : undefined;

  const gone = useRef<typeof at>(undefined);
  useEffect(() => {
    if (!at || gone.current === at) return;
    const cell = { row: rows.findIndex((r) => r.id === at.row), column: columns.findIndex((c) => c.id === at.column) };
    if (cell.row < 0 && cell.column < 0) return;
    gone.current = at;
    const to = { row: Math.max(0, cell.row), column: Math.max(0, cell.column) };
    setActive(to);
    setAnchor(to);
    reveal(to);
    scroller.current?.focus();
  }, [at, rows, columns, reveal]);

  const tellSelected = (from: number, to: number) => {
    if (!onSelect) return;
    shown.current = rows.slice(from, to + 1).flatMap((r) => (r.getIsGrouped() ? [] : [r.id]));
    onSelect(shown.current);
  };
  const go = (to: Cell, extend = false) => {
    if (!hasCells) return;
    const cell = within(to, rows.length, columns.length);
    setActive(cell);
    if (!extend) setAnchor(cell);
    reveal(cell);
    const other = extend ? anchor.row : cell.row;
    tellSelected(Math.min(cell.row, other), Math.max(cell.row, other));
  };

  const textAt = (row: number, column: number): string => {
    const at = rows[row];
    return !at || at.getIsGrouped() ? "" : columns[column].read(at.original);
  };
  const write = (
    what: string,
    cells: readonly { readonly row: number; readonly column: number; readonly text: string }[],
  ): boolean => {
    const entries = cells
      .filter(({ row }) => !rows[row].getIsGrouped())
      .map(({ row, column, text }) => ({ row: rows[row].original, column: columns[column], text }));
    if (!onWrite || entries.length === 0) return false;
    const refused = onWrite(what, entries);
    setRefusal(refused);
    if (refused !== undefined) announce(refused, true);
    return refused === undefined;
  };

  const beginEditing = (text: string) => {
    if (onWrite && !rows[here.row].getIsGrouped()) setEdited(text);
  };
  const giveUp = () => {
    setEdited(undefined);
    setRefusal(undefined);
    scroller.current?.focus();
  };
  const commit = (move: Cell | undefined, taken?: string): void => {
    const text = taken ?? editing.current;
    if (editing.current === undefined || text === undefined) return;
    if (text !== textAt(here.row, here.column) && !write("", [{ ...here, text }])) return;
    giveUp();
    if (move) go(move);
  };

  /** Fills what a block lacks of another that it is part of; returns whether there was anything to fill. */
  const fill = (from: Range, to: Range): boolean => {
    const cells = filled(from, to, textAt);
    if (cells.length === 0) return false;
    const down = to.bottom > from.bottom;
    const lines = down ? to.bottom - from.bottom : to.right - from.right;
    if (!write(down ? "Fill down" : "Fill to the right", cells)) return true;
    setAnchor({ row: to.top, column: to.left });
    setActive({ row: to.bottom, column: to.right });
    announce(`Filled ${down ? "down" : "to the right"} ${lines} ${down ? "row" : "column"}${lines === 1 ? "" : "s"}.`);
    return true;
  };
  /** Fills a block from its first line. */
  const fillFromFirst = (way: "down" | "right") => {
    const first = way === "down" ? { ...range, bottom: range.top } : { ...range, right: range.left };
    if (!fill(first, range))
      announce(`Choose the cells to fill, with the one to fill from ${way === "down" ? "at the top" : "at the left"}.`);
  };
  const clear = (what: string) =>
    write(
      what,
      cellsOf(range)
        .filter((c) => columns[c.column].mono && textAt(c.row, c.column) !== "")
        .map((c) => ({ ...c, text: "" })),
    );

  const key = (event: KeyboardEvent) => {
    // What the editor in a cell has taken is its own.
    if (event.defaultPrevented) return;
    const back = event.shiftKey ? -1 : 1;
    if (isWriting) {
      if (event.key === "Enter") commit({ row: here.row + back, column: here.column });
      else if (event.key === "Tab") commit({ row: here.row, column: here.column + back });
      else if (event.key === "Escape") giveUp();
      else return;
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (!hasCells) return;
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 0) / ROW_HEIGHT) - 2);
    const control = event.ctrlKey || event.metaKey;
    const to = event.altKey ? undefined : cellAfter(event, here, rows.length, columns.length, page);
    const column = table.getColumn(columns[here.column].id)!;
    const heading = rows[here.row].getIsGrouped() ? rows[here.row] : undefined;
    if (to && heading && !control && (event.key === "ArrowLeft" || event.key === "ArrowRight"))
      heading.toggleExpanded(event.key === "ArrowRight");
    else if (to) go(to, event.shiftKey);
    else if (event.altKey && (event.key === "ArrowLeft" || event.key === "ArrowRight"))
      table.setColumnSizing((s) => ({
        ...s,
        [column.id]: Math.min(1000, Math.max(44, column.getSize() + (event.key === "ArrowRight" ? WIDER : -WIDER))),
      }));
    else if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      const desc = event.key === "ArrowDown";
      if (column.getIsSorted() === (desc ? "desc" : "asc")) column.clearSorting();
      else column.toggleSorting(desc);
    } else if (event.key === "Enter" && heading) heading.toggleExpanded();
    else if (event.key === "Enter" || event.key === "F2") beginEditing(textAt(here.row, here.column));
    else if (control && event.key.toLowerCase() === "a") {
      setAnchor({ row: 0, column: 0 });
      setActive({ row: rows.length - 1, column: columns.length - 1 });
      tellSelected(0, rows.length - 1);
    } else if (control && onWrite && event.key.toLowerCase() === "d") fillFromFirst("down");
    else if (control && onWrite && event.key.toLowerCase() === "r") fillFromFirst("right");
    else if (onWrite && (event.key === "Delete" || event.key === "Backspace")) clear("Clear cells");
    else if (onWrite && event.key.length === 1 && !control && !event.altKey) beginEditing(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const copy = (event: ClipboardEvent) => {
    if (isWriting || !hasCells) return;
    const block: string[][] = [];
    for (let row = range.top; row <= range.bottom; row++) {
      const line = [];
      for (let column = range.left; column <= range.right; column++) line.push(textAt(row, column));
      if (!rows[row].getIsGrouped()) block.push(line);
    }
    if (block.length === 0) return;
    event.clipboardData.setData("text/plain", writeBlock(block));
    event.preventDefault();
    const count = block.length * block[0].length;
    announce(`${count} ${count === 1 ? "cell" : "cells"} copied.`);
    if (event.type === "cut" && onWrite) clear("Cut cells");
  };
  const paste = (event: ClipboardEvent) => {
    if (isWriting || !onPaste) return;
    event.preventDefault();
    const { cells, problem } = readBlock(event.clipboardData.getData("text/plain"));
    if (problem) return announce(`The clipboard was not put in. ${problem}`, true);
    const [[only]] = cells;
    if (cells.length === 1 && cells[0].length === 1 && hasCells && !isOneCell(range))
      return void write(
        "Paste",
        cellsOf(range).map((c) => ({ ...c, text: only })),
      );
    onPaste(cells, { row: hasCells ? range.top : 0, column: hasCells ? range.left : 0 });
  };

  /** The cell under the pointer, or the nearest; the number of a row counts as its first column. */
  const cellAt = (event: PointerEvent): Cell & { readonly inHead: boolean; readonly onNumber: boolean } => {
    const element = scroller.current!;
    const box = element.getBoundingClientRect();
    const [x, y] = [event.clientX - box.left - element.clientLeft, event.clientY - box.top - element.clientTop];
    const along = x < frozenWidth ? x : x + element.scrollLeft;
    let [edge, column] = [numbers, 0];
    while (column < sizes.length - 1 && along >= edge + sizes[column]) edge += sizes[column++];
    const row = Math.floor((y + element.scrollTop - ROW_HEIGHT) / ROW_HEIGHT);
    return { ...within({ row, column }, rows.length, columns.length), inHead: y < ROW_HEIGHT, onNumber: x < numbers };
  };
  const press = (event: PointerEvent) => {
    if (event.button !== 0 || !hasCells) return;
    const target = event.target as Element;
    // Names of columns, scroll bars and the editor see to themselves.
    if (!target.closest("[role=row]") || target.closest("[role=columnheader], button, input, .expression-cell")) return;
    const { inHead, onNumber, ...cell } = cellAt(event);
    if (inHead) return;
    if (isWriting) commit(undefined);
    if (editing.current !== undefined) return;
    if (target.closest("[data-fill]")) dragging.current = "fill";
    else {
      dragging.current = "range";
      go(onNumber ? { row: cell.row, column: here.column } : cell, event.shiftKey);
    }
    scroller.current!.focus();
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const drag = (event: PointerEvent) => {
    if (!dragging.current) return;
    const { row, column } = cellAt(event);
    if (dragging.current === "range") {
      if (row !== here.row || column !== here.column) go({ row, column }, true);
      return;
    }
    reveal({ row, column });
    // It grows one way, the one it is dragged farther.
    const [below, beside] = [row - range.bottom, column - range.right];
    setFillTo(
      below > 0 && below >= beside ? { ...range, bottom: row } : beside > 0 ? { ...range, right: column } : undefined,
    );
  };
  const letGo = () => {
    if (dragging.current === "fill" && fillTo) fill(range, fillTo);
    dragging.current = undefined;
    setFillTo(undefined);
  };

  const column = columns[here.column];
  const editor = isWriting && column && (
    <CellEditor
      column={column}
      choices={column.choices?.()}
      before={textAt(here.row, here.column)}
      problems={problemsAt(rows[here.row].id, column.id)}
      text={edited}
      refusal={refusal}
      onChange={setEdited}
      onDone={(text) => commit({ row: here.row + 1, column: here.column }, text)}
      onLeave={() => commit(undefined)}
    />
  );
  const marked = fillTo ?? range;
  const headers = useHeaders(table);

  return (
    <div
      ref={scroller}
      role={isGrouped ? "treegrid" : "grid"}
      aria-label={label}
      aria-rowcount={rows.length + (footOf ? 2 : 1)}
      aria-colcount={columns.length}
      aria-multiselectable
      aria-readonly={!onWrite}
      aria-activedescendant={
        hasCells ? `${id}-${here.row}-${rows[here.row].getIsGrouped() ? 0 : here.column}` : undefined
      }
      tabIndex={0}
      data-testid={testId}
      data-place={place && JSON.stringify(place)}
      data-aside={across.scrollOffset ? "" : undefined}
      className="group relative min-h-0 grow overflow-auto bg-sheet select-none focus-visible:-outline-offset-2"
      onKeyDown={key}
      onCopy={copy}
      onCut={copy}
      onPaste={paste}
      onPointerDown={press}
      onPointerMove={drag}
      onPointerUp={letGo}
      onPointerCancel={letGo}
      onDoubleClick={(event) => {
        // While the pointer is held, what it is over is not told: only where it is.
        if (isWriting || !hasCells || (event.target as Element).closest("[role=columnheader]")) return;
        const box = event.currentTarget.getBoundingClientRect();
        if (event.clientY - box.top > ROW_HEIGHT) beginEditing(textAt(here.row, here.column));
      }}
    >
      <div
        role="row"
        className="sticky top-0 z-30 flex border-b border-line bg-sheet"
        style={{ width: total, height: ROW_HEIGHT }}
      >
        {numbers > 0 && (
          <span className="sticky left-0 z-10 shrink-0 border-r border-line bg-sheet" style={{ width: numbers }} />
        )}
        {drawn.map(({ column: c, left }, i) => {
          const header = headers.get(c.id);
          return (
            header && (
              <GridHead
                key={c.id}
                header={header}
                column={c}
                left={left}
                gap={
                  (left === undefined && drawn[i - 1]?.left !== undefined) || (i === 0 && left === undefined) ? gap : 0
                }
              />
            )
          );
        })}
      </div>
      {/* As high as all rows; those in sight stand where they belong. */}
      <div style={{ height: down.getTotalSize() - ROW_HEIGHT, width: total }}>
        {rowsDrawn.map(({ index, start }) => {
          const row = rows[index];
          if (!row) return null;
          const isHere = index === here.row;
          const inRange = index >= marked.top && index <= marked.bottom;
          return (
            <GridRow
              key={isHere && isWriting ? "written" : index % pool}
              row={row}
              index={index}
              top={start}
              width={total}
              id={id}
              drawn={drawn}
              gap={gap}
              numbers={numbers}
              isSelected={chosen.has(row.id)}
              active={isHere ? here.column : undefined}
              from={inRange ? marked.left : undefined}
              to={inRange ? marked.right : undefined}
              corner={onWrite && !isWriting && index === range.bottom ? range.right : undefined}
              level={isGrouped ? 2 : undefined}
              problemsAt={problemsAt}
              editor={isHere ? editor || undefined : undefined}
              heading={row.getIsGrouped() ? headingOf?.(row.getLeafRows()[0].original, row.subRows.length) : undefined}
            />
          );
        })}
      </div>
      {footOf && rows.length > 0 && (
        <Foot drawn={drawn} gap={gap} numbers={numbers} width={total} rowIndex={rows.length + 2} textOf={footOf} />
      )}
      {rows.length === 0 && <p className="sticky left-0 p-3 text-soft">{empty}</p>}
    </div>
  );
}

/** What stands under the columns, whatever of the rows is in sight. */
function Foot<R extends RowData>({
  drawn,
  gap,
  numbers,
  width,
  rowIndex,
  textOf,
}: {
  drawn: readonly Drawn<R>[];
  gap: number;
  numbers: number;
  width: number;
  rowIndex: number;
  textOf: (column: string) => readonly string[];
}) {
  const firstLoose = drawn.findIndex((d) => d.left === undefined);
  return (
    <div
      role="row"
      aria-rowindex={rowIndex}
      className="sticky bottom-0 z-30 flex border-t border-line bg-paper text-xs text-soft"
      style={{ width, minHeight: ROW_HEIGHT }}
      data-testid="grid-foot"
    >
      {numbers > 0 && (
        <span
          role="rowheader"
          aria-label="Foot"
          className="sticky left-0 z-10 shrink-0 bg-paper"
          style={{ width: numbers }}
        />
      )}
      {drawn.map(({ column, width: cellWidth, left }, i) => (
        <div
          key={column.id}
          role="gridcell"
          data-tip={textOf(column.id).join(", ")}
          data-tip-cut=""
          className={`shrink-0 truncate px-2 py-1 whitespace-pre-line tabular-nums ${left === undefined ? "" : "sticky z-10 bg-paper"} ${column.align === "right" ? "text-right" : ""}`}
          style={{ width: cellWidth, left, marginLeft: i === firstLoose ? gap : undefined }}
        >
          {textOf(column.id).join("\n")}
        </div>
      ))}
    </div>
  );
}

const NOBODY: readonly string[] = [];

/** The indices in sight, and the one that is kept whatever is in sight (-1 for none). */
function withKept(kept: number, indices: Indices): number[] {
  const drawn = defaultRangeExtractor(indices);
  return kept >= 0 && !drawn.includes(kept) ? [...drawn, kept].sort((a, b) => a - b) : drawn;
}

/** Headers of all columns shown, by column. */
function useHeaders<R extends RowData>(table: GridModel<R>["table"]) {
  const headers = table.getLeafHeaders();
  return useMemo(() => new Map(headers.map((h) => [h.column.id, h])), [headers]);
}
