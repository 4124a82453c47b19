import type { Problem } from "../document/problem.ts";
import { TYPE_SETTINGS } from "../document/entityType.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { kindOf } from "../elements/index.ts";
import { expressionsIn, fieldsOf } from "../settings/settingsOf.ts";
import { stepKindOf } from "../logic/steps/index.ts";
import type { StepModel } from "../model/logic.ts";
import { attributeReads, nameKey, type Types } from "../expression/index.ts";
import type { Model } from "../model/model.ts";
import { stepsWithTypes, typesOfLogic } from "./logicTypes.ts";
import { followTypes, type TypeFlow } from "./typeFlow.ts";

interface Where {
  readonly path: Problem["path"];
  readonly id: string;
  readonly field: string;
  readonly label: string;
}

/**
 * Finds where an attribute is read of an entity that may be of a type without it. Attributes belong to types: a
 * token has no other columns, and there is no value to fall back on.
 */
export function checkAttributeUse(model: Model, designIndex: number): Problem[] {
  if (model.types.length === 0) return [];
  const uses = new AttributeUses(model, designIndex);
  const flow = followTypes(model);
  uses.ofElements(flow);
  uses.ofLinks(flow);
  uses.ofTypes();
  uses.ofLogic(flow);
  return uses.problems;
}

const comes = (names: string, attribute: string) => `${names} can come here and has no ${attribute}.`;

class AttributeUses {
  readonly problems: Problem[] = [];
  private readonly typeNamed: (name: string) => number | undefined;
  private readonly attributesOf: readonly ReadonlySet<string>[];

  constructor(
    private readonly model: Model,
    private readonly designIndex: number,
  ) {
    const { types } = model;
    const typeNames = new Map(types.map(({ type, index }) => [nameKey(type.name), index]));
    this.typeNamed = (name) => typeNames.get(nameKey(name));
    this.attributesOf = types.map(({ type }) => new Set(type.attributes.map((a) => nameKey(a.name))));
  }

  /** Settings of elements, each of the types that may come there. */
  ofElements(flow: TypeFlow): void {
    const { nodes, types } = this.model;
    const indexOf = (id: string) => types.find(({ type }) => type.id === id)?.index;
    for (const node of nodes) {
      const { element, index, settings } = node;
      const kind = kindOf(element);
      for (const { key, field, text, path } of fieldsOf(element, kind.settings)) {
        if (!field.entity || !settings.has(key)) continue;
        const here =
          field.name === "destination"
            ? flow.leaving[index]
            : (kind.typesOfSetting?.(node, key, flow.at[index], indexOf) ?? flow.at[index]);
        const where = { path: ["elements", index, ...path], id: element.id, field: key, label: field.label };
        this.check(text, here, where, comes);
      }
    }
  }

  /** Settings of links: of those under way, or of those who are asked whether they take it. */
  ofLinks(flow: TypeFlow): void {
    const { ways, design } = this.model;
    for (const way of ways) {
      for (const { name, label, entity } of expressionsIn(LINK_SETTINGS)) {
        if (!entity || !way.settings.has(name)) continue;
        const here = name === "time" ? flow.on.get(way)! : flow.asked.get(way)!;
        const where = { path: ["links", design.links.indexOf(way.link), name], id: way.link.id, field: name, label };
        this.check(way.link[name as keyof typeof LINK_SETTINGS] ?? "", here, where, comes);
      }
    }
  }

  /** Speeds and attributes of types, which are read of their own kind alone. */
  ofTypes(): void {
    for (const { type, index } of this.model.types) {
      const lacks = (_: string, attribute: string) => `${type.name} has no ${attribute}.`;
      const own = new Set([index]);
      const path = ["entityTypes", index, "speed"];
      this.check(type.speed, own, { path, id: type.id, field: "speed", label: TYPE_SETTINGS.speed.label }, lacks);
      type.attributes.forEach(({ name, value }, i) => {
        const where = {
          path: ["entityTypes", index, "attributes", i, "value"],
          id: type.id,
          field: `attribute ${name}`,
          label: name,
        };
        this.check(value, own, where, lacks);
        this.checkOrder(index, i, where);
      });
    }
  }

  /** Steps of rules, of the types that may come where they are heard; of procedures, of those of all that call them. */
  ofLogic(flow: TypeFlow): void {
    const { logic } = this.model;
    if (!logic) return;
    const known = typesOfLogic(logic, flow, this.typeNamed);
    const check = (steps: readonly StepModel[], id: string, types: Types): void => {
      for (const [{ step, path }, here] of stepsWithTypes(steps, types, this.typeNamed))
        for (const { key, field, text, path: at } of fieldsOf(step, stepKindOf(step).settings))
          if (field.entity)
            this.check(
              text,
              here,
              { path: [...path, ...at], id, field: `${step.id}.${key}`, label: field.label },
              comes,
            );
    };
    logic.rules.forEach(({ rule, steps, index, nodes, types }, i) => {
      const at = { path: ["rules", index, "condition"], id: rule.id, field: "condition", label: "If" };
      const heard = new Set([...types, ...nodes.flatMap((node) => [...flow.at[node]])]);
      this.check(rule.condition, heard, at, comes);
      check(steps, rule.id, known.rules[i]);
    });
    for (const { procedure, steps } of logic.procedures)
      check(steps, procedure.id, known.procedures.get(procedure.id)!);
  }

  /** Attributes are set one after another: none goes by itself, or by one that is set after it. */
  private checkOrder(typeIndex: number, position: number, { path, id, field, label }: Where): void {
    const { type } = this.model.types[typeIndex];
    for (const read of attributeReads(type.attributes[position].value, new Set([typeIndex]), this.typeNamed)) {
      const at = type.attributes.findIndex((a) => nameKey(a.name) === nameKey(read.attribute));
      if (at < position) continue;
      this.add({
        code: "attribute-not-set-yet",
        path,
        id,
        field,
        start: read.start,
        end: read.end,
        message: at === position ? `${label}: it cannot go by itself.` : `${label}: ${read.attribute} is set after it.`,
        hint: "Put the attribute that it goes by before it.",
      });
    }
  }

  private check(
    text: string,
    here: Types,
    { path, id, field, label }: Where,
    how: (without: string, attribute: string) => string,
  ): void {
    if (!/entity/i.test(text)) return;
    for (const read of attributeReads(text, here, this.typeNamed)) {
      if (this.model.route && ["step", "route"].includes(nameKey(read.attribute))) continue;
      const without = [...read.types]
        .filter((type) => !this.attributesOf[type].has(nameKey(read.attribute)))
        .map((type) => this.model.types[type].type);
      if (without.length === 0) continue;
      const names = without.map((type) => type.name).join(" and ");
      this.add({
        code: "attribute-of-other-type",
        path,
        id,
        field,
        start: read.start,
        end: read.end,
        message: `${label}: ${how(names, read.attribute)}`,
        hint: `Give ${names} this attribute, or ask for the type first: if(entity.type is ${without[0].name.replace(/[^\p{L}\p{N}]/gu, "")}, …, entity.${read.attribute}).`,
      });
    }
  }

  private add({ path, ...problem }: Omit<Problem, "severity" | "designId">): void {
    this.problems.push({
      ...problem,
      severity: "error",
      path: ["designs", this.designIndex, ...path],
      designId: this.model.design.id,
    });
  }
}
