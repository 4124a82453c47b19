import type { Problem } from "../document/problem.ts";
import { ROAD_SETTINGS } from "../document/road.ts";
import { TYPE_SETTINGS } from "../document/entityType.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { tablesOf } from "../document/table.ts";
import { stepKindOf } from "../logic/steps/index.ts";
import { ruleTitle } from "./ruleWords.ts";
import type { StepModel } from "../model/logic.ts";
import { kindOf } from "../elements/index.ts";
import { type Checked, nameKey, namesIn, type TableUse, writeName } from "../expression/index.ts";
import { type Model, nameOfNode } from "../model/model.ts";
import { expressionsIn, fieldsOf } from "../settings/settingsOf.ts";

/** An expression of a design, where it stands. */
export interface Written {
  readonly path: Problem["path"];
  readonly checked: Checked;
  /** Whose it is, and the setting of it. */
  readonly id: string;
  readonly owner: string;
  readonly field: string;
  readonly label: string;
}

/** Every expression of a design that can be read, with its place in the study; those of members are their family's. */
export function* expressionsOf(model: Model): Generator<Written> {
  const { study, document: design, families } = model;
  const root = ["designs", study.designs.indexOf(design)];
  const told = new Set<string>();
  /** The first member tells for all. */
  const isNew = (key: string) => told.size < told.add(key).size;
  for (const node of model.nodes) {
    const { element, index, settings, member } = node;
    const { id, name: owner } = member?.family ?? element;
    for (const { key, field, path } of fieldsOf(element, kindOf(element).settings)) {
      const checked = settings.get(key);
      if (checked && (!member || isNew(`${id} ${key}`)))
        yield {
          path: [...root, "elements", families.elementAt(index), ...path],
          checked,
          id,
          owner,
          field: key,
          label: field.label,
        };
    }
  }
  for (const { settings, from, to, group } of model.ways)
    for (const { name, label } of expressionsIn(LINK_SETTINGS)) {
      const checked = settings.get(name);
      const owner = `${nameOfNode(model.nodes[from])} to ${nameOfNode(model.nodes[to])}`;
      const { id } = design.links[group];
      if (checked && isNew(`${id} ${name}`))
        yield { path: [...root, "links", group, name], checked, id, owner, field: name, label };
    }
  for (const { road, closedWhile, counts, breaks } of model.followed) {
    const { id } = road;
    const owner = road.name || (road.kind === "road" ? "Road" : "Walkway");
    const at = [...root, "roads", (design.roads ?? []).findIndex((one) => one.id === id)];
    for (const [field, checked] of Object.entries({ closedWhile, factor: counts, ...breaks }))
      if (checked) yield { path: [...at, field], checked, id, owner, field, label: labelOfRoad(field) };
  }
  // Rows that are types say the same, each of itself.
  for (const { type, index, speed, attributes } of model.types) {
    const at = [...root, "entityTypes", families.typeAt(index)];
    const { id, name: owner } = design.entityTypes[families.typeAt(index)];
    const whose = { id, owner };
    if (!isNew(`type ${id}`)) continue;
    if (speed)
      yield { path: [...at, "speed"], checked: speed, ...whose, field: "speed", label: TYPE_SETTINGS.speed.label };
    for (const { slot, value } of attributes) {
      const i = type.attributes.findIndex((a) => model.attributeSlots.get(nameKey(a.name)) === slot);
      const { name } = type.attributes[i];
      yield {
        path: [...at, "attributes", i, "value"],
        checked: value,
        ...whose,
        field: `attribute ${name}`,
        label: name,
      };
    }
  }
  for (const [i, { measure, value }] of model.custom.entries()) {
    const field = measure.kind === "condition" ? "condition" : "value";
    if (value)
      yield {
        path: [...root, "measures", i, field],
        checked: value,
        id: measure.id,
        owner: measure.name,
        field,
        label: "Value",
      };
  }
  for (const [i, { display, values }] of model.displays.entries())
    for (const [j, checked] of values.entries()) {
      const path = [...root, "displays", i, ...("rows" in display ? ["rows", j, "value"] : ["value"])];
      const field = "rows" in display ? `rows.${j}` : "value";
      if (checked)
        yield { path, checked, id: display.id, owner: display.title || `The ${display.kind}`, field, label: "Shows" };
    }
  yield* expressionsOfLogic(model, root);
  yield* expressionsOfVariables(model, root);
  yield* expressionOfEnd(model);
  yield* expressionsOfTables(model);
}

function* expressionOfEnd({ stop: { condition } }: Model): Generator<Written> {
  if (condition)
    yield {
      path: ["run", "condition"],
      checked: condition,
      id: "",
      owner: "The run",
      field: "condition",
      label: "Ends when",
    };
}

function* expressionsOfLogic({ logic, document }: Model, root: Problem["path"]): Generator<Written> {
  const within = function* (steps: readonly StepModel[], id: string, owner: string): Generator<Written> {
    for (const { step, path, fields, steps: inner } of steps) {
      const { settings, label } = stepKindOf(step);
      for (const { key, path: at, field } of fieldsOf(step, settings)) {
        const checked = fields.get(key);
        if (checked)
          yield {
            path: [...root, ...path, ...at],
            checked,
            id,
            owner,
            field: `${step.id}.${key}`,
            label: `${label}: ${field.label}`,
          };
      }
      yield* within(inner, id, owner);
    }
  };
  for (const { procedure, steps } of logic?.procedures ?? []) yield* within(steps, procedure.id, procedure.name);
  for (const { rule, steps, index, condition, every, first, value } of logic?.rules ?? []) {
    const owner = ruleTitle(rule, document);
    for (const [field, checked] of Object.entries({ condition, every, first, value }))
      if (checked)
        yield { path: [...root, "rules", index, field], checked, id: rule.id, owner, field, label: RULE_FIELDS[field] };
    yield* within(steps, rule.id, owner);
  }
}

const RULE_FIELDS: Readonly<Record<string, string>> = {
  condition: "If",
  every: "Every",
  first: "First after",
  value: "What changes",
};

function* expressionsOfVariables({ variables, document }: Model, root: Problem["path"]): Generator<Written> {
  for (const [i, { variable, checked }] of variables.entries()) {
    const { id, name: owner } = variable;
    const own = document.variables?.findIndex((o) => o.variable === id) ?? -1;
    const path = own >= 0 ? [...root, "variables", own, "value"] : ["variables", i, "value"];
    if (checked) yield { path, checked, id, owner, field: "value", label: "First value" };
  }
}

function* expressionsOfTables({ study, document: design, tables: sources }: Model): Generator<Written> {
  const tables = tablesOf(study.tables, design.tables);
  for (const [t, source] of sources.entries()) {
    const own = design.tables.indexOf(tables[t]);
    const root = own >= 0 ? ["designs", study.designs.indexOf(design), "tables", own] : ["tables", t];
    for (const [c, column] of source.columns.entries())
      for (const [row, checked] of (column.expressions?.(true) ?? []).entries()) {
        if (!checked || (tables[t].rows[row][c] ?? "").trim() === "") continue;
        const field = `cell.${row}.${column.id}`;
        const label = `row ${row + 1}, ${column.name}`;
        yield { path: [...root, "rows", row, c], checked, id: source.id, owner: source.name, field, label };
      }
  }
}

/** The expressions of a design that read a table. */
export const readersOf = (table: string, model: Model): Written[] =>
  [...expressionsOf(model)].filter(({ checked }) => checked.tables.some((use) => use.table === table));

/** The expressions of a design that read a variable, by its name. */
export const readersOfVariable = (name: string, model: Model): Written[] =>
  [...expressionsOf(model)].filter(({ checked }) => namesIn(checked.source).has(nameKey(name)));

/** Another text for an expression at a place of the study. */
export interface Rewriting {
  readonly path: Problem["path"];
  readonly text: string;
}

/** What of a table is called otherwise: the table itself, a column of it, or a row by its key. */
export interface Renamed {
  readonly table: string;
  readonly column?: string;
  readonly row?: number;
  readonly to: string;
}

/** What the expressions of a design are to say once something of a table is called otherwise. */
export function rewritings(renamed: Renamed, model: Model): Rewriting[] {
  const found: Rewriting[] = [];
  for (const { path, checked } of expressionsOf(model)) {
    const text = rewritten(checked, renamed);
    if (text !== checked.source) found.push({ path, text });
  }
  return found;
}

function rewritten({ source, tables }: Checked, { table, column, row, to }: Renamed): string {
  const uses = new Map<number, TableUse>();
  for (const use of tables)
    if (use.table === table && use.column === column && use.row === row) uses.set(use.start, use);
  return [...uses.values()]
    .sort((a, b) => b.start - a.start)
    .reduce(
      (text, { start, end }) => text.slice(0, start) + written(text.slice(start, end), to) + text.slice(end),
      source,
    );
}

/** A new name in place of what is written: a text stays a text, and a dot before a column stays. */
function written(before: string, to: string): string {
  if (before.startsWith('"')) return `"${to.replaceAll('"', "")}"`;
  const dot = /^\s*\.\s*/.exec(before)?.[0] ?? "";
  return dot + writeName(to);
}

const labelOfRoad = (field: string): string => ROAD_SETTINGS[field as keyof typeof ROAD_SETTINGS].label;
