import type { Study } from "@busy-harbor/core";
import { useStudy } from "../../state/study.ts";
import { tableIn } from "../edits.ts";
import type { Fetched } from "./fetchLinked.ts";

/** Puts the rows of files into their tables, as one step to undo. */
export function putRefreshed(what: string, fetched: readonly Fetched[], designId: string | undefined): void {
  const readAt = new Date().toISOString();
  useStudy.getState().change(what, (study: Study) => {
    for (const one of fetched) {
      const table = tableIn(study, designId, one.before.id);
      if (!one.ok || !table) continue;
      table.rows = one.table.rows;
      if (table.link) table.link.readAt = readAt;
    }
  });
}
