import { type EntityType, TYPE_SETTINGS } from "../../document/entityType.ts";
import { checkExpression, nameKey, PLAIN } from "../../expression/index.ts";
import type { TypeModel } from "../../model/model.ts";
import { checkField } from "./field.ts";
import type { Path, Problems } from "./problems.ts";
import type { Unfolded } from "../families/unfold.ts";
import { knowingTypeRow } from "./members.ts";
import type { Scopes, ScopesWithTables } from "./scopes.ts";

/** Entity types with their speeds, their attributes and their colours. */
export const readTypes = (
  { design: { entityTypes }, typeRows }: Pick<Unfolded, "design" | "typeRows">,
  shared: ScopesWithTables,
  problems: Problems,
): TypeModel[] =>
  entityTypes.map((type, index): TypeModel => {
    const row = typeRows.get(type.id);
    const scopes = row ? knowingTypeRow(shared, row) : shared;
    const path = ["entityTypes", index];
    const speed = checkField(type.speed, TYPE_SETTINGS.speed, scopes, problems, [...path, "speed"], type.id);
    const attributes = type.attributes.flatMap((attribute, i) => {
      const checked = checkField(
        attribute.value,
        { name: "value", label: attribute.name, help: "", type: PLAIN, entity: true },
        { ...scopes, anyType: true },
        problems,
        [...path, "attributes", i, "value"],
        type.id,
        `attribute ${attribute.name}`,
      );
      const slot = scopes.slots.get(nameKey(attribute.name));
      return checked && slot !== undefined
        ? [{ slot, value: checked, stream: type.streams[`attribute ${attribute.name}`] ?? 0 }]
        : [];
    });
    return { index, type, speed, attributes, bands: readBands(type, scopes, problems, path) };
  });

/** By which attribute a type is coloured, and from which values. A mistake in it is a warning: it spoils no run. */
function readBands(type: EntityType, scopes: Scopes, problems: Problems, path: Path): TypeModel["bands"] {
  if (type.colouring !== "attribute") return undefined;
  const warn = (field: string, message: string, hint: string) => {
    problems.add(
      "bad-colouring",
      [...path, ...field.split(".")],
      { id: type.id, field },
      `${type.name}: ${message}`,
      hint,
      "warning",
    );
    return undefined;
  };
  const attribute = type.attributes.find((a) => nameKey(a.name) === nameKey(type.colourAttribute));
  const slot = attribute && scopes.slots.get(nameKey(attribute.name));
  const meaning = attribute && scopes.withEntity.find("entity")?.properties?.get(attribute.name);
  if (slot === undefined || meaning?.type.kind !== "number")
    return warn(
      "colourAttribute",
      `it is coloured by "${type.colourAttribute}", which is no attribute of it that is a number.`,
      "Choose one of its attributes.",
    );
  const from = type.bands.map((band, i) => {
    const result = checkExpression(band.from, scopes.withoutEntity, meaning.type);
    if (result.ok && result.checked.constant !== undefined) return result.checked.constant;
    warn(
      `bands.${i}`,
      `the colour's value "${band.from}" is not a fixed value of the unit of ${type.colourAttribute}.`,
      "Write it with its unit.",
    );
    return Number.NaN;
  });
  if (from.some((value, i) => i > 0 && value <= from[i - 1]))
    return warn("bands", "the values of its colours do not rise.", "Put them in rising order.");
  return { slot, from };
}
