import type { DesignOf } from "../../document/design.ts";
import type { ProcedureOf, StepBase } from "../../document/logic.ts";
import {
  type Checked,
  checkTarget,
  type Meaning,
  nameKey,
  sameType,
  type Target,
  typeName,
  type ValueType,
  within,
} from "../../expression/index.ts";
import { isClaimable, kindOf } from "../../elements/index.ts";
import { typeOfEach } from "../../logic/collections.ts";
import type { StepKind } from "../../logic/kind.ts";
import { stepKindOf } from "../../logic/steps/index.ts";
import type { StepModel, Written } from "../../model/logic.ts";
import type { Model } from "../../model/model.ts";
import { localSource, ofAnother } from "../../model/sources.ts";
import { type FieldOccurrence, fieldsOf, occurrencesOf } from "../../settings/settingsOf.ts";
import { checkField } from "./field.ts";
import type { Path, Problems } from "./problems.ts";
import { readsTime } from "./readsTime.ts";
import type { Scopes, ScopesWithTables } from "./scopes.ts";
import { knowingWho } from "./who.ts";

/** Whose steps are read. */
export interface Whose {
  readonly id: string;
  readonly path: Path;
  /** Whether an entity is at hand. */
  readonly hasEntity: boolean;
  readonly isProcedure: boolean;
}

/** What steps are read with. */
export interface StepContext {
  readonly document: DesignOf;
  readonly model: Pick<Model, "nodes" | "families">;
  readonly scopes: ScopesWithTables;
  readonly problems: Problems;
  readonly procedures: readonly ProcedureOf[];
  /** What each procedure asks for. */
  readonly heads: ReadonlyArray<
    ReadonlyArray<{ readonly id: string; readonly name: string; readonly type: ValueType }>
  >;
  /** What is recorded into each measure, as far as it is known. */
  readonly measures: Map<string, ValueType>;
  /** Tables that steps write rows into, as far as they are known. */
  readonly written: Written[];
  readonly answers: ReadonlySet<string>;
}

/** Places of the values of a call, which a procedure calls by names. */
export class Frame {
  size = 0;
  readonly names = new Map<string, { readonly name: string; readonly type: ValueType; readonly slot: number }>();

  /** A place, and a name for it unless that is empty. */
  give(name: string, type: ValueType): number {
    const slot = this.size++;
    if (name.trim() !== "") this.names.set(nameKey(name), { name, type, slot });
    return slot;
  }
}

type Names = Map<string, Meaning>;

/** Reads the steps of a procedure or a rule: each with what may be named where it stands. */
export class StepReader {
  private readonly slotsOf = new WeakMap<Meaning, number>();
  /** What it answers, once known. */
  answer: ValueType | undefined;

  constructor(
    private readonly context: StepContext,
    private readonly whose: Whose,
    private readonly frame: Frame,
  ) {}

  steps(list: readonly StepBase[]): StepModel[] {
    const names: Names = new Map();
    for (const { name, type, slot } of this.frame.names.values()) names.set(name, this.local(type, slot));
    return this.block(list, [...this.whose.path, "steps"], names, undefined, false);
  }

  /** What may be named where some names are known besides. */
  scopesAt(names: Names): Scopes {
    const { scopes } = this.context;
    const withoutEntity = within(scopes.withoutEntity, names);
    return {
      ...scopes,
      withoutEntity,
      withEntity: this.whose.hasEntity ? within(scopes.withEntity, names) : withoutEntity,
    };
  }

  private block(
    list: readonly StepBase[],
    path: Path,
    outer: Names,
    parent: StepBase | undefined,
    inLoop: boolean,
  ): StepModel[] {
    const names = new Map(outer);
    const models: StepModel[] = [];
    let before: StepBase | undefined;
    list.forEach((step, i) => {
      const at = [...path, i];
      // What is switched off is checked all the same, and left out.
      const model = this.step(step, at, names, before, parent, inLoop);
      if (step.off) return;
      before = step;
      models.push(model);
    });
    return models;
  }

  private step(
    step: StepBase,
    path: Path,
    names: Names,
    before: StepBase | undefined,
    parent: StepBase | undefined,
    inLoop: boolean,
  ): StepModel {
    const kind = stepKindOf(step);
    this.checkPlace(step, kind, path, before, parent, inLoop);
    const slots = new Map<string, number>();
    const own = new Map(names);
    for (const { field, type, own: isOwn } of kind.declares ?? [])
      if (isOwn && type) this.declare(step, field, type, path, names, slots, [own, names]);
    const scopes = this.scopesAt(own);
    const fields = new Map<string, Checked>();
    const targets = new Map<string, Target>();
    const who = { at: -1 };
    for (const occurrence of this.inOrder(step, kind)) {
      const { document, scopes: of, problems } = this.context;
      const key = `${step.id}.${occurrence.key}`;
      const known = knowingWho(scopes, occurrence, document.elements, of.tables, who, problems, {
        id: this.whose.id,
        path,
        key,
      });
      if (known) this.field(step, occurrence, path, known, fields, targets);
    }
    this.checkReferences(step, kind, path);
    this.checkOwn(step, fields, path);
    const inner = new Map(names);
    for (const { field, of, each, type, inside, own: isOwn } of kind.declares ?? []) {
      if (isOwn) continue;
      const checked = of === undefined ? undefined : fields.get(of);
      const found = type ?? (checked && (each ? this.typeOfEach(step, checked, path, of!) : checked.type));
      this.declare(step, field, found, path, names, slots, inside ? [inner] : [inner, names]);
    }
    if (slots.get("into") !== undefined && String((step as { into?: string }).into ?? "").trim() === "")
      slots.delete("into");
    if (slots.get("name") !== undefined && String((step as { name?: string }).name ?? "").trim() === "")
      slots.delete("name");
    const loops = ["while", "times", "each"].includes(step.do);
    return {
      step,
      path,
      who,
      scope: scopes.withEntity,
      locals: [...names].flatMap(([name, meaning]) => {
        const known = this.slotsOf.get(meaning);
        return known === undefined ? [] : [{ name, slot: known, type: meaning.type }];
      }),
      fields,
      targets,
      slots,
      steps: step.steps ? this.block(step.steps, [...path, "steps"], inner, step, inLoop || loops) : [],
    };
  }

  /** Gives a place to what a step calls by a name, and makes the name known. */
  private declare(
    step: StepBase,
    field: string,
    type: ValueType | undefined,
    path: Path,
    names: Names,
    slots: Map<string, number>,
    into: readonly Names[],
  ): void {
    const name = String((step as unknown as Record<string, unknown>)[field] ?? "").trim();
    const slot = this.frame.give("", type ?? { kind: "text" });
    slots.set(field, slot);
    if (name === "" || !this.isFree(name, names, step, field, path)) return;
    const meaning: Meaning = type ? this.local(type, slot) : { type: { kind: "text" }, isBroken: true };
    for (const list of into) list.set(name, meaning);
  }

  /** Targets come before what they are set to, whose type they give. */
  private inOrder(step: StepBase, kind: StepKind): FieldOccurrence[] {
    const all = fieldsOf(step, kind.settings);
    return [
      ...all.filter(({ field }) => field.names === "target"),
      ...all.filter(({ field }) => field.names !== "target"),
    ];
  }

  private field(
    step: StepBase,
    { key, field, text, path: within, used, holder }: FieldOccurrence,
    path: Path,
    scopes: Scopes,
    fields: Map<string, Checked>,
    targets: Map<string, Target>,
  ): void {
    if (!used) return;
    const { problems } = this.context;
    const { id } = this.whose;
    const at = [...path, ...within];
    const fieldName = `${step.id}.${key}`;
    if (field.names === "new") {
      if (text.trim() === "" && !field.optional)
        problems.add("empty-setting", at, { id, field: fieldName }, `${field.label} is empty.`, field.help);
      return;
    }
    if (field.names === "target") {
      if (text.trim() === "") {
        if (!field.optional)
          problems.add("empty-setting", at, { id, field: fieldName }, `${field.label} is empty.`, field.help);
        return;
      }
      const result = checkTarget(text, scopes.withEntity);
      if (result.ok) targets.set(key, result.target);
      else
        for (const { start, end, message, hint, fix } of result.problems)
          problems.add("bad-target", at, { id, field: fieldName, start, end, fix }, `${field.label}: ${message}`, hint);
      return;
    }
    const wanted = this.wanted(step, key, field.like && key.replace(/[^.]+$/, field.like), targets, holder);
    const spec = wanted === undefined ? field : { ...field, any: undefined, type: wanted };
    const checked = checkField(text, spec, scopes, problems, at, id, fieldName);
    if (checked) fields.set(key, checked);
  }

  /** The type that a setting must have, by what stands beside it or by a parameter. */
  private wanted(
    step: StepBase,
    key: string,
    like: string | undefined,
    targets: ReadonlyMap<string, Target>,
    holder: Readonly<Record<string, unknown>>,
  ): ValueType | undefined {
    if (like !== undefined) return targets.get(like)?.type;
    if (step.do !== "call" || !key.startsWith("args.")) return undefined;
    const { procedures, heads } = this.context;
    const index = procedures.findIndex(({ id }) => id === (step as { procedure?: string }).procedure);
    return heads[index]?.find(({ id }) => id === holder.id)?.type;
  }

  private local(type: ValueType, slot: number): Meaning {
    if (type.kind === "entity") {
      const source = localSource(slot);
      const known = this.context.scopes.withEntity.find("entity")?.properties ?? new Map<string, Meaning>();
      const properties = new Map(
        [...known].map(([name, of]): [string, Meaning] => [
          name,
          of.source ? { ...of, source: ofAnother(of.source, source) } : of,
        ]),
      );
      const meaning = { type, source, properties };
      this.slotsOf.set(meaning, slot);
      return meaning;
    }
    const table = type.kind === "row" ? this.context.scopes.tables.find(({ id }) => id === type.table.id) : undefined;
    const properties = table && new Map(table.columns.map((c) => [c.name, { type: c.type }] as const));
    const meaning = { type, source: localSource(slot), properties };
    this.slotsOf.set(meaning, slot);
    return meaning;
  }

  private typeOfEach(step: StepBase, checked: Checked, path: Path, field: string): ValueType | undefined {
    const type = typeOfEach(checked, this.context.model.nodes.length);
    if (type?.kind === "row") {
      const table = this.context.scopes.tables.find(({ id }) => id === (type as { table: { id: string } }).table.id);
      return { kind: "row", table: { id: type.table.id, name: table?.name ?? "" } };
    }
    if (!type)
      this.refuse(
        step,
        path,
        field,
        "not-a-collection",
        `a list, a table or a family is wanted; this is ${typeName(checked.type)}.`,
      );
    return type;
  }

  /** Whether a name can be told from all others that are known where it stands. */
  private isFree(name: string, names: Names, step: StepBase, field: string, path: Path): boolean {
    if (!/^[\p{L}_][\p{L}\p{N}_ ]*$/u.test(name)) {
      this.refuse(
        step,
        path,
        field,
        "bad-name",
        `"${name}" cannot be a name.`,
        "Write one word of letters and digits.",
      );
      return false;
    }
    const taken = [...names.keys()].some((known) => nameKey(known) === nameKey(name));
    if (!taken && this.context.scopes.withEntity.find(name) === undefined) return true;
    this.refuse(
      step,
      path,
      field,
      "duplicate-name",
      `"${name}" is the name of something else here.`,
      "Choose another, or use Set to give it a new value.",
    );
    return false;
  }

  private refuse(step: StepBase, path: Path, field: string, code: string, message: string, hint?: string): void {
    const label = stepKindOf(step).settings[field.split(".").at(-1)!]?.label;
    this.context.problems.add(
      code,
      [...path, ...field.split(".")],
      { id: this.whose.id, field: `${step.id}.${field}` },
      `${label ?? stepKindOf(step).label}: ${message}`,
      hint,
    );
  }

  /** Whether a step may stand where it does. */
  private checkPlace(
    step: StepBase,
    kind: StepKind,
    path: Path,
    before: StepBase | undefined,
    parent: StepBase | undefined,
    inLoop: boolean,
  ): void {
    const says = (message: string, hint: string) => this.refuse(step, path, "do", "misplaced-step", message, hint);
    if (step.off) return;
    if (kind.after) {
      const prior = before && stepKindOf(before);
      if (!before || !kind.after.includes(before.do) || !prior)
        says(
          "it has nothing before it that it is the other case of.",
          "Put it directly behind an If, or a step that may not come about.",
        );
    }
    if (kind.under && !kind.under.includes(parent?.do ?? ""))
      says("it stands alone.", `Put it under "${stepKindOf({ do: kind.under[0] }).label}".`);
    if (parent?.do === "chance" && step.do !== "case")
      says("only cases stand under a choice by chance.", 'Put it under one "With weight".');
    if (step.do === "chance" && !(step.steps ?? []).some((one) => one.do === "case" && !one.off))
      says("it has no cases.", 'Put "With weight" under it.');
    if (step.do === "leave" && !inLoop) says("there is no loop around it.", "Put it under a Repeat or a For each.");
    if (kind.ofEntity && !this.whose.hasEntity)
      says("there is no entity at hand here.", "Use it in a rule at an event of entities.");
  }

  private checkReferences(step: StepBase, kind: StepKind, path: Path): void {
    const { document, procedures, scopes } = this.context;
    const { entityTypes, elements, measures } = document;
    const known = {
      procedure: procedures,
      measure: measures,
      element: elements,
      "entity type": entityTypes,
      table: scopes.tables,
    };
    for (const { key, setting, value, used } of occurrencesOf(step, kind.settings)) {
      if (!used) continue;
      if (setting.form === "reference" && setting.to in known) {
        const of: readonly { readonly id: string }[] = known[setting.to as keyof typeof known];
        if (value === "" && setting.none !== undefined) continue;
        const isWrong = setting.of === "stocked" && !elements.some((e) => e.id === value && kindOf(e).isStocked);
        if (isWrong || !of.some(({ id }) => id === value))
          this.refuse(
            step,
            path,
            key,
            "missing-reference",
            value === "" ? "nothing is chosen." : "what it names does not exist.",
            "Choose one.",
          );
      } else if (setting.form === "resources") {
        const ids = value as string[];
        if (setting.required && ids.length === 0)
          this.refuse(
            step,
            path,
            key,
            "missing-resource",
            "nothing says which resource is needed.",
            "Choose a crew or equipment.",
          );
        for (const id of ids)
          if (!elements.some((e) => e.id === id && isClaimable(e) && (!setting.places || kindOf(e).hasSpots)))
            this.refuse(
              step,
              path,
              key,
              "missing-resource",
              `a ${setting.places ? "place" : "resource"} that it names is not there.`,
              "Choose another.",
            );
      }
    }
  }

  /** What single kinds ask besides. */
  private checkOwn(step: StepBase, fields: ReadonlyMap<string, Checked>, path: Path): void {
    const values = step as unknown as Readonly<Record<string, unknown>>;
    const empty = (list: unknown) => Array.isArray(list) && list.length === 0;
    if (step.do === "set" && empty(values.values))
      this.refuse(step, path, "values", "empty-setting", "it sets nothing.", "Add a value.");
    if (step.do === "claim" && empty(values.needs))
      this.refuse(step, path, "needs", "empty-setting", "it claims nothing.", "Add a resource.");
    const condition = step.do === "wait until" ? fields.get("condition") : undefined;
    if (condition && readsTime(condition))
      this.refuse(
        step,
        path,
        "condition",
        "condition-of-time",
        "it does not watch the clock: it looks again when something else changes.",
        "Wait for a time instead.",
      );
    if (step.do === "end" && fields.has("answer")) this.answers(step, fields.get("answer")!.type, path);
    if (step.do === "write") this.writes(step, fields, path);
    if (step.do === "record" && fields.has("value"))
      this.records(step, fields.get("value")!.type, String(values.measure), path);
    if (
      step.do === "call" &&
      String(values.into ?? "").trim() !== "" &&
      !this.context.answers.has(String(values.procedure))
    )
      this.refuse(
        step,
        path,
        "into",
        "no-answer",
        "the procedure answers nothing.",
        "Let it end with an answer, or leave this empty.",
      );
  }

  private answers(step: StepBase, type: ValueType, path: Path): void {
    if (!this.whose.isProcedure)
      this.refuse(step, path, "answer", "no-answer", "a rule answers nobody.", "Leave the answer empty.");
    else if (this.answer && !sameType(this.answer, type))
      this.refuse(
        step,
        path,
        "answer",
        "unit-mismatch",
        `this is ${typeName(type)}, but elsewhere it answers ${typeName(this.answer)}.`,
      );
    else this.answer = type;
  }

  /** Steps that write into one table of results have the same columns. */
  private writes(step: StepBase, fields: ReadonlyMap<string, Checked>, path: Path): void {
    const { table, values } = step as unknown as { table: string; values: { id: string; column: string }[] };
    const says = (field: string, code: string, message: string, hint: string) =>
      this.refuse(step, path, field, code, message, hint);
    if (values.length === 0) return says("values", "empty-setting", "it writes nothing.", "Add a column.");
    const names = values.map(({ column }) => nameKey(column));
    if (new Set(names).size < names.length)
      return says("values", "duplicate-name", "two of its columns have one name.", "Choose another name.");
    const columns = values.flatMap(({ id, column }) => {
      const type = fields.get(`values.${id}.to`)?.type;
      return type ? [{ name: column.trim(), type }] : [];
    });
    if (columns.length < values.length) return;
    const known = this.context.written.find(({ name }) => nameKey(name) === nameKey(table));
    if (!known) this.context.written.push({ name: table.trim(), columns });
    else if (
      known.columns.length !== columns.length ||
      known.columns.some((column, i) => nameKey(column.name) !== names[i] || !sameType(column.type, columns[i].type))
    )
      says(
        "values",
        "other-columns",
        `another step writes ${known.columns.map(({ name }) => name).join(", ")} into ${known.name}.`,
        "Write the same columns in the same order, or into another table.",
      );
  }

  private records(step: StepBase, type: ValueType, measure: string, path: Path): void {
    const { document, measures } = this.context;
    const found = document.measures.find(({ id }) => id === measure);
    if (found && found.kind !== "recorded") {
      this.refuse(
        step,
        path,
        "measure",
        "not-recorded",
        "steps record nothing into this measure.",
        "Choose one of those that steps record into, or make one.",
      );
      return;
    }
    const isState = found?.as === "state";
    if (type.kind !== (isState ? "text" : "number")) {
      this.refuse(
        step,
        path,
        "value",
        "unit-mismatch",
        `${isState ? "the text of a state" : "a number"} is wanted by its measure; this is ${typeName(type)}.`,
        isState ? 'Write a state, such as "waiting for tide".' : "Record a number, or choose another measure.",
      );
      return;
    }
    const known = measures.get(measure);
    if (known && !sameType(known, type))
      this.refuse(
        step,
        path,
        "value",
        "unit-mismatch",
        `this is ${typeName(type)}, but elsewhere ${typeName(known)} is recorded.`,
        "Record the same kind of quantity everywhere.",
      );
    else measures.set(measure, type);
  }
}
