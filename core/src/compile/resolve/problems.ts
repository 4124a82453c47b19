import type { Problem } from "../../document/problem.ts";
import type { DesignOf } from "../../document/design.ts";

export type Path = readonly (string | number)[];

/** Gathers problems of one design, each with its path from the document's root. */
export class Problems {
  readonly list: Problem[] = [];
  constructor(
    private readonly design: DesignOf,
    private readonly root: Path,
  ) {}

  add(
    code: string,
    path: Path,
    where: Partial<Pick<Problem, "id" | "field" | "start" | "end" | "fix">>,
    message: string,
    hint?: string,
    severity: Problem["severity"] = "error",
  ): void {
    this.list.push({
      code,
      severity,
      message,
      hint,
      path: [...this.root, ...path],
      designId: this.design.id,
      ...where,
    });
  }
}
