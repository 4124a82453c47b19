import { createReadStream } from "node:fs";
import { access } from "node:fs/promises";
import type { RunSummary } from "@busy-harbor/core/contract";
import type { Response } from "express";
import { drained } from "./drained.ts";
import { notFound } from "./problems.ts";

/**
 * Sends files of the replications of a run that are over, one after another, as one: `what` is in them, and
 * `fileOf` tells where that of a replication is.
 */
export async function sendReplicationFiles(
  response: Response,
  run: RunSummary,
  what: string,
  fileOf: (replication: number) => string,
): Promise<void> {
  let begun = false;
  for (let replication = 1; replication <= run.settings.replications; replication++) {
    const path = fileOf(replication);
    const isThere = await access(path).then(
      () => true,
      () => false,
    );
    if (!isThere) continue;
    if (!begun) {
      response.attachment(`run-${run.number}, ${what}.csv`);
      response.type("text/csv; charset=utf-8");
    }
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
  if (!begun) throw notFound(`file of ${what}`);
  response.end();
}
