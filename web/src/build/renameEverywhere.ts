import { renameUses } from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";

/** After an element or entity type was renamed: writes the new name in the expressions that use the old one. */
export function renameEverywhere(from: string, to: string): void {
  let changed = 0;
  useStudy.getState().changeDesign(`Rename ${from} in expressions`, (d) => void (changed = renameUses(d, from, to)));
  if (changed > 0)
    announce(`${from} is now ${to} in ${changed === 1 ? "one expression" : `${changed} expressions`} too.`);
}
