import type { Header } from "@tanstack/react-table";
import { ArrowDown, ArrowUp } from "lucide-react";
import type { GridColumn } from "./column.ts";
import type { GridFeatures, RowData } from "./useGrid.ts";

/** Name of a column: a click sorts by it (with Shift, by it too), its edge is dragged to size it. */
export function GridHead<R extends RowData>({
  header,
  column,
  left,
  gap,
}: {
  header: Header<GridFeatures, R>;
  column: GridColumn<R>;
  /** Where it stays, of a column that does. */
  left: number | undefined;
  /** Width of the columns left out before it. */
  gap: number;
}) {
  const sorted = header.column.getIsSorted();
  const resize = header.getResizeHandler();
  return (
    <div
      role="columnheader"
      aria-sort={sorted === "desc" ? "descending" : sorted ? "ascending" : "none"}
      className={`shrink-0 border-r border-line bg-sheet ${left === undefined ? "relative" : "sticky z-10"}`}
      style={{ width: header.column.getSize(), left, marginLeft: gap }}
    >
      <button
        type="button"
        tabIndex={-1}
        className={`flex h-full w-full items-center gap-1 px-2 font-semibold hover:bg-water ${column.align === "right" ? "justify-end" : ""}`}
        data-tip={column.help}
        onClick={header.column.getToggleSortingHandler()}
      >
        <span className="truncate">{column.label}</span>
        {sorted === "desc" ? (
          <ArrowDown size={12} className="shrink-0 text-action" />
        ) : sorted ? (
          <ArrowUp size={12} className="shrink-0 text-action" />
        ) : null}
      </button>
      <span
        className="absolute top-0 -right-1 z-10 h-full w-2 cursor-col-resize touch-none"
        onMouseDown={resize}
        onTouchStart={resize}
        onDoubleClick={() => header.column.resetSize()}
      />
    </div>
  );
}
