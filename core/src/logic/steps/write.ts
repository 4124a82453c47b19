import { nameKey, PLAIN } from "../../expression/index.ts";
import { expression, rows, settings } from "../../settings/setting.ts";
import { anyValue, name } from "../fields.ts";
import { stepKind } from "../kind.ts";

/** Writes a row into a table of results. */
export const writeRow = stepKind({
  kind: "write",
  label: "Write a row",
  group: "record",
  help: "Adds a row to a table of results, which each replication has for itself: it is there to be saved beside the run, as a file, and changes no number. Several steps may write into one, with the same columns.",
  example: "Write a row into Trips: boat = boat, load = load.weight",
  sentence: "Write a row into {table}: {values}",
  settings: settings({
    table: expression("Table of results", "Its name, such as Trips.", PLAIN, { names: "new" }),
    values: rows("Columns", "What is written, with the name of its column.", {
      one: "column",
      most: 40,
      row: {
        column: name("Column", "Its name, such as load."),
        to: anyValue("Value", "What is written, such as entity.weight.", { draws: 351 }),
      },
      fresh: () => ({}),
    }),
  }),
  lower(step, { lowering: { kernel, model }, next, read, wrote }) {
    const { table, values } = step.step as unknown as { table: string; values: { id: string }[] };
    const reads = values.map(({ id }) => read(step, `values.${id}.to`));
    const index = (model.logic?.written ?? []).findIndex((one) => nameKey(one.name) === nameKey(table));
    const row = new Float64Array(reads.length);
    return kernel.emit((token) => {
      // Read in any case, so that what draws draws the same whether rows are kept or not.
      for (let i = 0; i < reads.length; i++) row[i] = reads[i](token);
      wrote(index, row, token);
      return next;
    });
  },
});
