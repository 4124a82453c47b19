import { useState } from "react";
import { createRoot } from "react-dom/client";
import type { GridColumn } from "../../src/grid/column.ts";
import { Grid } from "../../src/grid/Grid.tsx";
import { useGrid } from "../../src/grid/useGrid.ts";

interface Call {
  readonly id: string;
  readonly values: readonly string[];
}

const COLUMNS: readonly GridColumn<Call>[] = Array.from({ length: 12 }, (_, i) => ({
  id: `c${i}`,
  label: i === 0 ? "Call" : `Column ${i}`,
  width: 120,
  frozen: i === 0,
  mono: i > 1,
  read: (row: Call) => row.values[i],
}));

const ROWS: readonly Call[] = Array.from({ length: 100_000 }, (_, row) => ({
  id: String(row),
  values: COLUMNS.map((_column, i) => (i === 0 ? `Boat ${row}` : `${((row * (i + 7)) % 997) / 10} min`)),
}));

const idOf = (row: Call) => row.id;

/** A grid as large as a table may be. */
function ManyRows() {
  const [selection, select] = useState<readonly string[]>([]);
  const model = useGrid({ id: "many", rows: ROWS, columns: COLUMNS, rowId: idOf });
  return (
    <div className="flex h-screen flex-col">
      <Grid
        model={model}
        label="Calls"
        numbered
        selection={selection}
        onSelect={select}
        onWrite={() => undefined}
        empty="None."
      />
    </div>
  );
}

createRoot(document.getElementById("root")!).render(<ManyRows />);
