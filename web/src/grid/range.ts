/** A cell, by its place among the rows and columns shown. */
export interface Cell {
  readonly row: number;
  readonly column: number;
}

/** A block of cells; all its edges belong to it. */
export interface Range {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

export const rangeOf = (a: Cell, b: Cell): Range => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
});

export const isOneCell = ({ top, bottom, left, right }: Range): boolean => top === bottom && left === right;

/** The nearest cell of a grid so large; it has at least one. */
export const within = ({ row, column }: Cell, rows: number, columns: number): Cell => ({
  row: Math.max(0, Math.min(rows - 1, row)),
  column: Math.max(0, Math.min(columns - 1, column)),
});

export function cellsOf({ top, bottom, left, right }: Range): Cell[] {
  const cells: Cell[] = [];
  for (let row = top; row <= bottom; row++)
    for (let column = left; column <= right; column++) cells.push({ row, column });
  return cells;
}

interface Key {
  readonly key: string;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
}

/** Where a key of movement leads from a cell, in a grid so large that shows so many rows; undefined for other keys. */
export function cellAfter(
  { key, ctrlKey, metaKey }: Key,
  { row, column }: Cell,
  rows: number,
  columns: number,
  page: number,
): Cell | undefined {
  const control = ctrlKey || metaKey;
  switch (key) {
    case "ArrowUp":
      return { row: control ? 0 : row - 1, column };
    case "ArrowDown":
      return { row: control ? rows - 1 : row + 1, column };
    case "ArrowLeft":
      return { row, column: control ? 0 : column - 1 };
    case "ArrowRight":
      return { row, column: control ? columns - 1 : column + 1 };
    case "PageUp":
      return { row: row - page, column };
    case "PageDown":
      return { row: row + page, column };
    case "Home":
      return { row: control ? 0 : row, column: 0 };
    case "End":
      return { row: control ? rows - 1 : row, column: columns - 1 };
    default:
      return undefined;
  }
}
