import { join } from "node:path";
import type {
  DistributionQuery,
  DistributionReading,
  KeptInRun,
  OverTimeQuery,
  OverTimeReading,
  RunSummary,
} from "@busy-harbor/core/contract";
import type { Series } from "@busy-harbor/core/kept";
import { Piscina } from "piscina";
import { notFound } from "../api/problems.ts";
import { keptIn, keptSeries } from "./keptFiles.ts";

/** Readings at hand: one looks from one to another and back. */
const MOST = 64;

/** Reads what was kept of chosen measures, on a thread of its own. */
export class KeptReadings {
  private readonly pool: Piscina;
  private readonly known = new Map<string, Promise<unknown>>();

  constructor(
    worker: URL,
    /** Where what is written of runs is, a folder each. */
    private readonly observations: string,
  ) {
    this.pool = new Piscina({ filename: worker.href, minThreads: 0, maxThreads: 1, idleTimeout: 60_000 });
  }

  /** What is kept of a run: of the replications that count. */
  async about({ id, settings }: RunSummary): Promise<KeptInRun> {
    const kept = await keptIn(this.folderOf(id));
    if (!kept) throw notFound("kept measure");
    // A run to a precision may have run some more.
    const replications = kept.replications.filter((r) => r <= settings.replications);
    return { ...kept, replications };
  }

  distribution(run: RunSummary, source: number, query: DistributionQuery): Promise<DistributionReading> {
    return this.read("readDistribution", run, source, query);
  }

  overTime(run: RunSummary, source: number, query: OverTimeQuery): Promise<OverTimeReading> {
    return this.read("readOverTime", run, source, query);
  }

  /** What was kept of a source in a replication. */
  series(run: string, source: number, isLevel: boolean, replication: number): Series {
    return keptSeries(this.folderOf(run), source, isLevel, replication);
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }

  private async read<T>(name: string, run: RunSummary, source: number, query: object): Promise<T> {
    const kept = await this.about(run);
    if (!(source in kept.sources)) throw notFound("kept measure");
    const key = JSON.stringify([name, run.id, source, query, kept.replications.length]);
    const known = this.known.get(key) as Promise<T> | undefined;
    if (known) return known;
    const reading = this.pool.run({ folder: this.folderOf(run.id), kept, source, query }, { name }) as Promise<T>;
    reading.catch(() => this.known.delete(key));
    this.known.set(key, reading);
    for (const old of this.known.keys()) if (this.known.size > MOST) this.known.delete(old);
    return reading;
  }

  private folderOf(run: string): string {
    return join(this.observations, run, "kept");
  }
}
