import { type DisplayModel, displayUnit, formatQuantity, type Study } from "@busy-harbor/core";

type Checked = DisplayModel["values"][number];

/** A value as it is written; a dash where it is not known. */
export const wordsOf = (value: number, checked: Checked, units: Study["units"]): string => {
  if (!checked || !Number.isFinite(value)) return "–";
  if (checked.type.kind === "yesNo") return value !== 0 ? "yes" : "no";
  return checked.type.kind === "number" ? formatQuantity(value, checked.type.dimension, units, 3) : "–";
};

/** Factor from SI to the unit that a value is shown in. */
export const factorOf = (checked: Checked, units: Study["units"]) =>
  checked?.type.kind === "number" ? displayUnit(checked.type.dimension, units).factor : 1;
