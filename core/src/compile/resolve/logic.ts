import type { DesignOf } from "../../document/design.ts";
import type { ProcedureOf, RuleOf, StepBase } from "../../document/logic.ts";
import { everyStep } from "../../document/logic.ts";
import { eventsOf, kindOf } from "../../elements/index.ts";
import { checkExpression, nameKey, namesIn, numberOf, PLAIN, type ValueType } from "../../expression/index.ts";
import { ruleTitle } from "../ruleWords.ts";
import { stepKindOf } from "../../logic/steps/index.ts";
import type { LogicModel, ProcedureModel, RuleModel, StepModel, Written } from "../../model/logic.ts";
import type { Model, Node } from "../../model/model.ts";
import { TIME } from "../../quantity/index.ts";
import { fieldsOf } from "../../settings/settingsOf.ts";
import { isMoment, secondsOfDay, secondsOfMoment } from "../../timetable/index.ts";
import { checkField } from "./field.ts";
import { mentionsOf } from "../../settings/references.ts";
import type { Problems } from "./problems.ts";
import { readsTime } from "./readsTime.ts";
import type { ScopesWithTables } from "./scopes.ts";
import { sendsOf } from "./sends.ts";
import { Frame, StepReader, type Whose } from "./steps.ts";

/** What the logic of a design is read with. */
interface Context {
  /** As the study has it. */
  readonly document: DesignOf;
  readonly model: Pick<Model, "nodes" | "families" | "timetables">;
  readonly entityTypes: DesignOf["entityTypes"];
  readonly scopes: ScopesWithTables;
  readonly problems: Problems;
}

/** Reads procedures and rules; undefined where a design has none. What is switched off is read, and left out. */
export function readLogic({ document, model, entityTypes, scopes, problems }: Context): LogicModel | undefined {
  const { procedures = [], rules = [] } = document;
  if (procedures.length === 0 && rules.length === 0) return undefined;
  checkIds(procedures, rules, problems);
  const heads = procedures.map((procedure) => parametersOf(procedure, scopes));
  const measures = new Map<string, ValueType>();
  const written: Written[] = [];
  const shared = {
    document,
    model,
    scopes,
    problems,
    procedures,
    heads,
    measures,
    written,
    answers: answersOf(procedures),
  };
  const read = procedures.map((procedure, index): ProcedureModel => {
    const whose: Whose = { id: procedure.id, path: ["procedures", index], hasEntity: true, isProcedure: true };
    const frame = new Frame();
    for (const { name, type } of heads[index]) frame.give(name, type);
    const reader = new StepReader(shared, whose, frame);
    const steps = reader.steps(procedure.steps);
    return {
      index,
      procedure,
      parameters: heads[index],
      steps,
      slots: frame.size,
      takesTime: false,
      answer: reader.answer,
    };
  });
  const timely = takingTime(read);
  const timed = read.map((procedure) => ({ ...procedure, takesTime: timely.has(procedure.procedure.id) }));
  checkUses(procedures, rules, problems);
  checkMeetings(procedures, rules, problems);
  checkEntities(
    procedures,
    rules,
    (rule) => {
      const heard = placesOf(rule, { ...shared, entityTypes, timely });
      return typeof heard === "string" || heard.hasEntity;
    },
    problems,
  );
  // What is switched off is read all the same.
  const acting = rules
    .map((rule, index) => readRule(rule, index, { ...shared, entityTypes, timely }))
    .filter(({ rule }) => !rule.off);
  return {
    procedures: timed,
    rules: acting,
    ...whatStepsDo([...timed, ...acting]),
    namedBy: resourcesNamed(timed, acting),
    written,
    recorded: measures,
    sends: sendsOf(acting, timed, model.nodes, (id) => entityTypes.findIndex((type) => type.id === id)),
  };
}

/** What of the elements of a design its steps change, so that those know it beforehand. */
function whatStepsDo(owners: ReadonlyArray<Pick<ProcedureModel, "steps">>) {
  const sets = new Set<string>();
  const found = { sets, usesLines: false, reserves: false };
  const look = (steps: readonly StepModel[]): void => {
    for (const { step, fields, targets, steps: inner } of steps) {
      for (const { source } of targets.values()) {
        const [, property] = /\.\s*(\w+)\s*$/.exec(source) ?? [];
        if (property) sets.add(property.toLowerCase());
      }
      found.usesLines ||=
        stepKindOf(step).usesLines === true || (step.do === "each" && fields.get("what")?.type.kind === "element");
      found.reserves ||= step.do === "reserve";
      look(inner);
    }
  };
  for (const { steps } of owners) look(steps);
  return found;
}

/** Who names each resource in a step. */
function resourcesNamed(procedures: readonly ProcedureModel[], rules: LogicModel["rules"]): LogicModel["namedBy"] {
  const named = new Map<string, Set<string>>();
  const look = (steps: readonly StepModel[], owner: string): void => {
    for (const { step, steps: inner } of steps) {
      for (const { to, id } of mentionsOf(step, stepKindOf(step).settings)) {
        if (to !== "resource") continue;
        const owners = named.get(id);
        if (owners) owners.add(owner);
        else named.set(id, new Set([owner]));
      }
      look(inner, owner);
    }
  };
  for (const { procedure, steps } of procedures) look(steps, procedure.name);
  for (const { rule, steps } of rules) look(steps, rule.name || "a rule");
  return new Map([...named].map(([id, owners]) => [id, [...owners]]));
}

/** Whether steps have entities carry others. */
export const carriesBySteps = ({ procedures = [], rules = [] }: DesignOf): boolean =>
  [...procedures, ...rules].some(({ steps }) =>
    [...everyStep(steps)].some((step) => !step.off && stepKindOf(step).carries?.(step as never) === true),
  );

/** Ids of procedures and rules tell them apart, and procedures go by their names. */
function checkIds(procedures: readonly ProcedureOf[], rules: readonly RuleOf[], problems: Problems): void {
  const ids = new Set<string>();
  const names = new Set<string>();
  for (const [list, items] of [
    ["procedures", procedures],
    ["rules", rules],
  ] as const)
    items.forEach(({ id, name, steps }, i) => {
      if (ids.has(id))
        problems.add("duplicate-id", [list, i, "id"], { id, field: "id" }, `The id "${id}" is used twice.`);
      ids.add(id);
      if (list === "procedures") {
        if (names.has(nameKey(name)))
          problems.add(
            "duplicate-name",
            [list, i, "name"],
            { id, field: "name" },
            `"${name}" reads the same as the name of another procedure.`,
            "Choose another name.",
          );
        names.add(nameKey(name));
      }
      const own = new Set<string>();
      for (const step of everyStep(steps)) {
        if (own.has(step.id))
          problems.add("duplicate-id", [list, i, "steps"], { id }, `Two steps have the id "${step.id}".`);
        own.add(step.id);
      }
    });
}

/** What a procedure asks for, with its types. */
function parametersOf({ parameters }: ProcedureOf, { tables, withoutEntity }: ScopesWithTables) {
  return parameters.map(({ id, name, is, unit, table }) => {
    const type = (): ValueType => {
      if (is === "number") {
        const found = unit.trim() === "" ? undefined : checkExpression(`1 ${unit}`, withoutEntity);
        return found?.ok && found.checked.type.kind === "number" ? found.checked.type : PLAIN;
      }
      if (is === "yes or no") return { kind: "yesNo" };
      if (is === "entity type") return { kind: "entityType" };
      if (is !== "row") return { kind: is };
      const of = tables.find((one) => one.id === table);
      return { kind: "row", table: { id: table, name: of?.name ?? "a table" } };
    };
    return { id, name, type: type() };
  });
}

/** Ids of procedures that answer something. */
const answersOf = (procedures: readonly ProcedureOf[]): ReadonlySet<string> =>
  new Set(
    procedures
      .filter(({ steps }) =>
        [...everyStep(steps)].some((step) => step.do === "end" && (step as { answer?: string }).answer?.trim()),
      )
      .map(({ id }) => id),
  );

/** Procedures that may take time, by themselves or by those that they call and wait for. */
function takingTime(procedures: readonly ProcedureModel[]): ReadonlySet<string> {
  const timely = new Set<string>();
  for (let before = -1; before < timely.size;) {
    before = timely.size;
    for (const { procedure, steps } of procedures) if (takes(steps, timely)) timely.add(procedure.id);
  }
  return timely;
}

const takes = (steps: readonly StepModel[], timely: ReadonlySet<string>): boolean =>
  firstTaking(steps, timely) !== undefined;

/** The first step in which time may pass. */
function firstTaking(steps: readonly StepModel[], timely: ReadonlySet<string>): StepModel | undefined {
  for (const model of steps) {
    const step = model.step as StepBase & { procedure?: string; alongside?: boolean };
    if (stepKindOf(step).takesTime?.(step as never)) return model;
    if (step.do === "call" && !step.alongside && timely.has(step.procedure ?? "")) return model;
    const inner = firstTaking(model.steps, timely);
    if (inner) return inner;
  }
  return undefined;
}

/** A procedure that nothing calls is told of: it may have been forgotten. */
function checkUses(procedures: readonly ProcedureOf[], rules: readonly RuleOf[], problems: Problems): void {
  const called = new Set<string>();
  for (const { steps } of [...procedures, ...rules])
    for (const step of everyStep(steps))
      if (step.do === "call") called.add((step as { procedure?: string }).procedure ?? "");
  procedures.forEach(({ id, name }, i) => {
    if (!called.has(id))
      problems.add(
        "unused-procedure",
        ["procedures", i],
        { id },
        `Nothing does ${name}.`,
        "Call it from a rule or another procedure, or delete it.",
        "warning",
      );
  });
}

/** Signals that are waited for and never given, and waiting places from which something is taken and nothing kept. */
function checkMeetings(procedures: readonly ProcedureOf[], rules: readonly RuleOf[], problems: Problems): void {
  const named = (kind: string, field: "signal" | "place") => {
    const found = new Set<string>();
    for (const { steps } of [...procedures, ...rules])
      for (const step of everyStep(steps))
        if (step.do === kind && !step.off)
          found.add(nameKey((step as { signal?: string; place?: string })[field] ?? ""));
    return found;
  };
  const [given, kept] = [named("signal", "signal"), named("keep", "place")];
  const look = (steps: readonly StepBase[], id: string, path: (string | number)[]): void =>
    steps.forEach((step, i) => {
      const at = [...path, i];
      const { signal = "", place = "" } = step as { signal?: string; place?: string };
      const says = (field: string, code: string, message: string, hint: string) =>
        problems.add(code, [...at, field], { id, field: `${step.id}.${field}` }, message, hint, "warning");
      if (step.do === "wait for" && !step.off && signal.trim() !== "" && !given.has(nameKey(signal)))
        says(
          "signal",
          "signal-never-given",
          `Nothing gives the signal ${signal}.`,
          "Give it in another step, or correct its name.",
        );
      if (
        (step.do === "take" || step.do === "call for") &&
        !step.off &&
        place.trim() !== "" &&
        !kept.has(nameKey(place))
      )
        says("place", "nothing-kept", `Nothing is kept in ${place}.`, "Keep entities there, or correct the name.");
      look(step.steps ?? [], id, [...at, "steps"]);
    });
  procedures.forEach(({ id, steps }, i) => look(steps, id, ["procedures", i, "steps"]));
  rules.forEach(({ id, steps }, i) => look(steps, id, ["rules", i, "steps"]));
}

/** What is about an entity is not called where none is at hand: by rules of the system or of elements, or alongside. */
function checkEntities(
  procedures: readonly ProcedureOf[],
  rules: readonly RuleOf[],
  hasEntity: (rule: RuleOf) => boolean,
  problems: Problems,
): void {
  type Call = StepBase & { readonly procedure?: string; readonly alongside?: boolean; readonly carry?: boolean };
  const on = (steps: readonly StepBase[]) => [...everyStep(steps)].filter(({ off }) => !off) as Call[];
  const about = new Set<string>();
  const isAbout = (step: Call) =>
    stepKindOf(step).ofEntity === true ||
    step.carry === true ||
    (step.do === "call" && !step.alongside && about.has(step.procedure ?? "")) ||
    fieldsOf(step, stepKindOf(step).settings).some(({ text }) => namesIn(text).has("entity"));
  for (let before = -1; before < about.size;) {
    before = about.size;
    for (const { id, steps } of procedures) if (on(steps).some(isAbout)) about.add(id);
  }
  const look = (steps: readonly StepBase[], id: string, path: (string | number)[], entity: boolean): void =>
    steps.forEach((step: Call, i) => {
      const at = [...path, i];
      const calls = step.do === "call" && about.has(step.procedure ?? "") && (step.alongside === true || !entity);
      if (!step.off && (calls || (step.carry === true && !entity)))
        problems.add(
          "no-entity-here",
          [...at, calls ? "procedure" : "carry"],
          { id, field: `${step.id}.${calls ? "procedure" : "carry"}` },
          calls
            ? "The procedure is about an entity, and none is at hand here."
            : "No entity is at hand that could carry it.",
          "Do it in a rule at an event of entities, and not alongside.",
        );
      look(step.steps ?? [], id, [...at, "steps"], entity);
    });
  procedures.forEach(({ id, steps }, i) => look(steps, id, ["procedures", i, "steps"], true));
  rules.forEach((rule, i) => look(rule.steps, rule.id, ["rules", i, "steps"], hasEntity(rule)));
}

interface RuleContext extends Omit<Context, "entityTypes"> {
  readonly entityTypes: DesignOf["entityTypes"];
  readonly procedures: readonly ProcedureOf[];
  readonly heads: ReadonlyArray<ReturnType<typeof parametersOf>>;
  readonly measures: Map<string, ValueType>;
  readonly written: Written[];
  readonly answers: ReadonlySet<string>;
  readonly timely: ReadonlySet<string>;
}

/** Events of an entity type, wherever its entities are. */
export const TYPE_EVENTS = { born: "is born", leaves: "leaves the system" } as const;

function readRule(rule: RuleOf, index: number, context: RuleContext): RuleModel {
  const { problems } = context;
  const path = ["rules", index];
  const { id } = rule;
  const title = ruleTitle(rule, context.document);
  const heard = placesOf(rule, context);
  const refuse = (field: string, code: string, message: string, hint: string) =>
    problems.add(code, [...path, field], { id, field }, `${title}: ${message}`, hint);
  if (typeof heard === "string") refuse("at", "missing-element", heard, "Choose again what it belongs to.");
  const { nodes, types, hasEntity, holds } =
    typeof heard === "string" ? { nodes: [], types: [], hasEntity: true, holds: true } : heard;
  const frame = new Frame();
  const whose: Whose = { id, path, hasEntity, isProcedure: false };
  const reader = new StepReader(context, whose, frame);
  const field = (name: "condition" | "every" | "first" | "value", spec: Parameters<typeof checkField>[1]) =>
    checkField(rule[name], { ...spec, name }, reader.scopesAt(new Map()), problems, [...path, name], id);
  const condition = field("condition", {
    name: "",
    label: "If",
    help: "Write a condition, or leave it empty.",
    type: { kind: "yesNo" },
    optional: true,
    entity: hasEntity,
  });
  const time = { name: "", help: "Write a time, such as 1 d.", type: numberOf(TIME) };
  const isTimed = rule.of === "system" && rule.event === "every";
  const every = isTimed ? field("every", { ...time, label: "Every", above: 0 }) : undefined;
  const first =
    isTimed || (rule.of === "system" && rule.event === "once")
      ? field("first", { ...time, label: "First after", optional: isTimed, least: 0 })
      : undefined;
  const value =
    rule.of === "system" && rule.event === "changes"
      ? field("value", {
          name: "",
          label: "What changes",
          help: "Name what is followed.",
          type: PLAIN,
          any: "value",
          steady: true,
        })
      : undefined;
  if (value && readsTime(value))
    refuse(
      "value",
      "condition-of-time",
      "it follows the clock, which always changes.",
      "Use a rule that acts every period.",
    );
  const times = timesOf(rule);
  if (typeof times === "string") refuse("times", "bad-times", BAD_TIMES[times].message, BAD_TIMES[times].hint);
  if (rule.of === "system" && rule.event.startsWith("shift ") && !context.model.timetables.has(rule.calendar))
    refuse("calendar", "missing-calendar", "nothing says which calendar it goes by.", "Choose a shift calendar.");
  const steps = reader.steps(rule.steps);
  const taking = firstTaking(steps, context.timely);
  if (taking && !holds)
    problems.add(
      "no-time-here",
      taking.path,
      { id, field: `${taking.step.id}.do` },
      `${title}: no time can pass at this event, and the entity cannot go elsewhere.`,
      "Let the rule act when an entity comes in, or do a procedure alongside.",
    );
  return {
    index,
    rule,
    nodes,
    types,
    condition,
    every,
    first,
    times: typeof times === "string" ? [] : times,
    value,
    steps,
    slots: frame.size,
    takesTime: taking !== undefined,
  };
}

interface Heard {
  readonly nodes: readonly number[];
  readonly types: readonly number[];
  readonly hasEntity: boolean;
  /** Whether time may pass in its steps. */
  readonly holds: boolean;
}

/** Whose events a rule hears, and what there is at hand; else what is wrong. */
function placesOf(rule: RuleOf, { document, model, entityTypes }: RuleContext): Heard | string {
  if (rule.of === "system") return { nodes: [], types: [], hasEntity: false, holds: rule.event !== "end" };
  if (rule.of === "entity type") {
    const types = entityTypes.flatMap((type, i) =>
      type.id === rule.at || document.entityTypes.find((t) => t.id === rule.at)?.name === type.name ? [i] : [],
    );
    if (types.length === 0) return "the entity type that it belongs to does not exist.";
    if (!Object.values<string>(TYPE_EVENTS).includes(rule.event)) return "there is no such event of an entity type.";
    return { nodes: [], types, hasEntity: true, holds: false };
  }
  const isMeant = ({ element, member }: Node) =>
    rule.of === "group"
      ? rule.at !== "" && element.group === rule.at
      : element.id === rule.at || member?.family.id === rule.at;
  const meant = model.nodes.filter(isMeant);
  if (meant.length === 0)
    return rule.of === "group" ? "no element is of its group." : "the element that it belongs to does not exist.";
  const having = meant.filter(({ element }) => rule.event in eventsOf(kindOf(element)));
  if (having.length === 0) return `there is no event "${rule.event}" there.`;
  const spec = eventsOf(kindOf(having[0].element))[rule.event];
  return {
    nodes: having.map(({ index }) => index),
    types: [],
    hasEntity: spec.of === "entity",
    holds: spec.holds === true || spec.of === "element",
  };
}

const BAD_TIMES = {
  "at times": { message: "its times of day cannot be read.", hint: "Write them as 08:00, 12:30." },
  "at dates": { message: "its dates cannot be read.", hint: "Write them as 2026-06-05 14:00, with commas between." },
} as const;

/** The times at which a rule of the system acts; which kind of them cannot be read. */
function timesOf({ of, event, times }: RuleOf): readonly number[] | keyof typeof BAD_TIMES {
  if (of !== "system" || (event !== "at times" && event !== "at dates")) return [];
  return (event === "at dates" ? readDates(times) : readTimes(times)) ?? event;
}

/** Dates with times of day, in seconds from 1970 on as the clock on the wall has them, rising; alone, of midnight. */
function readDates(text: string): number[] | undefined {
  const parts = text
    .split(",")
    .map((part) => part.trim())
    .filter((part) => part !== "");
  const moments = parts.map((part) => {
    const [, date, time = "00:00"] = /^(\S+?)(?:[ T](\d?\d:\d\d))?$/.exec(part) ?? [];
    const moment = `${date}T${time.padStart(5, "0")}`;
    return isMoment(moment) ? secondsOfMoment(moment) : Number.NaN;
  });
  return parts.length === 0 || moments.some(Number.isNaN) ? undefined : moments.sort((a, b) => a - b);
}

/** Times of day in seconds, rising; undefined where one cannot be read. */
function readTimes(text: string): number[] | undefined {
  const parts = text
    .split(",")
    .map((part) => part.trim())
    .filter((part) => part !== "");
  if (parts.length === 0 || parts.some((part) => !/^([01]?\d|2[0-3]):[0-5]\d$/.test(part))) return undefined;
  return parts.map((part) => secondsOfDay(part.padStart(5, "0"))).sort((a, b) => a - b);
}
