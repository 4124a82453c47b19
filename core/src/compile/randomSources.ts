import type { Problem } from "../document/problem.ts";
import { everyStep, type StepBase } from "../document/logic.ts";
import { stepKindOf } from "../logic/steps/index.ts";
import { ruleTitle } from "./ruleWords.ts";
import { kindOf } from "../elements/index.ts";
import { type Model, nameOfNode, type Node } from "../model/model.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { settingsIn } from "../settings/setting.ts";
import { fieldsOf } from "../settings/settingsOf.ts";
import { expressionsOf } from "./tableUses.ts";

/** A place of a design that draws random numbers. */
export interface RandomSource {
  /** Whose it is, and the setting of it. */
  readonly id: string;
  readonly owner: string;
  readonly field: string;
  readonly label: string;
  /** What is drawn, as it is written. */
  readonly text: string;
  readonly stream: number;
  /** Where in the study the number of its stream stands. */
  readonly path: Problem["path"];
  /** It decides when entities arrive, or what they are at birth. */
  readonly isArrival: boolean;
}

function* logicOf({ document }: Model) {
  for (const procedure of document.procedures ?? []) yield [procedure, procedure.name] as const;
  for (const rule of document.rules ?? []) yield [rule, ruleTitle(rule, document)] as const;
}

type Streams = Readonly<Record<string, number>>;

/** Every place of a design that draws, in the order of its types, elements and links. */
export function randomSources(model: Model): RandomSource[] {
  const { document: design, study } = model;
  const root = ["designs", study.designs.indexOf(design)];
  const owners = new Map<
    string,
    { readonly path: Problem["path"]; readonly streams: Streams; readonly isArrival: boolean }
  >();
  study.variables?.forEach(({ id, streams }, i) =>
    owners.set(id, { path: ["variables", i, "streams"], streams, isArrival: false }),
  );
  design.entityTypes.forEach(({ id, streams }, i) =>
    owners.set(id, { path: [...root, "entityTypes", i, "streams"], streams, isArrival: true }),
  );
  design.elements.forEach((element, i) =>
    owners.set(element.id, {
      path: [...root, "elements", i, "streams"],
      streams: element.streams,
      isArrival: kindOf(element).isSource ?? false,
    }),
  );
  design.rules?.forEach(({ id, streams }, i) =>
    owners.set(id, { path: [...root, "rules", i, "streams"], streams, isArrival: false }),
  );
  design.links.forEach(({ id, streams }, i) =>
    owners.set(id, { path: [...root, "links", i, "streams"], streams, isArrival: false }),
  );
  design.roads?.forEach(({ id, streams = {} }, i) =>
    owners.set(id, { path: [...root, "roads", i, "streams"], streams, isArrival: false }),
  );
  const found: RandomSource[] = [];
  const ofSteps = streamsOfSteps(design, root);
  const add = (id: string, owner: string, field: string, label: string, text: string) => {
    const of = ofSteps.get(`${id} ${field}`) ?? owners.get(id);
    const key = ofSteps.has(`${id} ${field}`) ? field.slice(field.indexOf(".") + 1) : field;
    if (of?.streams[key] === undefined) return;
    if (found.some((source) => source.id === id && source.field === field)) return;
    found.push({
      id,
      owner,
      field,
      label,
      text,
      stream: of.streams[key],
      path: [...of.path, key],
      isArrival: of.isArrival,
    });
  };
  // Cells of tables draw where they are read.
  for (const { id, owner, field, label, checked } of expressionsOf(model))
    if (checked.draws && !field.startsWith("cell.")) add(id, owner, field, label, checked.source);
  for (const node of model.nodes) {
    const { id, name: owner } = node.member?.family ?? node.element;
    for (const { name, label } of choosing(node)) add(id, owner, name, label, WORDS[name] ?? label);
    for (const { key, field, text } of fieldsOf(node.element, kindOf(node.element).settings))
      if (field.chance && node.settings.get(key)?.type.kind === "number") add(id, owner, key, field.label, text);
  }
  for (const way of model.ways)
    if (way.link.among === "at random") {
      const link = design.links[way.group];
      const owner = `${nameOfNode(model.nodes[way.from])} to ${nameOfNode(model.nodes[way.to])}`;
      add(link.id, owner, "member", LINK_SETTINGS.member.label, "a member at random");
    }
  for (const [list, titleOf] of logicOf(model))
    for (const step of everyStep(list.steps))
      if (stepKindOf(step).drawsAs)
        add(list.id, titleOf, `${step.id}.${stepKindOf(step).drawsAs}`, stepKindOf(step).label, "by weight");
  const order = [...owners.keys()];
  return found.sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
}

/** Streams of steps, by the procedure or rule and the setting of the step; choices by chance among them. */
function streamsOfSteps({ procedures = [], rules = [] }: Model["document"], root: Problem["path"]) {
  const found = new Map<string, { path: Problem["path"]; streams: Streams; isArrival: boolean }>();
  const walk = (steps: readonly StepBase[], id: string, path: Problem["path"]): void =>
    steps.forEach((step, i) => {
      const at = [...path, i];
      for (const key of Object.keys(step.streams))
        found.set(`${id} ${step.id}.${key}`, { path: [...at, "streams"], streams: step.streams, isArrival: false });
      walk(step.steps ?? [], id, [...at, "steps"]);
    });
  procedures.forEach(({ id, steps }, i) => walk(steps, id, [...root, "procedures", i, "steps"]));
  rules.forEach(({ id, steps }, i) => walk(steps, id, [...root, "rules", i, "steps"]));
  return found;
}

const WORDS: Readonly<Record<string, string>> = {
  wayOut: "by share",
  mix: "by weight",
  profile: "at random, at the rate of its profile",
};

/** Settings without an expression by which an element draws, as it is set. */
function choosing({ element, out, rows }: Node) {
  const values = element as unknown as Readonly<Record<string, unknown>>;
  const draws: Readonly<Record<string, boolean>> = {
    wayOut: element.wayOut === "share" && out.length > 1,
    mix: (Array.isArray(values.mix) && values.mix.length > 1) || (rows !== undefined && values.takes === "at random"),
    profile: values.by === "profile" && values.spacing === "random",
  };
  return settingsIn(kindOf(element).settings).filter(
    ({ name, form, draws: number }) => form !== "expression" && number !== undefined && draws[name],
  );
}
