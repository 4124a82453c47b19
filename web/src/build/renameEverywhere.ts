import { type Design, nameKey, renameInTables, renameUses, type Study, type Table } from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";

/** After an element or entity type was renamed: writes the new name wherever expressions and tables use the old one. */
export function renameEverywhere(from: string, to: string): void {
  const { change, designId } = useStudy.getState();
  let changed = 0;
  change(`Rename ${from} in expressions`, (study) => {
    const design = study.designs.find(({ id }) => id === designId);
    if (design) changed = renameUses(design, from, to) + renameInTables(tablesNaming(study, design, from), from, to);
  });
  if (changed > 0) announce(`${from} is now ${to} in ${changed === 1 ? "one place" : `${changed} places`} too.`);
}

/** The tables of a design; not those of the study while another design still has something of the old name. */
function tablesNaming(study: Study, design: Design, name: string): Table[] {
  const key = nameKey(name);
  const others = study.designs.filter((d) => d !== design);
  const isElsewhere = others.some((d) => [...d.elements, ...d.entityTypes].some((item) => nameKey(item.name) === key));
  return isElsewhere ? design.tables : [...study.tables, ...design.tables];
}
