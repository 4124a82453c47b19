import type { ReactNode } from "react";
import type { ExpressionOf } from "../expressions/names.ts";

/** A column of a grid: how a row shows in it, and by what it sorts. */
export interface GridColumn<R> {
  readonly id: string;
  readonly label: string;
  readonly help?: string;
  /** Pixels, until a person changes it. */
  readonly width: number;
  readonly mono?: boolean;
  readonly align?: "right";
  /** It is not shown until a person wants it. */
  readonly hiddenAtFirst?: boolean;
  /** It stays at the left at first. */
  readonly frozen?: boolean;
  /** Values offered when a cell is written in, as they are shown; no others are taken. */
  readonly choices?: () => readonly string[];
  /** Its cells hold expressions, and this is where they stand. */
  readonly expression?: ExpressionOf;
  /** The row's text: what is shown, found, copied and edited. */
  readonly read: (row: R) => string;
  /** What it sorts by, if not by its text. */
  readonly value?: (row: R) => number | string | undefined;
  /** Words looked for are not looked for in it. */
  readonly unsearched?: boolean;
  /** What more there is to say of a row, in place of its text. */
  readonly hint?: (row: R) => string;
  /** What is shown in place of the text. */
  readonly show?: (row: R) => ReactNode;
}

/** A cell and what is put there. */
export interface Entry<R> {
  readonly row: R;
  readonly column: GridColumn<R>;
  readonly text: string;
}
