/** Where an expression names a table, or a column or row of it. */
export interface TableUse {
  readonly table: string;
  /** Id of the column. */
  readonly column?: string;
  /** A row that is named by a fixed key. */
  readonly row?: number;
  readonly start: number;
  readonly end: number;
}
