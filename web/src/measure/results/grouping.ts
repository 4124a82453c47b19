import { allKinds, type Study, specOf } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { nameOf } from "../chosen/ChosenProps.ts";
import type { Reading } from "../readings.ts";

/** How those are called that are measured, but for elements, whose kinds say so. */
const OWNERS: Readonly<Record<string, string>> = {
  custom: "measures of your own",
  run: "the run",
  group: "groups",
  link: "links",
  conveyor: "conveyors",
  way: "walkways and roads",
  "entity type": "entity types",
};
export const ownersIn = (ownerKind: string): string =>
  OWNERS[ownerKind] ?? allKinds.find(({ kind }) => kind === ownerKind)?.plural.toLowerCase() ?? ownerKind;

/** By what measures are put together. */
export const GROUPINGS = [
  ["owner", "element"],
  ["kind", "kind"],
  ["type", "entity type"],
  ["quantity", "measure"],
  ["group", "group"],
  ["family", "family"],
] as const;
export type Grouping = (typeof GROUPINGS)[number][0];

/** To what a measure belongs, each way of putting them together. */
export type Belongs = (reading: Reading, by: Grouping) => string;

/** Tells it from the design of a run as it stands in the study. */
export function belongsIn(study: Study, { designId }: RunSummary): Belongs {
  const design = study.designs.find(({ id }) => id === designId);
  const types = new Map(design?.entityTypes.map(({ id, name }) => [id, name]));
  const families = new Map(design?.elements.filter(({ family }) => family).map(({ id, name }) => [id, name]));
  const groups = new Map<string, string>();
  for (const measure of design?.measures ?? []) {
    if (measure.kind !== "group") continue;
    groups.set(measure.id, measure.name);
    for (const id of measure.elements) if (!groups.has(id)) groups.set(id, measure.name);
  }
  /** Members of a family have its id before their key. */
  const ofFamily = (id: string) => families.get(id) ?? families.get(id.slice(0, Math.max(0, id.indexOf("/"))));
  return ({ measure }, by) => {
    const { ownerId, owner, ownerKind, each } = measure;
    switch (by) {
      case "owner":
        return owner;
      case "kind":
        return ownersIn(ownerKind);
      case "type":
        return (
          (each === undefined ? undefined : types.get(each)) ??
          (ownerKind === "entity type" ? owner : "of no one entity type")
        );
      case "quantity":
        return specOf(measure)?.label ?? nameOf(measure);
      case "group":
        return groups.get(ownerId) ?? groups.get(ownerId.split("/")[0]) ?? "in no group";
      case "family":
        return ofFamily(ownerId) ?? "in no family";
    }
  };
}
