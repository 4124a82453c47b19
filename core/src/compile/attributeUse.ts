import type { Problem } from "../document/problem.ts";
import { TYPE_SETTINGS } from "../document/entityType.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { kindOf } from "../elements/index.ts";
import type { FieldSpec } from "../settings/field.ts";
import { fieldsOf } from "../settings/settingsOf.ts";
import { attributeReads, nameKey, type Types } from "../expression/index.ts";
import type { Model } from "../model/model.ts";
import { followTypes } from "./typeFlow.ts";

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
  const { nodes, ways, types, design } = model;
  if (types.length === 0) return [];
  const problems: Problem[] = [];
  const typeNames = new Map(types.map(({ type, index }) => [nameKey(type.name), index]));
  const typeNamed = (name: string) => typeNames.get(nameKey(name));
  const indexOf = (id: string) => types.find(({ type }) => type.id === id)?.index;
  const attributesOf = types.map(({ type }) => new Set(type.attributes.map((a) => nameKey(a.name))));
  const root = ["designs", designIndex] as const;

  const check = (
    text: string,
    here: Types,
    { path, id, field, label }: Where,
    how: (without: string, attribute: string) => string,
  ): void => {
    if (!/entity/i.test(text)) return;
    for (const read of attributeReads(text, here, typeNamed)) {
      const without = [...read.types]
        .filter((type) => !attributesOf[type].has(nameKey(read.attribute)))
        .map((type) => types[type].type);
      if (without.length === 0) continue;
      const names = without.map((type) => type.name).join(" and ");
      problems.push({
        code: "attribute-of-other-type",
        severity: "error",
        path: [...root, ...path],
        designId: design.id,
        id,
        field,
        start: read.start,
        end: read.end,
        message: `${label}: ${how(names, read.attribute)}`,
        hint: `Give ${names} this attribute, or ask for the type first: if(entity.type is ${without[0].name.replace(/[^\p{L}\p{N}]/gu, "")}, …, entity.${read.attribute}).`,
      });
    }
  };
  const comes = (names: string, attribute: string) => `${names} can come here and has no ${attribute}.`;

  const flow = followTypes(model);
  for (const node of nodes) {
    const kind = kindOf(node.element);
    for (const { key, field, text, path } of fieldsOf(node.element, kind.settings)) {
      if (!field.entity || !node.settings.has(key)) continue;
      const here =
        field.name === "destination"
          ? flow.leaving[node.index]
          : (kind.typesOfSetting?.(node, key, flow.at[node.index], indexOf) ?? flow.at[node.index]);
      check(
        text,
        here,
        { path: ["elements", node.index, ...path], id: node.element.id, field: key, label: field.label },
        comes,
      );
    }
  }
  for (const way of ways) {
    for (const [name, field] of Object.entries(LINK_SETTINGS) as [keyof typeof LINK_SETTINGS, FieldSpec][]) {
      if (!field.entity || !way.settings.has(name)) continue;
      const here = name === "time" ? flow.on.get(way)! : flow.asked.get(way)!;
      check(
        way.link[name],
        here,
        { path: ["links", design.links.indexOf(way.link), name], id: way.link.id, field: name, label: field.label },
        comes,
      );
    }
  }
  for (const { type, index } of types) {
    const own = new Set([index]);
    check(
      type.speed,
      own,
      { path: ["entityTypes", index, "speed"], id: type.id, field: "speed", label: TYPE_SETTINGS.speed.label },
      (_, attribute) => `${type.name} has no ${attribute}.`,
    );
    type.attributes.forEach(({ name, value }, i) => {
      const known = attributesOf[index];
      const where = {
        path: ["entityTypes", index, "attributes", i, "value"],
        id: type.id,
        field: `attribute ${name}`,
        label: name,
      };
      check(value, own, where, (_, attribute) => `${type.name} has no ${attribute}.`);
      // They are set one after another.
      for (const read of attributeReads(value, own, typeNamed)) {
        const at = type.attributes.findIndex((a) => nameKey(a.name) === nameKey(read.attribute));
        if (at < i || !known.has(nameKey(read.attribute))) continue;
        problems.push({
          code: "attribute-not-set-yet",
          severity: "error",
          path: [...root, ...where.path],
          designId: design.id,
          id: type.id,
          field: where.field,
          start: read.start,
          end: read.end,
          message: at === i ? `${name}: it cannot go by itself.` : `${name}: ${read.attribute} is set after it.`,
          hint: "Put the attribute that it goes by before it.",
        });
      }
    });
  }
  return problems;
}
