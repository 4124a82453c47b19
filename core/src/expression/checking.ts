import type { Source } from "./running.ts";
import type { Scope } from "./scope.ts";
import type { Node } from "./syntax.ts";
import type { TableUse } from "./tableUse.ts";
import type { Term } from "./term.ts";

/** What is gathered while an expression is checked. */
export interface Found {
  readonly sources: Source[];
  readonly tables: TableUse[];
}

/** Checks parts of an expression. */
export interface Checking {
  readonly scope: Scope;
  readonly found: Found;
  term(node: Node): Term;
  condition(node: Node): Term;
  /** The same, where other names may be used. */
  within(scope: Scope): Checking;
}
