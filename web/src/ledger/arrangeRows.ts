import type { Column, Item, Place } from "./sheet.ts";

export interface Sorting {
  readonly column: string;
  readonly down: boolean;
}

const order = new Intl.Collator("en", { numeric: true, sensitivity: "base" });

/** The rows that contain every word of the filter, in the order asked for. Numbers in texts sort as numbers. */
export function arrangeRows(
  rows: readonly Item[],
  columns: readonly Column[],
  place: Place,
  filter: string,
  sorting: Sorting | undefined,
): readonly Item[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  const kept =
    words.length === 0
      ? rows
      : rows.filter((item) => {
          const text = columns
            .map((c) => c.read(item, place))
            .join(" ")
            .toLowerCase();
          return words.every((word) => text.includes(word));
        });
  const by = sorting && columns.find((c) => c.id === sorting.column);
  if (!by) return kept;
  const keyed = kept.map((item) => ({ item, text: by.read(item, place) }));
  keyed.sort((a, b) => order.compare(a.text, b.text) * (sorting.down ? -1 : 1));
  return keyed.map((k) => k.item);
}
