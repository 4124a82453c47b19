import { checkCollection, type Checked, checkExpression, typeName } from "../../expression/index.ts";
import { dimensionSymbol, isNumber } from "../../quantity/index.ts";
import type { FieldSpec } from "../../settings/field.ts";
import type { Path, Problems } from "./problems.ts";
import type { Scopes } from "./scopes.ts";

/** Checks one expression against what its setting wants; undefined where it is empty, a word, or wrong. */
export function checkField(
  text: string,
  field: FieldSpec,
  scopes: Scopes,
  problems: Problems,
  path: Path,
  id: string | undefined,
  fieldName = field.name,
): Checked | undefined {
  const where = { id, field: fieldName };
  if (text.trim() === "") {
    if (!field.optional) problems.add("empty-setting", path, where, `${field.label} is empty.`, field.help);
    return undefined;
  }
  if (field.words?.includes(text.trim())) return undefined;
  const check = field.any === "collection" ? checkCollection : checkExpression;
  const result = check(
    text,
    field.entity ? scopes.withEntity : scopes.withoutEntity,
    scopes.anyType || field.any || field.chance ? undefined : field.type,
  );
  if (!result.ok) {
    for (const p of result.problems) {
      const code = p.message.includes("wanted") || p.message.includes("cannot be") ? "unit-mismatch" : "bad-expression";
      problems.add(
        code,
        path,
        { ...where, start: p.start, end: p.end, fix: p.fix },
        `${field.label}: ${p.message}`,
        p.hint,
      );
    }
    return undefined;
  }
  const { checked } = result;
  const { constant } = checked;
  const refuse = (code: string, message: string, hint?: string) => {
    problems.add(code, path, { ...where, start: 0, end: text.length }, `${field.label}: ${message}`, hint);
    return undefined;
  };
  if (
    field.chance &&
    checked.type.kind !== "yesNo" &&
    !(checked.type.kind === "number" && isNumber(checked.type.dimension))
  )
    return refuse(
      "not-a-chance",
      `a chance or a condition is wanted; this is ${typeName(checked.type)}.`,
      "Write it as 5 %, or as a condition.",
    );
  if (field.chance && constant !== undefined && !(constant >= 0 && constant <= 1))
    return refuse("not-a-chance", `a chance lies between 0 and 100 %; this is ${constant}.`);
  if (field.any === "value" && !["number", "text", "yesNo", "entityType", "element", "row"].includes(checked.type.kind))
    return refuse(
      "not-a-value",
      `a number, text, yes or no, an element, an entity type or a row is wanted; this is ${typeName(checked.type)}.`,
    );
  if (field.any === "anything" && ["list", "table"].includes(checked.type.kind))
    return refuse("not-a-value", `one value is wanted; this is ${typeName(checked.type)}.`);
  if (field.steady && checked.draws)
    return refuse(
      "not-steady",
      "this must not be random: it is read more than once.",
      "Set an attribute at birth at random, and read it here.",
    );
  if (field.any === "number" && checked.type.kind !== "number")
    return refuse("not-a-number", `a number is wanted; this is ${typeName(checked.type)}.`);
  if (field.fixed && constant === undefined)
    return refuse("not-fixed", "this must be a fixed value.", "Random or changing values are not possible here.");
  const wrong = constant === undefined ? undefined : outOfBounds(field, constant);
  return wrong ? refuse(...wrong) : checked;
}

type Refusal = readonly [code: string, message: string, hint?: string];

/** Why a fixed value is not within the bounds of its setting. */
function outOfBounds({ type, whole, least, above }: FieldSpec, constant: number): Refusal | undefined {
  const symbol = type.kind === "number" ? dimensionSymbol(type.dimension) : "1";
  const unit = symbol === "1" ? "" : ` ${symbol}`;
  if (whole && !(Number.isInteger(constant) && constant >= whole[0] && constant <= whole[1]))
    return ["not-a-count", `a whole number from ${whole[0]} to ${whole[1]} is wanted; this is ${constant}.`];
  if (least !== undefined && constant < least) {
    const hint = "Write a value of 0 or more.";
    return least === 0
      ? ["negative-value", `this is negative (${constant}${unit}).`, hint]
      : ["out-of-range", `this must be at least ${least}${unit}.`, hint];
  }
  if (above !== undefined && !(constant > above)) return ["out-of-range", `this must be above ${above}${unit}.`];
  return undefined;
}
