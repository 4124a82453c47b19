import {
  type Design,
  type Dimension,
  type Element,
  fieldsOf,
  kindOf,
  numberOf,
  sameType,
  type Study,
} from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";

/** A setting that a fitted distribution can be written into. */
export interface Place {
  readonly value: string;
  readonly label: string;
  readonly elementId: string;
  readonly path: readonly (string | number)[];
  readonly field: string;
}

/** Settings of a design that may be random and are of a dimension, those of every element. */
export function placesFor({ elements }: Design, dimension: Dimension): Place[] {
  const wanted = numberOf(dimension);
  return elements.flatMap((element: Element) =>
    fieldsOf(element, kindOf(element).settings).flatMap(({ key, field, path, used }): Place[] =>
      used &&
      !field.fixed &&
      !field.steady &&
      !field.any &&
      !field.chance &&
      !field.whole &&
      sameType(field.type, wanted)
        ? [
            {
              value: `${element.id}\n${key}`,
              label: `${element.name}: ${field.label.toLowerCase()}`,
              elementId: element.id,
              path,
              field: key,
            },
          ]
        : [],
    ),
  );
}

/** Writes a fitted distribution into a setting, and keeps from which observations it comes. */
export function takeFit(place: Place, text: string, from: { table: string; column: string; count: number }): void {
  const { designId, change } = useStudy.getState();
  change(`Use ${text} for ${place.label}`, (study) => {
    const element = study.designs
      .find((d) => d.id === designId)
      ?.elements.find((e) => e.id === place.elementId) as unknown as Record<string, unknown> | undefined;
    if (!element) return;
    let holder: Record<string | number, unknown> = element;
    for (const step of place.path.slice(0, -1)) holder = holder[step] as Record<string | number, unknown>;
    holder[place.path.at(-1)!] = text;
    const fits = (study.fits ?? []).filter((f) => !(f.owner === place.elementId && f.field === place.field));
    study.fits = [...fits, { owner: place.elementId, field: place.field, text, ...from }];
  });
}

/** From which observations an expression was fitted; undefined where it was not, or has been changed since. */
export function originOf(study: Study, owner: string, field: string, text: string): string | undefined {
  const found = study.fits?.find((f) => f.owner === owner && f.field === field && f.text === text);
  const table = found && study.tables.find(({ id }) => id === found.table);
  const column = table?.columns.find(({ id }) => id === found!.column);
  return (
    found &&
    `fitted to ${found.count} values of ${table?.name ?? "a table that is gone"}, ${column?.name ?? "a column"}`
  );
}
