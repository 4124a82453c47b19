import type { Problem } from "@busy-harbor/core";
import type { Row } from "@tanstack/react-table";
import { ChevronDown, ChevronRight } from "lucide-react";
import { memo, type ReactNode } from "react";
import type { GridColumn } from "./column.ts";
import type { GridFeatures, RowData } from "./useGrid.ts";

export const ROW_HEIGHT = 28;

/**
 * Look of the cells that stay when the grid is scrolled aside, together: each part that sticks is a layer of its own to
 * the browser, so there is one a row, and none until the grid is scrolled aside.
 */
const STAYING = "relative left-0 flex h-full bg-inherit group-data-aside:sticky group-data-aside:z-10";

/** Look of the active cell, while the grid has the keys. */
const ACTIVE = "group-focus-within:outline-2 -outline-offset-2 outline-action";

/** A column where it stands among those drawn. */
export interface Drawn<R> {
  readonly column: GridColumn<R>;
  /** Among the columns shown. */
  readonly index: number;
  readonly width: number;
  /** Where it stays, of a column that does. */
  readonly left: number | undefined;
}

export interface RowProps<R extends RowData> {
  readonly row: Row<GridFeatures, R>;
  readonly index: number;
  readonly top: number;
  readonly width: number;
  /** Beginning of the ids of cells. */
  readonly id: string;
  readonly drawn: readonly Drawn<R>[];
  /** Width of the columns left out between those that stay and the others drawn. */
  readonly gap: number;
  /** Width of the row's number; 0 for none. */
  readonly numbers: number;
  readonly isSelected: boolean;
  /** The column of the active cell, in its row. */
  readonly active: number | undefined;
  /** First and last column of the range, in its rows. */
  readonly from: number | undefined;
  readonly to: number | undefined;
  /** The column at whose corner the range is drawn out to be filled, in its last row. */
  readonly corner: number | undefined;
  /** Its depth, where there are headings. */
  readonly level: number | undefined;
  readonly problemsAt: (rowId: string, column: string) => readonly Problem[];
  /** Stands in the active cell while it is written in. */
  readonly editor: ReactNode;
  /** What it says, of a row that heads others. */
  readonly heading: ReactNode;
}

function DrawnRow<R extends RowData>({
  row,
  index,
  top,
  width,
  id,
  drawn,
  gap,
  numbers,
  isSelected,
  active,
  from,
  to,
  corner,
  level,
  problemsAt,
  editor,
  heading,
}: RowProps<R>) {
  if (row.getIsGrouped())
    return (
      <div
        role="row"
        aria-rowindex={index + 2}
        aria-level={1}
        aria-expanded={row.getIsExpanded()}
        className="absolute left-0 border-b border-line bg-paper"
        style={{ top, height: ROW_HEIGHT, width }}
      >
        <span
          role="gridcell"
          id={`${id}-${index}-0`}
          className={`sticky left-0 flex h-full max-w-full items-center gap-1 truncate px-2 font-semibold ${active === undefined ? "" : ACTIVE}`}
        >
          <button
            type="button"
            tabIndex={-1}
            aria-label={row.getIsExpanded() ? "Fold" : "Unfold"}
            className="text-soft"
            onClick={() => row.toggleExpanded()}
          >
            {row.getIsExpanded() ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
          </button>
          {heading}
        </span>
      </div>
    );
  const cellOf = ({ column, index: c, width: cellWidth }: Drawn<R>, before = 0) => {
    const isActive = c === active;
    const inRange = from !== undefined && to !== undefined && c >= from && c <= to;
    const trouble = problemsAt(row.id, column.id)[0]?.message;
    const text = column.read(row.original);
    return (
      <div
        key={column.id}
        id={isActive ? `${id}-${index}-${c}` : undefined}
        role="gridcell"
        aria-colindex={c + 1}
        aria-selected={inRange}
        aria-invalid={trouble !== undefined}
        data-tip={trouble ?? column.hint?.(row.original) ?? (column.show ? text : "")}
        data-tip-cut={trouble === undefined && !column.hint ? "" : undefined}
        className={[
          "relative h-full shrink-0 border-r border-line/60",
          isActive && editor ? "" : "truncate px-2 leading-7",
          column.mono ? "mono" : "",
          column.align === "right" ? "text-right" : "",
          isActive ? ACTIVE : inRange ? "cell-in-range" : "",
          trouble ? "shadow-[inset_3px_0_0] shadow-buoy" : "",
        ].join(" ")}
        style={{ width: cellWidth, marginLeft: before || undefined }}
      >
        {isActive && editor ? editor : column.show ? column.show(row.original) : text}
        {c === corner && (
          <span
            aria-hidden
            data-fill
            data-tip="Drag to fill"
            className="absolute right-0 bottom-0 hidden h-2 w-2 cursor-crosshair bg-action group-focus-within:block"
          />
        )}
      </div>
    );
  };
  const staying = drawn.filter((d) => d.left !== undefined);
  const loose = drawn.filter((d) => d.left === undefined);
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-level={level}
      aria-selected={isSelected}
      data-row={row.id}
      className={`absolute left-0 flex border-b border-line/60 ${isSelected ? "bg-water" : "bg-sheet"} ${editor ? "z-20" : ""}`}
      style={{ top, height: ROW_HEIGHT, width }}
    >
      {(numbers > 0 || staying.length > 0) && (
        <span role="none" className={STAYING}>
          {numbers > 0 && (
            <span
              role="rowheader"
              className="flex shrink-0 items-center justify-end border-r border-line px-2 text-xs text-soft"
              style={{ width: numbers }}
            >
              {index + 1}
            </span>
          )}
          {staying.map((d) => cellOf(d))}
        </span>
      )}
      {loose.map((d, i) => cellOf(d, i === 0 ? gap : 0))}
    </div>
  );
}

/** A row as it is drawn; drawn anew when something of it changed. */
export const GridRow = memo(DrawnRow) as typeof DrawnRow;
