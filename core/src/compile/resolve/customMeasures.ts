import type { CustomMeasure } from "../../document/customMeasure.ts";
import type { DesignOf } from "../../document/design.ts";
import {
  type Checked,
  checkExpression,
  makeScope,
  type Meaning,
  PLAIN,
  type ValueType,
  YES_NO,
} from "../../expression/index.ts";
import { measureSource } from "../../model/sources.ts";
import type { CustomModel } from "../../model/model.ts";
import type { FieldSpec } from "../../settings/field.ts";
import { checkField } from "./field.ts";
import type { Path, Problems } from "./problems.ts";
import { readsTime } from "./readsTime.ts";
import type { Scopes } from "./scopes.ts";

/** A custom measure. A mistake in it keeps the design from running: a figure that is wanted would be missing. */
export function readCustom(
  measure: CustomMeasure,
  design: DesignOf,
  scopes: Scopes,
  problems: Problems,
  path: Path,
  recorded: ReadonlyMap<string, ValueType> | undefined,
): CustomModel {
  if (measure.kind === "derived") return readDerived(measure, design, scopes, problems, path, recorded);
  const read = (text: string, field: string, spec: Partial<FieldSpec>): Checked | undefined => {
    const checked = checkField(
      text,
      {
        name: field,
        label: measure.name,
        help: "Write what is measured, such as Dock.queue.length.",
        type: PLAIN,
        steady: true,
        ...spec,
      },
      scopes,
      problems,
      [...path, ...field.split(".")],
      measure.id,
      field,
    );
    if (!checked || !readsTime(checked)) return checked;
    problems.add(
      "condition-of-time",
      [...path, field],
      { id: measure.id, field },
      `${measure.name}: a measure does not watch the clock: it follows what elements do.`,
      "Leave the clock out of it.",
    );
    return undefined;
  };
  const bounds =
    measure.kind === "ranges" || (measure.kind === "recorded" && hasBounds(measure))
      ? readBounds({ ...measure, bounds: measure.bounds ?? [] }, read, problems, path)
      : measure.kind === "recorded" && measure.as === "state"
        ? readStates(measure, scopes, problems, path)
        : [];
  const elements =
    measure.kind === "group" ? measure.elements.map((id) => design.elements.findIndex((e) => e.id === id)) : [];
  if (measure.kind === "group" && (elements.length === 0 || elements.includes(-1)))
    problems.add(
      "bad-group",
      [...path, "elements"],
      { id: measure.id, field: "elements" },
      elements.length === 0
        ? `${measure.name}: the group has no elements.`
        : `${measure.name}: an element of the group does not exist.`,
      "Choose its elements again.",
    );
  const value =
    measure.kind === "group" || measure.kind === "recorded"
      ? undefined
      : measure.kind === "condition"
        ? read(measure.condition, "condition", { type: YES_NO })
        : read(measure.value, "value", { any: "number" });
  const measured = measure.kind === "recorded" ? recorded?.get(measure.id) : value?.type;
  if (measured && (measure.kind === "ranges" || measure.kind === "recorded"))
    checkBoundUnits({ ...measure, bounds: measure.bounds ?? [] }, measured, bounds, scopes, problems, path);
  return { measure, value, bounds, elements: elements.filter((i) => i >= 0) };
}

/** A figure of others that stand before it: what can be read of them at the end of a run. */
function readDerived(
  measure: Extract<CustomMeasure, { kind: "derived" }>,
  design: DesignOf,
  scopes: Scopes,
  problems: Problems,
  path: Path,
  recorded: ReadonlyMap<string, ValueType> | undefined,
): CustomModel {
  const names = new Map<string, Meaning>();
  for (const other of design.measures) {
    if (other === measure) break;
    const type = typeOfFigure(other, scopes, recorded);
    if (type) names.set(other.name, { type, source: measureSource(other.id) });
  }
  const only = makeScope(names, scopes.withoutEntity.intern);
  const value = checkField(
    measure.value,
    {
      name: "value",
      label: measure.name,
      help: "Write what it is made of, such as Fees / Visits.",
      type: PLAIN,
      any: "number",
      steady: true,
    },
    { ...scopes, withEntity: only, withoutEntity: only },
    problems,
    [...path, "value"],
    measure.id,
  );
  return { measure, value, bounds: [], elements: [] };
}

/** The kind of quantity of the figure that a measure stands for in others: its average, share, sum or mean. */
function typeOfFigure(
  measure: CustomMeasure,
  scopes: Scopes,
  recorded: ReadonlyMap<string, ValueType> | undefined,
): ValueType | undefined {
  if (measure.kind === "condition") return PLAIN;
  if (measure.kind === "recorded") return recorded?.get(measure.id) ?? PLAIN;
  if (measure.kind !== "average") return undefined;
  const found = checkExpression(measure.value, scopes.withoutEntity);
  return found.ok && found.checked.type.kind === "number" ? found.checked.type : undefined;
}

type Recorded = Extract<CustomMeasure, { kind: "recorded" }>;

const hasBounds = ({ as, bounds = [] }: Recorded): boolean =>
  (as === "observations" || as === "level") && bounds.length > 0;

/** The states that a measure tells apart, as the texts they are. */
function readStates({ id, name, states = [] }: Recorded, scopes: Scopes, problems: Problems, path: Path): number[] {
  if (states.length === 0 || states.includes("") || new Set(states).size < states.length)
    problems.add(
      "bad-states",
      [...path, "states"],
      { id, field: "states" },
      states.length === 0
        ? `${name}: it names no states.`
        : `${name}: ${states.includes("") ? "a state has no name" : "a state is named twice"}.`,
      "Write the states that steps record, separated by commas.",
    );
  return states.map((state) => {
    const found = checkExpression(JSON.stringify(state), scopes.withoutEntity);
    return found.ok ? (found.checked.constant ?? -1) : -1;
  });
}

interface Ranges {
  readonly id: string;
  readonly name: string;
  readonly bounds: readonly string[];
}
type ReadField = (text: string, field: string, spec: Partial<FieldSpec>) => Checked | undefined;

/** Bounds of ranges, which rise; NaN for those that cannot be read. */
function readBounds(measure: Ranges, read: ReadField, problems: Problems, path: Path): number[] {
  const bounds: number[] = [];
  measure.bounds.forEach((text, i) => {
    const bound = read(text, `bounds.${i}`, { any: "number", fixed: true })?.constant;
    if (bound !== undefined && bounds.length > 0 && bound <= bounds[bounds.length - 1])
      problems.add(
        "bounds-not-rising",
        [...path, "bounds", i],
        { id: measure.id, field: `bounds.${i}` },
        `${measure.name}: the bounds of its ranges do not rise.`,
        "Put the smaller first.",
      );
    bounds.push(bound ?? Number.NaN);
  });
  return bounds;
}

/** Bounds are of the same kind of quantity as what is measured. */
function checkBoundUnits(
  measure: Ranges,
  type: ValueType,
  bounds: readonly number[],
  scopes: Scopes,
  problems: Problems,
  path: Path,
): void {
  if (type.kind !== "number") return;
  measure.bounds.forEach((text, i) => {
    const found = checkExpression(text, scopes.withoutEntity, type);
    if (!found.ok && !Number.isNaN(bounds[i]))
      problems.add(
        "unit-mismatch",
        [...path, "bounds", i],
        { id: measure.id, field: `bounds.${i}` },
        `${measure.name}: this bound is another kind of quantity than what is measured.`,
        "Give it the same unit.",
      );
  });
}
