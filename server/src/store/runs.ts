import { randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import type { Design, MeasureInfo, ReplicationResult, RunSettings, Study } from "@busy-harbor/core";
import { fingerprint } from "@busy-harbor/core";
import { measureInfoSchema, type RunResults, type RunSummary, runFailureSchema, runSummarySchema } from "@busy-harbor/core/contract";
import { notFound } from "../api/problems.ts";
import type { Database } from "./database.ts";
import type { RunRow } from "./models.ts";

export type RunFailureOfReplication = NonNullable<RunSummary["failure"]>;

/** What the queue needs to carry on with a run. */
export interface RunTask {
  readonly id: string;
  readonly studyId: string;
  readonly designId: string;
  readonly snapshot: string;
  readonly seed: number;
  /** Replications, or the batches of a long run. */
  readonly replications: number;
  readonly long: boolean;
  readonly finished: ReadonlySet<number>;
}

/** Runs and their replications in the database. */
export class RunStore {
  constructor(private readonly db: Database) {}

  async create(studyId: string, study: Study, design: Design, settings: RunSettings, measures: readonly MeasureInfo[]): Promise<RunSummary> {
    const { runs } = this.db.models;
    const id = await this.db.write(async (transaction) => {
      const last = await runs.max<number, RunRow>("number", { where: { studyId }, transaction });
      const row = await runs.create(
        {
          id: randomUUID(),
          studyId,
          number: (Number.isFinite(last) ? last : 0) + 1,
          designId: design.id,
          designName: design.name,
          fingerprint: fingerprint(design, settings, study.calendars),
          settings: JSON.stringify(settings),
          snapshot: JSON.stringify({ ...study, run: settings, designs: [design] }),
          measures: JSON.stringify(measures),
          state: "queued",
          failure: null,
          endedAt: null,
        },
        { transaction },
      );
      return row.id;
    });
    return this.summary(id);
  }

  async list(studyId: string): Promise<RunSummary[]> {
    const rows = await this.db.models.runs.findAll({ where: { studyId }, order: [["number", "DESC"]], attributes: { exclude: ["snapshot", "measures"] } });
    return Promise.all(rows.map((row) => this.toSummary(row)));
  }

  async summary(id: string): Promise<RunSummary> {
    return this.toSummary(await this.row(id));
  }

  async results(id: string): Promise<RunResults> {
    const row = await this.row(id);
    const replications = await this.db.models.replications.findAll({ where: { runId: id }, order: [["number", "ASC"]] });
    const measures = measureInfoSchema.array().parse(JSON.parse(row.measures));
    const values = replications.map((r) => JSON.parse(r.values) as (number | null)[]);
    return {
      run: await this.toSummary(row),
      measures,
      replications: replications.map((r) => r.number),
      values: measures.map((_, m) => values.map((v) => v[m])),
    };
  }

  /** Runs that had not ended when the server last stopped, oldest first. */
  async unfinished(): Promise<string[]> {
    const rows = await this.db.models.runs.findAll({ where: { state: ["queued", "running"] }, order: [["createdAt", "ASC"]], attributes: ["id"] });
    return rows.map((row) => row.id);
  }

  async task(id: string): Promise<RunTask> {
    const row = await this.row(id);
    const settings = JSON.parse(row.settings) as RunSettings;
    const finished = await this.db.models.replications.findAll({ where: { runId: id }, attributes: ["number"] });
    return {
      id,
      studyId: row.studyId,
      designId: row.designId,
      snapshot: row.snapshot,
      seed: settings.seed,
      replications: settings.replications,
      long: settings.kind === "long",
      finished: new Set(finished.map((r) => r.number)),
    };
  }

  async setState(id: string, state: RunSummary["state"], failure?: RunFailureOfReplication): Promise<void> {
    const ended = state === "done" || state === "cancelled" || state === "failed";
    await this.db.write(async (transaction) => (await this.row(id, transaction)).update({ state, endedAt: ended ? new Date() : null, ...(failure ? { failure: JSON.stringify(failure) } : {}) }, { transaction }));
  }

  /** Keeps a finished replication. Numbers that JSON cannot hold (an undefined mean) are kept as null. */
  async addReplication(runId: string, result: ReplicationResult): Promise<void> {
    const row = {
      runId,
      number: result.replication,
      values: JSON.stringify(result.values.map((v) => (Number.isFinite(v) ? v : null))),
      events: result.events,
    };
    await this.db.write((transaction) => this.db.models.replications.create(row, { transaction }));
  }

  private async row(id: string, transaction?: Transaction): Promise<RunRow> {
    const row = await this.db.models.runs.findByPk(id, { transaction });
    if (!row) throw notFound("run");
    return row;
  }

  private async toSummary(row: RunRow): Promise<RunSummary> {
    const { id, studyId, number, designId, designName, fingerprint: print, settings, state, failure, createdAt, endedAt } = row;
    return runSummarySchema.parse({
      id, studyId, number, designId, designName,
      fingerprint: print,
      settings: JSON.parse(settings) as unknown,
      state,
      finished: await this.db.models.replications.count({ where: { runId: id } }),
      createdAt: createdAt.toISOString(),
      endedAt: endedAt?.toISOString() ?? null,
      failure: failure ? runFailureSchema.parse(JSON.parse(failure)) : null,
    });
  }
}
