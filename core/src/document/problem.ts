/** A problem of a study: what is wrong, where, and what to do. */
export interface Problem {
  readonly code: string;
  readonly severity: "error" | "warning";
  readonly message: string;
  readonly hint?: string;
  /** Keys and positions from the document's root, such as ["designs", 0, "elements", 2, "time"]. */
  readonly path: readonly (string | number)[];
  /** Design, and the element, link or entity type of it, when there is one. */
  readonly designId?: string;
  readonly id?: string;
  readonly field?: string;
  /** Characters within the setting's text, end exclusive. */
  readonly start?: number;
  readonly end?: number;
  /** What to write in place of those characters, where that is likely meant. */
  readonly fix?: string;
}

/** A problem on one line, as the command line prints it. */
export const problemText = (p: Problem): string =>
  `${p.severity === "warning" ? "Warning: " : ""}${p.path.length > 0 ? `${pathText(p.path)}: ` : ""}${p.message}${p.hint ? ` ${p.hint}` : ""} [${p.code}]`;

export const pathText = (path: readonly (string | number)[]): string =>
  path.map((key, i) => (typeof key === "number" ? `[${key}]` : i === 0 ? key : `.${key}`)).join("");
