import { ClipboardCopy } from "lucide-react";
import { copyRows } from "../charts/FigureTools.tsx";
import type { GridModel, RowData } from "./useGrid.ts";

/** Copies all rows that are found, with the columns that are shown, as a spreadsheet takes them. */
export function CopyTable<R extends RowData>({
  model: { columns, found },
  omit = [],
}: {
  model: GridModel<R>;
  omit?: readonly string[];
}) {
  const shown = columns.filter(({ id }) => !omit.includes(id));
  const rows = () => [
    shown.map(({ label }) => label),
    ...found.map((row) =>
      shown.map((column) => {
        // In full: what is shown is rounded.
        const value = column.value?.(row);
        return typeof value === "number" ? value : column.read(row);
      }),
    ),
  ];
  return (
    <button
      className="button px-2!"
      aria-label="Copy the table"
      data-tip="Copy the table, as a spreadsheet takes it: the rows found and the columns shown, in full"
      onClick={() => copyRows(rows(), "The table")}
    >
      <ClipboardCopy size={14} />
    </button>
  );
}
