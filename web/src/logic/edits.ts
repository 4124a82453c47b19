import {
  type Design,
  everyStep,
  freshName,
  isClaimable,
  kindOf,
  nameKey,
  type ProcedureOf,
  type RuleOf,
  settingsIn,
  type Setting,
  stepKindOf,
  stepSchema,
  type StepBase,
  writeName,
} from "@busy-harbor/core";
import { newId } from "../state/edits.ts";

/** A procedure or a rule: what has steps. */
export type Owner = ProcedureOf | RuleOf;

export const isRule = (owner: Owner): owner is RuleOf => "event" in owner;

export const ownerIn = ({ procedures = [], rules = [] }: Design, id: string): Owner | undefined =>
  procedures.find((p) => p.id === id) ?? rules.find((r) => r.id === id);

/** A procedure without steps, at the end of the list; gives its id. */
export function addProcedure(design: Design, name = "Procedure"): string {
  const id = newId("procedure");
  (design.procedures ??= []).push({
    id,
    name: freshName(name, design.procedures),
    note: "",
    parameters: [],
    steps: [],
  });
  return id;
}

/** A rule of something, at an event; gives its id. */
export function addRule(design: Design, more: Partial<RuleOf> & Pick<RuleOf, "event">): string {
  const id = newId("rule");
  (design.rules ??= []).push({
    id,
    name: "",
    note: "",
    of: "element",
    at: "",
    every: "",
    first: "",
    times: "",
    calendar: "",
    value: "",
    condition: "",
    streams: {},
    steps: [],
    ...more,
  });
  return id;
}

/**
 * Gives an attribute of an element to the entities that arrive there: their types get one of that name where they have
 * none, and a rule sets it.
 */
export function handOn(design: Design, elementId: string, attribute: string): void {
  const element = design.elements.find(({ id }) => id === elementId);
  const own = element?.attributes?.find(({ name }) => name === attribute);
  if (!element || !own) return;
  const { entityType, mix = [] } = element as { entityType?: string; mix?: readonly { readonly entityType: string }[] };
  const born = new Set(mix.length > 0 ? mix.map((one) => one.entityType) : [entityType]);
  for (const type of design.entityTypes)
    if (born.has(type.id) && !type.attributes.some(({ name }) => nameKey(name) === nameKey(attribute)))
      type.attributes.push({ name: attribute, value: own.value });
  const step = stepSchema.parse({
    id: newId("step"),
    do: "set",
    values: [{ id: newId("row"), what: `entity.${attribute}`, to: `${writeName(element.name)}.${attribute}` }],
  });
  addRule(design, { at: elementId, event: "arrives", steps: [step] });
}

/** Takes a procedure or a rule out. Lists that are empty are none. */
export function deleteOwner(design: Design, id: string): void {
  const without = <T extends { readonly id: string }>(list: T[] | undefined) => {
    const left = (list ?? []).filter((one) => one.id !== id);
    return left.length > 0 ? left : undefined;
  };
  const [procedures, rules] = [without(design.procedures), without(design.rules)];
  if (procedures) design.procedures = procedures;
  else delete design.procedures;
  if (rules) design.rules = rules;
  else delete design.rules;
}

/** Puts a rule in the place of another of the same element, type, group or the system: it acts in that turn. */
export function moveRule({ rules = [] }: Design, id: string, at: string): void {
  const [from, to] = [rules.findIndex((r) => r.id === id), rules.findIndex((r) => r.id === at)];
  if (from >= 0 && to >= 0) rules.splice(to, 0, ...rules.splice(from, 1));
}

/** Where a step stands: the list that it is in, and its place there. */
export interface Place {
  readonly list: StepBase[];
  readonly index: number;
  /** The step that it stands under, with the place of that one. */
  readonly under: (Place & { readonly step: StepBase }) | undefined;
}

export function placeOf(steps: StepBase[], id: string, under?: Place["under"]): Place | undefined {
  for (const [index, step] of steps.entries()) {
    const place = { list: steps, index, under };
    if (step.id === id) return place;
    const inner = step.steps && placeOf(step.steps, id, { ...place, step });
    if (inner) return inner;
  }
  return undefined;
}

/** A new step of a kind, with the first of what it must name, and a row where it needs one. */
export function freshStep(kind: string, design: Design): StepBase {
  const { settings } = stepKindOf({ do: kind });
  const step = stepSchema.parse({ id: newId("step"), do: kind }) as StepBase & Record<string, unknown>;
  for (const setting of settingsIn(settings)) {
    if (setting.form === "reference") step[setting.name] = firstOf(setting, design);
    else if (setting.form === "rows" && setting.name !== "args") step[setting.name] = [freshRow(setting, design)];
  }
  if (kind === "chance") step.steps = [freshStep("case", design), freshStep("case", design)];
  return step;
}

/** A new row of a list of a step. */
export function freshRow(list: Extract<Setting, { form: "rows" }>, design: Design): { id: string } {
  return {
    id: newId("row"),
    ...Object.fromEntries(
      settingsIn(list.row).map((setting) => [
        setting.name,
        setting.form === "resources" && setting.required
          ? resourcesOf(design)
              .slice(0, 1)
              .map(({ id }) => id)
          : setting.schema.parse(undefined),
      ]),
    ),
  };
}

export const resourcesOf = ({ elements }: Design) => elements.filter((e) => isClaimable(e));

/** What a setting of a step may name. */
export function namedBy(
  setting: Extract<Setting, { form: "reference" }>,
  design: Design,
): readonly { readonly id: string; readonly name: string }[] {
  switch (setting.to) {
    case "procedure":
      return design.procedures ?? [];
    case "measure":
      return design.measures.filter(({ kind }) => kind === "recorded");
    case "entity type":
      return design.entityTypes;
    case "element":
      return design.elements.filter((e) =>
        setting.of === "stocked" ? kindOf(e).isStocked : setting.of !== "enterable" || kindOf(e).hasWayIn,
      );
    default:
      return [];
  }
}

const firstOf = (setting: Extract<Setting, { form: "reference" }>, design: Design) =>
  namedBy(setting, design)[0]?.id ?? "";

/** Puts a step behind another, or under it where that holds steps and has none yet; without another, at the end. */
export function insertStep(owner: Owner, after: string | undefined, step: StepBase): void {
  const place = after === undefined ? undefined : placeOf(owner.steps, after);
  if (!place) owner.steps.push(step);
  else {
    const before = place.list[place.index];
    if (before.steps && before.steps.length === 0 && !stepKindOf(step).after) before.steps.push(step);
    else place.list.splice(place.index + 1, 0, step);
  }
}

/** Takes steps out, with those under them; gives the one to go on at. */
export function deleteSteps(owner: Owner, ids: readonly string[]): string | undefined {
  let next: string | undefined;
  for (const id of ids) {
    const place = placeOf(owner.steps, id);
    if (!place) continue;
    place.list.splice(place.index, 1);
    next = (place.list[place.index] ?? place.list[place.index - 1] ?? place.under?.step)?.id;
  }
  return next;
}

/** Puts a step under the one before it, where that one holds steps; whether it could be. */
export function indentStep(owner: Owner, id: string): boolean {
  const place = placeOf(owner.steps, id);
  const before = place?.list[place.index - 1];
  if (!place || !before?.steps) return false;
  before.steps.push(...place.list.splice(place.index, 1));
  return true;
}

/** Puts a step behind the one that it stands under; whether it could be. */
export function outdentStep(owner: Owner, id: string): boolean {
  const place = placeOf(owner.steps, id);
  if (!place?.under) return false;
  const [step] = place.list.splice(place.index, 1);
  place.under.list.splice(place.under.index + 1, 0, step);
  return true;
}

/** Moves a step past its neighbour, out of the step it stands under at either end; whether it could be. */
export function shiftStep(owner: Owner, id: string, by: -1 | 1): boolean {
  const place = placeOf(owner.steps, id);
  if (!place) return false;
  const { list, index, under } = place;
  if (index + by >= 0 && index + by < list.length) {
    const [step] = list.splice(index, 1);
    list.splice(index + by, 0, step);
    return true;
  }
  if (!under) return false;
  const [step] = list.splice(index, 1);
  under.list.splice(under.index + (by > 0 ? 1 : 0), 0, step);
  return true;
}

/** Puts a step into the place of another, which comes behind it or before it; not under itself. */
export function putStep(owner: Owner, id: string, at: string, behind: boolean): void {
  const from = placeOf(owner.steps, id);
  if (!from || id === at) return;
  const step = from.list[from.index];
  if ([...everyStep([step])].some((inner) => inner.id === at)) return;
  from.list.splice(from.index, 1);
  const to = placeOf(owner.steps, at);
  if (to) to.list.splice(to.index + (behind ? 1 : 0), 0, step);
  else owner.steps.push(step);
}

/** A copy of a step with new ids, and streams of its own. */
export const copyOf = (step: StepBase): StepBase => ({
  ...structuredClone(step),
  id: newId("step"),
  streams: {},
  ...(step.steps ? { steps: step.steps.map(copyOf) } : {}),
});
