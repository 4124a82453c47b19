import { performance } from "node:perf_hooks";
import { tableSchema } from "../core/src/index.ts";
import { readWorkbook } from "../web/src/tables/spreadsheet/readWorkbook.ts";
import { writeWorkbook } from "../web/src/tables/spreadsheet/writeWorkbook.ts";

const [ROWS, COLUMNS] = [100_000, 8];

/** Seconds of reading a spreadsheet of 100,000 rows by 8 columns. */
export async function importSeconds(): Promise<number> {
  const table = tableSchema.parse({
    id: "t",
    name: "Calls",
    columns: Array.from({ length: COLUMNS }, (_, c) => ({
      id: `c${c}`,
      name: `Column ${c + 1}`,
      holds: c < 2 ? "text" : "number",
    })),
    rows: Array.from({ length: ROWS }, (_, r) =>
      Array.from({ length: COLUMNS }, (_, c) => (c < 2 ? `Boat ${(r * (c + 7)) % 997}` : String((r * (c + 3)) % 9973))),
    ),
  });
  const bytes = await writeWorkbook([table]);
  const start = performance.now();
  const { ranges } = await readWorkbook(bytes);
  const seconds = (performance.now() - start) / 1000;
  if (ranges[0].cells.length !== ROWS + 1) throw new Error("Not every row was read.");
  return seconds;
}
