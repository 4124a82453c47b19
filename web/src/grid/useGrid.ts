import {
  type ColumnDef,
  columnFilteringFeature,
  columnGroupingFeature,
  columnOrderingFeature,
  columnPinningFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  createExpandedRowModel,
  createFilteredRowModel,
  createGroupedRowModel,
  createSortedRowModel,
  type ExpandedState,
  functionalUpdate,
  globalFilteringFeature,
  type ReactTable,
  type Row,
  rowExpandingFeature,
  rowSortingFeature,
  tableFeatures,
  type Updater,
  useTable,
} from "@tanstack/react-table";
import { useMemo, useState } from "react";
import { type Arrangement, useArrangements } from "./arrangements.ts";
import type { GridColumn } from "./column.ts";

const features = tableFeatures({
  columnVisibilityFeature,
  columnOrderingFeature,
  columnPinningFeature,
  columnSizingFeature,
  columnResizingFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  filteredRowModel: createFilteredRowModel(),
  columnGroupingFeature,
  groupedRowModel: createGroupedRowModel(),
  rowExpandingFeature,
  expandedRowModel: createExpandedRowModel(),
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
});
export type GridFeatures = typeof features;

/** What can be a row. */
export type RowData = object;

export interface GridModel<R extends RowData> {
  readonly id: string;
  readonly table: ReactTable<GridFeatures, R>;
  /** The rows shown, headings of groups among them. */
  readonly rows: readonly Row<GridFeatures, R>[];
  /** The rows that pass the filter, in their order, without headings and none folded away. */
  readonly found: readonly R[];
  /** The columns shown, those that stay at the left first. */
  readonly columns: readonly GridColumn<R>[];
  /** All columns in their order, but for one that has become headings. */
  readonly allColumns: readonly GridColumn<R>[];
}

const SMALLEST = 44;
const LARGEST = 1000;
const texts = new Intl.Collator("en", { numeric: true, sensitivity: "base" });

/** Numbers before texts, texts with numbers in them in the order of these; what is empty, last. */
function compare(a: unknown, b: unknown): number {
  if (typeof a === "number") return typeof b === "number" ? a - b : -1;
  return typeof b === "number" ? 1 : texts.compare(String(a), String(b));
}

/**
 * The rows and columns of a grid as a person has arranged them: found, sorted, grouped, hidden, moved, frozen, sized.
 * `columns`, `rows` and `rowId` stay the same while nothing changes.
 */
export function useGrid<R extends RowData>({
  id,
  rows,
  columns,
  rowId,
  filter = "",
  groupBy,
}: {
  /** By which the arrangement is kept. */
  id: string;
  rows: readonly R[];
  columns: readonly GridColumn<R>[];
  rowId: (row: R) => string;
  /** Words of which every row shown has all. */
  filter?: string;
  /** Column whose values head the rows, while these are not sorted. */
  groupBy?: string;
}): GridModel<R> {
  const arrangement = useArrangements((s) => s.of[id]);
  const change = useArrangements((s) => s.change);
  const [expanded, setExpanded] = useState<ExpandedState>(true);
  const sorting = arrangement?.sorting ?? NONE;
  const grouped = sorting.length === 0 && groupBy !== undefined;
  const defs = useMemo(
    () =>
      columns
        .map((column): ColumnDef<GridFeatures, R> => ({
          id: column.id,
          accessorFn: (row: R) => (column.value ? column.value(row) : column.read(row) || undefined),
          getGroupingValue: (row: R) => column.read(row),
          size: column.width,
          minSize: SMALLEST,
          maxSize: LARGEST,
          sortUndefined: "last" as const,
          // Of figures the largest come first.
          sortDescFirst: column.align === "right",
          sortFn: (a: Row<GridFeatures, R>, b: Row<GridFeatures, R>, of: string) =>
            compare(a.getValue(of), b.getValue(of)),
          enableGlobalFilter: false,
        }))
        // What is looked in: all of a row, whatever is shown of it.
        .concat({
          id: TEXT,
          accessorFn: (row: R) =>
            columns
              .flatMap((c) => (c.unsearched ? [] : [c.read(row)]))
              .join(" ")
              .toLowerCase(),
          enableGlobalFilter: true,
        }),
    [columns],
  );
  const frozen = useMemo(() => ({ start: columns.filter((c) => c.frozen).map((c) => c.id), end: [] }), [columns]);
  const wanted = arrangement?.columnVisibility;
  const visibility = useMemo(
    () => ({
      ...Object.fromEntries(columns.flatMap((c) => (c.hiddenAtFirst ? [[c.id, false]] : []))),
      ...wanted,
    }),
    [columns, wanted],
  );
  const grouping = useMemo(() => (grouped ? [groupBy] : []), [grouped, groupBy]);
  const keep =
    <K extends keyof Arrangement>(part: K) =>
    (next: Updater<NonNullable<Arrangement[K]>>) => {
      const now = table.state[part] as NonNullable<Arrangement[K]>;
      change(id, { [part]: functionalUpdate(next, now) });
    };
  const table: ReactTable<GridFeatures, R> = useTable<GridFeatures, R>({
    features,
    columns: defs,
    data: rows,
    getRowId: rowId,
    columnResizeMode: "onChange",
    groupedColumnMode: "remove",
    enableSortingRemoval: true,
    autoResetExpanded: false,
    globalFilterFn: hasAllWords,
    getColumnCanGlobalFilter: (column) => column.id === TEXT,
    state: {
      sorting,
      grouping,
      expanded,
      globalFilter: filter.trim().toLowerCase(),
      columnVisibility: visibility,
      columnSizing: arrangement?.columnSizing ?? NOTHING,
      columnOrder: arrangement?.columnOrder ?? NO_ORDER,
      columnPinning: arrangement?.columnPinning ?? frozen,
    },
    onSortingChange: keep("sorting"),
    onColumnVisibilityChange: keep("columnVisibility"),
    onColumnSizingChange: keep("columnSizing"),
    onColumnOrderChange: keep("columnOrder"),
    onColumnPinningChange: keep("columnPinning"),
    onExpandedChange: setExpanded,
  });
  const byId = useMemo(() => new Map(columns.map((c) => [c.id, c])), [columns]);
  const frozenNow = table.getStartVisibleLeafColumns();
  const loose = table.getCenterVisibleLeafColumns();
  const ordered = table.getAllLeafColumns();
  const ungrouped = grouped ? table.getFilteredRowModel() : table.getSortedRowModel();
  return {
    id,
    table,
    rows: table.getRowModel().rows,
    found: useMemo(() => ungrouped.rows.map((r) => r.original), [ungrouped]),
    columns: useMemo(() => [...frozenNow, ...loose].flatMap((c) => byId.get(c.id) ?? []), [frozenNow, loose, byId]),
    allColumns: useMemo(() => ordered.flatMap((c) => byId.get(c.id) ?? []), [ordered, byId]),
  };
}

/** Column of a row's whole text; never shown. */
const TEXT = "\u0000text";

const hasAllWords = <R extends RowData>(row: Row<GridFeatures, R>, column: string, filter: string): boolean => {
  const text = row.getValue<string>(column);
  return filter.split(/\s+/).every((word) => text.includes(word));
};

const NONE: { id: string; desc: boolean }[] = [];
const NOTHING = {};
const NO_ORDER: string[] = [];
