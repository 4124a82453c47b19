import { join } from "node:path";
import { type Observe, observationTable, type Program } from "@busy-harbor/core";
import { CsvWriter } from "./csvWriter.ts";

/** The file of one replication's observations. */
export const observationsFile = (folder: string, replication: number): string => join(folder, `${replication}.csv`);

/** Writes what is observed in a replication while it runs: a row for each entity that leaves. */
export class ObservationsWriter {
  private readonly file: CsvWriter;
  private readonly rowOf: ReturnType<typeof observationTable>["row"];

  /** Throws what the file system says where the file cannot be made. */
  constructor(
    { model }: Program,
    folder: string,
    private readonly replication: number,
  ) {
    const { head, row } = observationTable(model);
    this.file = new CsvWriter(observationsFile(folder, replication), ["Replication", ...head]);
    this.rowOf = row;
  }

  readonly observe: Observe = (departed) => this.file.add([this.replication, ...this.rowOf(departed)]);

  end(isWhole: boolean): void {
    this.file.end(isWhole);
  }
}
