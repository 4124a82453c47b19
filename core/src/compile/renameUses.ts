import { columnSchema, type Table } from "../document/table.ts";
import type { StudyOf } from "../document/study.ts";
import type { DesignOf } from "../document/design.ts";
import { everyStep } from "../document/logic.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { ROAD_SETTINGS } from "../document/road.ts";
import { kindOf } from "../elements/index.ts";
import { stepKindOf } from "../logic/steps/index.ts";
import { nameKey, renameIn } from "../expression/index.ts";
import { fieldsOf } from "../settings/settingsOf.ts";

/**
 * Writes a new name wherever expressions of the design use the old one of an element or
 * entity type that has just been renamed. Does nothing while either name is also
 * somebody else's: it could not be told who was meant. Returns how many settings changed.
 */
export function renameUses(design: DesignOf, from: string, to: string): number {
  const [old, now] = [nameKey(from), nameKey(to)];
  const named = [...design.elements, ...design.entityTypes].map((item) => nameKey(item.name));
  if (old === "" || now === "" || named.includes(old) || named.filter((key) => key === now).length !== 1) return 0;
  return rewriteAll(design, from, to);
}

/** Writes a name as another in all expressions of a design but those of its tables. Returns how many changed. */
function rewriteAll(design: DesignOf, from: string, to: string): number {
  let changed = 0;
  const rewrite = <T extends object>(item: T, fields: readonly string[]) => {
    const values = item as Record<string, unknown>;
    for (const field of fields) {
      const text = values[field];
      const renamed = typeof text === "string" ? renameIn(text, from, to) : text;
      if (renamed === text) continue;
      values[field] = renamed;
      changed += 1;
    }
  };
  for (const element of design.elements)
    for (const { holder, field } of fieldsOf(element, kindOf(element).settings)) rewrite(holder, [field.name]);
  for (const { attributes = [] } of design.elements) for (const attribute of attributes) rewrite(attribute, ["value"]);
  for (const link of design.links) rewrite(link, Object.keys(LINK_SETTINGS));
  for (const road of design.roads ?? []) rewrite(road, Object.keys(ROAD_SETTINGS));
  for (const type of design.entityTypes) {
    rewrite(type, ["speed"]);
    for (const attribute of type.attributes) rewrite(attribute, ["value"]);
  }
  for (const { steps } of [...(design.procedures ?? []), ...(design.rules ?? [])])
    for (const step of everyStep(steps))
      for (const { holder, field } of fieldsOf(step, stepKindOf(step).settings))
        if (field.names !== "new") rewrite(holder, [field.name]);
  for (const rule of design.rules ?? []) rewrite(rule, ["condition", "every", "first", "value"]);
  for (const variable of design.variables ?? []) rewrite(variable, ["value"]);
  for (const measure of design.measures) rewrite(measure, ["value", "condition"]);
  for (const display of design.displays) {
    rewrite(display, ["value"]);
    if ("rows" in display) for (const row of display.rows) rewrite(row, ["value"]);
  }
  return changed;
}

/**
 * Writes a new name of a variable wherever the study uses the old one: in all designs, in expressions of tables, in
 * other variables and in what ends a run. Returns how many places changed.
 */
export function renameVariable(study: StudyOf, from: string, to: string): number {
  let changed = 0;
  const rewritten = (text: string) => {
    const renamed = renameIn(text, from, to);
    if (renamed !== text) changed += 1;
    return renamed;
  };
  for (const design of study.designs) {
    changed += rewriteAll(design, from, to);
    changed += renameInExpressions(design.tables, from, to);
  }
  for (const variable of study.variables ?? []) variable.value = rewritten(variable.value);
  study.run.condition = rewritten(study.run.condition);
  return changed + renameInExpressions(study.tables, from, to);
}

const renameInExpressions = (tables: readonly Table[], from: string, to: string): number =>
  renameInTables(
    tables.map((table) => ({ ...table, columns: table.columns.map((c) => (c.holds === "expression" ? c : NO_NAMES)) })),
    from,
    to,
  );

/** Stands for a column whose cells name no variables. */
const NO_NAMES = columnSchema.parse({ id: "x", name: "x", holds: "text" });

/** Writes a new name of a calendar in the cells of tables that name it. Returns how many changed. */
export function renameCalendar(tables: readonly Table[], from: string, to: string): number {
  let changed = 0;
  for (const { columns, rows } of tables)
    for (const [c, { holds }] of columns.entries())
      if (holds === "calendar")
        for (const cells of rows)
          if (from.trim() !== "" && nameKey(cells[c] ?? "") === nameKey(from)) {
            cells[c] = to;
            changed += 1;
          }
  return changed;
}

/**
 * Writes a new name in the cells of tables that name an element or entity type, and in the expressions in them.
 * Returns how many cells changed.
 */
export function renameInTables(tables: readonly Table[], from: string, to: string): number {
  const old = nameKey(from);
  let changed = 0;
  for (const { columns, rows } of tables)
    for (const [c, { holds }] of columns.entries()) {
      if (!["element", "resource", "entity type", "expression"].includes(holds)) continue;
      for (const cells of rows) {
        const text = cells[c] ?? "";
        const renamed = holds === "expression" ? renameIn(text, from, to) : nameKey(text) === old ? to : text;
        if (text === "" || renamed === text) continue;
        cells[c] = renamed;
        changed += 1;
      }
    }
  return changed;
}
