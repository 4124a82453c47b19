import type { DesignOf } from "../../document/design.ts";
import type { StudyOf } from "../../document/study.ts";
import { everyStep } from "../../document/logic.ts";
import { type Variable, variablesOf } from "../../document/variable.ts";
import {
  type Checked,
  type CheckResult,
  checkExpression,
  type Meaning,
  nameKey,
  PLAIN,
  rowKnown,
  sameType,
  type Scope,
  type TableSource,
  within,
} from "../../expression/index.ts";
import type { VariableModel } from "../../model/model.ts";
import { variableSource } from "../../model/sources.ts";
import { StudyNames } from "./names.ts";
import type { Path, Problems } from "./problems.ts";

/** Kinds of values that a variable may have. */
const KINDS: ReadonlySet<string> = new Set(["number", "text", "yesNo", "element", "entityType", "row"]);

const BROKEN: Meaning = { type: PLAIN, isBroken: true };

interface Context {
  readonly study: StudyOf;
  readonly design: DesignOf;
  readonly tables: readonly TableSource[];
  /** Names that first values may read. */
  readonly scope: () => Scope;
}

/**
 * Reads the variables as a design has them, and makes each known to those after it. One that is fixed and that nothing
 * sets is known beforehand: where it is read costs nothing.
 */
export function readVariables(
  { study, design, tables, scope }: Context,
  declare: (name: string, meaning: Meaning) => void,
  problems: Problems,
): VariableModel[] {
  const variables = variablesOf(study.variables, design.variables);
  const set = setBySteps(design);
  const names = new StudyNames([...design.elements, ...design.entityTypes, ...tables]);
  return variables.map((variable, index) => {
    const { id, name } = variable;
    const own = design.variables?.findIndex((o) => o.variable === id) ?? -1;
    const path: Path =
      own >= 0
        ? ["designs", study.designs.indexOf(design as (typeof study.designs)[number]), "variables", own, "value"]
        : ["variables", index, "value"];
    const isFree = names.take("variables", index, variable, problems);
    const isSet = set.has(nameKey(name));
    const read = new Reading({ variable, slot: index, isSet }, path, tables, scope(), problems);
    const meaning = read.meaning();
    if (isFree) declare(name, meaning ?? BROKEN);
    return { variable, checked: read.checked, ...(isSet ? { isSet } : {}) };
  });
}

/** Names of what steps of a design set, as far as they are single names. */
export function setBySteps({ procedures = [], rules = [] }: DesignOf): ReadonlySet<string> {
  const found = new Set<string>();
  for (const { steps } of [...procedures, ...rules])
    for (const step of everyStep(steps)) {
      const { values, into } = step as { values?: readonly { readonly what?: string }[]; into?: string };
      for (const text of [into, ...(values ?? []).map(({ what }) => what)])
        if (text !== undefined && !text.includes(".")) found.add(nameKey(text));
    }
  return found;
}

/** The first value of one variable, checked. */
class Reading {
  checked: Checked | undefined;

  private readonly variable: Variable;

  constructor(
    private readonly of: { readonly variable: Variable; readonly slot: number; readonly isSet: boolean },
    private readonly path: Path,
    private readonly tables: readonly TableSource[],
    private readonly scope: Scope,
    private readonly problems: Problems,
  ) {
    this.variable = of.variable;
  }

  meaning(): Meaning | undefined {
    const { variable } = this;
    if (variable.value.trim() === "")
      return this.refuse("empty-setting", `${variable.name} has no first value.`, "Write one, such as 0 or 5 min.");
    return variable.table === "" ? this.single() : this.ofRows(variable.table);
  }

  private single(): Meaning | undefined {
    const checked = this.take(checkExpression(this.variable.value, this.scope));
    if (!checked) return undefined;
    this.checked = checked;
    const { type, list, constant, draws } = checked;
    if (type.kind === "list") {
      if (draws || list?.fixed() === undefined)
        return this.refuse("not-fixed", "the values of a list are fixed.", "Write numbers, texts, or yes and no.");
      return { type, list };
    }
    const table = type.kind === "row" ? this.tables.find((t) => t.id === type.table.id) : undefined;
    const properties = table && new Map(table.columns.map((column) => [column.name, { type: column.type }] as const));
    const { slot, isSet, variable } = this.of;
    if (isSet) return { type, source: variableSource(slot, variable.id), properties };
    if (constant !== undefined) return { type, constant, properties };
    return { type, source: variableSource(slot) };
  }

  /** A value for each row of a table. */
  private ofRows(id: string): Meaning | undefined {
    const table = this.tables.find((t) => t.id === id);
    const { variable } = this;
    if (!table)
      return this.refuse("no-such-table", `${variable.name}: its table does not exist.`, "Choose a table again.");
    const values = new Float64Array(table.rows);
    // One that does not ask for the row is the same in all.
    const plain = checkExpression(variable.value, this.scope);
    let type = plain.ok ? plain.checked.type : undefined;
    if (plain.ok && plain.checked.constant !== undefined) values.fill(plain.checked.constant);
    else
      for (let row = 0; row < table.rows; row++) {
        const checked = this.take(
          checkExpression(variable.value, within(this.scope, rowKnown(table, row))),
          row,
          table,
        );
        if (!checked) return undefined;
        if (checked.constant === undefined)
          return this.refuse("not-fixed", "the values of rows are fixed.", "Leave chance out of it.");
        if (type && !sameType(type, checked.type))
          return this.refuse("unit-mismatch", "rows have values of different kinds.", "Give all the same unit.");
        type = checked.type;
        values[row] = checked.constant;
      }
    if (!type) return undefined;
    const column = { id: variable.id, name: variable.name, type, values };
    return { type: { kind: "list", of: type }, ofRows: { table, column } };
  }

  /** What was checked, if it can be a first value; else that it cannot is told. */
  private take(result: CheckResult, row = -1, table?: TableSource): Checked | undefined {
    const where = table && row >= 0 ? `, row ${row + 1} of ${table.name}` : "";
    if (!result.ok) {
      const [{ message, hint, start, end, fix }] = result.problems;
      return this.refuse("bad-expression", message, hint, { start, end, fix }, where);
    }
    const { checked } = result;
    if (checked.sources.length > 0)
      return this.refuse(
        "not-known-at-start",
        "a first value is known before anything happens.",
        "It may read tables and variables before it, and be drawn.",
        {},
        where,
      );
    const kind = checked.type.kind === "list" ? checked.type.of.kind : checked.type.kind;
    if (!KINDS.has(kind))
      return this.refuse(
        "not-a-value",
        "a number, text, yes or no, or a list of them is wanted.",
        undefined,
        {},
        where,
      );
    return checked;
  }

  private refuse(code: string, message: string, hint?: string, at: object = {}, where = ""): undefined {
    const { id, name } = this.variable;
    const told = message.startsWith(name) ? message : `${name}${where}: ${message}`;
    this.problems.add(code, this.path, { id, field: "value", ...at }, told, hint);
    return undefined;
  }
}
