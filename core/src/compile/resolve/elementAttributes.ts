import type { DesignOf } from "../../document/design.ts";
import type { ElementBase } from "../../document/element.ts";
import { kindOf } from "../../elements/index.ts";
import { checkExpression, type Meaning, nameKey, type Scope } from "../../expression/index.ts";
import type { ElementAttribute } from "../../model/model.ts";
import { elementAttributeSource } from "../../model/sources.ts";
import type { Problems } from "./problems.ts";

/** Kinds of values that an attribute of an element may have. */
const KINDS: ReadonlySet<string> = new Set(["number", "text", "yesNo", "element", "entityType", "row"]);

/**
 * Reads the attributes of elements, each member of a family with its own: what each begins with is known before
 * anything happens. Gives those of an element by their names.
 */
export function readElementAttributes(
  design: DesignOf,
  scopeOf: (element: ElementBase) => Scope,
  problems: Problems,
): { readonly all: readonly ElementAttribute[]; of(element: ElementBase): ReadonlyMap<string, Meaning> } {
  const all: ElementAttribute[] = [];
  const byElement = new Map<string, Map<string, Meaning>>();
  design.elements.forEach((element, index) => {
    const { attributes } = element;
    if (!attributes || attributes.length === 0) return;
    const scope = scopeOf(element);
    const names = new Map<string, Meaning>();
    const taken = new Set(Object.keys(kindOf(element).properties).map((path) => nameKey(path.split(".")[0])));
    attributes.forEach(({ name, value }, i) => {
      const path = ["elements", index, "attributes", i, "value"];
      const where = { id: element.id, field: `attribute ${name}` };
      const refuse = (code: string, message: string, hint: string, at: object = {}) =>
        problems.add(code, path, { ...where, ...at }, `${name}: ${message}`, hint);
      if (taken.has(nameKey(name))) {
        refuse("duplicate-name", `${element.name} has something called so already.`, "Choose another name.");
        return;
      }
      taken.add(nameKey(name));
      const found = checkExpression(value, scope);
      if (!found.ok) {
        const [{ message, hint = "", start, end, fix }] = found.problems;
        refuse("bad-expression", message, hint, { start, end, fix });
        return;
      }
      const { type, constant } = found.checked;
      if (constant === undefined || !KINDS.has(type.kind)) {
        refuse(
          "not-fixed",
          "what an attribute of an element begins with is a fixed value.",
          "Write a number, a text, yes or no, an element, or what a table says.",
        );
        return;
      }
      names.set(name, { type, source: elementAttributeSource(all.length, `${element.id} ${nameKey(name)}`) });
      all.push({ elementId: element.id, name, first: constant });
    });
    byElement.set(element.id, names);
  });
  const none: ReadonlyMap<string, Meaning> = new Map();
  return { all, of: ({ id }) => byElement.get(id) ?? none };
}

/** Entities made by an element do not have its attributes: told where one might think so. */
export function checkHandedOn(design: DesignOf, problems: Problems): void {
  design.elements.forEach((element, index) => {
    if (!kindOf(element).isSource) return;
    const { entityType, mix = [] } = element as {
      entityType?: string;
      mix?: readonly { readonly entityType: string }[];
    };
    const born = new Set([entityType, ...mix.map((one) => one.entityType)]);
    const types = design.entityTypes.filter(({ id }) => born.has(id));
    element.attributes?.forEach(({ name }, i) => {
      const without = types.filter(({ attributes }) => !attributes.some((a) => nameKey(a.name) === nameKey(name)));
      if (without.length === 0) return;
      problems.add(
        "not-handed-on",
        ["elements", index, "attributes", i],
        { id: element.id, field: `attribute ${name}` },
        `${name}: this is an attribute of ${element.name}; the entities made here do not have it.`,
        `To give it to them, give ${without[0].name} an attribute ${name} with the value ${element.name.replace(/[^\p{L}\p{N}]/gu, "")}.${name}.`,
        "warning",
      );
    });
  });
}
