import { createReadStream } from "node:fs";
import { access } from "node:fs/promises";
import type { RunSummary } from "@busy-harbor/core/contract";
import type { Response } from "express";
import { observationsFile } from "../runs/observationsFile.ts";
import { drained } from "./drained.ts";
import { notFound } from "./problems.ts";

/** Sends what was observed in the replications of a run that are over, one after another, as one file. */
export async function sendObservations(response: Response, run: RunSummary, folder: string): Promise<void> {
  let begun = false;
  for (let replication = 1; replication <= run.settings.replications; replication++) {
    const path = observationsFile(folder, replication);
    const isThere = await access(path).then(
      () => true,
      () => false,
    );
    if (!isThere) continue;
    if (!begun)
      response.set({
        "content-type": "text/csv; charset=utf-8",
        "content-disposition": `attachment; filename="run-${run.number}, observations.csv"`,
      });
    // Each begins with the names of the columns, which are wanted once.
    let skips = begun;
    begun = true;
    for await (const chunk of createReadStream(path) as AsyncIterable<Buffer>) {
      const end = skips ? chunk.indexOf("\n") : -1;
      const rest = skips ? (end < 0 ? undefined : chunk.subarray(end + 1)) : chunk;
      if (end >= 0) skips = false;
      if (rest && !response.write(rest)) await drained(response);
      if (response.destroyed) return;
    }
  }
  if (!begun) throw notFound("file of observations");
  response.end();
}
