import { randomUUID } from "node:crypto";
import { QueryTypes, type Transaction } from "sequelize";
import type { ReplicationResult, RunSettings } from "@busy-harbor/core";
import {
  type MeasureInfo,
  measureInfoSchema,
  type RunColumns,
  type RunSummary,
  runFailureSchema,
  runSummarySchema,
} from "@busy-harbor/core/contract";
import { notFound } from "../api/problems.ts";
import type { PreparedRun } from "../documents/prepared.ts";
import type { Database } from "./database.ts";
import type { RunRow } from "./models.ts";
import { pack, unpack } from "./packed.ts";
import { Statistics } from "./statistics.ts";

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

/** A finished replication as it is read back. */
interface Finished {
  readonly number: number;
  readonly values: Float64Array;
  /** Pairs of a measure's position and its error. */
  readonly errors: Float64Array | undefined;
}

/** Replications read from the disk at a time; others are served between. */
const PAGE = 200;
/** Statistics of so many runs are kept in memory. */
const MOST_STATISTICS = 8;

/** Runs and their replications in the database. */
export class RunStore {
  /** Why runs stand still that could go on, by their ids. */
  readonly held = new Map<string, string>();
  private readonly statisticsOf = new Map<string, Promise<Statistics>>();

  constructor(private readonly db: Database) {}

  async create(studyId: string, designId: string, run: PreparedRun): Promise<RunSummary> {
    const { runs } = this.db.models;
    const id = await this.db.write(async (transaction) => {
      const last = await runs.max<number, RunRow>("number", { where: { studyId }, transaction });
      const row = await runs.create(
        {
          id: randomUUID(),
          studyId,
          number: (Number.isFinite(last) ? last : 0) + 1,
          designId,
          ...run,
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
    const rows = await this.db.models.runs.findAll({
      where: { studyId },
      order: [["number", "DESC"]],
      attributes: { exclude: ["snapshot", "measures"] },
    });
    return Promise.all(rows.map((row) => this.toSummary(row)));
  }

  async summary(id: string): Promise<RunSummary> {
    return this.toSummary(await this.row(id, undefined, ["snapshot", "measures"]));
  }

  async measures(id: string): Promise<MeasureInfo[]> {
    return measureInfoSchema.array().parse(JSON.parse((await this.row(id, undefined, ["snapshot"])).measures));
  }

  /** Finished replications in rising order, a page at a time. */
  async *replications(runId: string): AsyncGenerator<readonly Finished[]> {
    for (let after = 0; ;) {
      const rows = await this.db.sequelize.query<{ number: number; packed: Buffer; errors: Buffer | null }>(
        "SELECT number, packed, errors FROM replications WHERE runId = :runId AND number > :after ORDER BY number LIMIT :page",
        { replacements: { runId, after, page: PAGE }, type: QueryTypes.SELECT },
      );
      if (rows.length === 0) return;
      yield rows.map(({ number, packed, errors }) => ({
        number,
        values: unpack(packed),
        errors: errors ? unpack(errors) : undefined,
      }));
      after = rows[rows.length - 1].number;
    }
  }

  /** Statistics of every measure over the finished replications. They are kept up to date while the run goes on. */
  statistics(runId: string): Promise<Statistics> {
    let found = this.statisticsOf.get(runId);
    if (!found) {
      found = this.readStatistics(runId);
      found.catch(() => this.statisticsOf.delete(runId));
      this.statisticsOf.set(runId, found);
      for (const key of this.statisticsOf.keys())
        if (this.statisticsOf.size > MOST_STATISTICS) this.statisticsOf.delete(key);
    }
    return found;
  }

  private async readStatistics(runId: string): Promise<Statistics> {
    const statistics = new Statistics();
    for await (const page of this.replications(runId))
      for (const { number, values, errors } of page) statistics.add(number, values, errors);
    return statistics;
  }

  /**
   * Values of a few measures, by their positions, of replications after a number, at most so many. Only those numbers
   * are read.
   */
  async columns(runId: string, measures: readonly number[], after: number, most: number): Promise<RunColumns> {
    const column = (m: number) => `substr(packed, ${8 * m + 1}, 8) AS c${m}`;
    const rows = await this.db.sequelize.query<Record<string, unknown> & { number: number; errors: Buffer | null }>(
      `SELECT number, errors${measures.map((m) => `, ${column(m)}`).join("")} FROM replications WHERE runId = :runId AND number > :after ORDER BY number LIMIT :most`,
      { replacements: { runId, after, most }, type: QueryTypes.SELECT },
    );
    const finite = (value: number | undefined) => (value !== undefined && Number.isFinite(value) ? value : null);
    const values = measures.map((m) =>
      rows.map((row) => finite(bytesOf(row[`c${m}`]).length === 8 ? bytesOf(row[`c${m}`]).readDoubleLE(0) : undefined)),
    );
    const errors = measures.map((m) =>
      rows.map((row) => {
        const pairs = row.errors ? unpack(row.errors) : [];
        for (let i = 0; i < pairs.length; i += 2) if (pairs[i] === m) return pairs[i + 1];
        return 0;
      }),
    );
    return {
      replications: rows.map((row) => row.number),
      values,
      errors: errors.map((column) => (column.some((e) => e > 0) ? column : null)),
    };
  }

  /** Runs that had not ended when the server last stopped, oldest first. */
  async unfinished(): Promise<string[]> {
    const rows = await this.db.models.runs.findAll({
      where: { state: ["queued", "running"] },
      order: [["createdAt", "ASC"]],
      attributes: ["id"],
    });
    return rows.map((row) => row.id);
  }

  async task(id: string): Promise<RunTask> {
    const row = await this.row(id, undefined, ["measures"]);
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
    await this.db.write(async (transaction) =>
      (await this.row(id, transaction, ["snapshot", "measures"])).update(
        { state, endedAt: ended ? new Date() : null, ...(failure ? { failure: JSON.stringify(failure) } : {}) },
        { transaction },
      ),
    );
    // While replications end in any order sums are added up in that order; when all are there, in theirs.
    if (ended) this.statisticsOf.delete(id);
  }

  async addReplication(
    runId: string,
    { replication: number, values, errors, events }: ReplicationResult,
  ): Promise<void> {
    const row = {
      runId,
      number,
      packed: pack(values.map((v) => (Number.isFinite(v) ? v : Number.NaN))),
      errors: errors ? pack(errors.flat()) : null,
      events,
    };
    await this.db.write((transaction) => this.db.models.replications.create(row, { transaction }));
    // It is kept: that figures of it cannot be read just now must not have it written again.
    const statistics = await this.statisticsOf.get(runId)?.catch(() => undefined);
    statistics?.add(number, values, errors?.flat());
  }

  private async row(id: string, transaction?: Transaction, exclude: string[] = []): Promise<RunRow> {
    const row = await this.db.models.runs.findByPk(id, { transaction, attributes: { exclude } });
    if (!row) throw notFound("run");
    return row;
  }

  private async toSummary(row: RunRow): Promise<RunSummary> {
    const {
      id,
      studyId,
      number,
      designId,
      designName,
      fingerprint: print,
      settings,
      state,
      failure,
      createdAt,
      endedAt,
    } = row;
    return runSummarySchema.parse({
      id,
      studyId,
      number,
      designId,
      designName,
      fingerprint: print,
      settings: JSON.parse(settings) as unknown,
      state,
      finished: await this.db.models.replications.count({ where: { runId: id } }),
      createdAt: createdAt.toISOString(),
      endedAt: endedAt?.toISOString() ?? null,
      failure: failure ? runFailureSchema.parse(JSON.parse(failure)) : null,
      held: this.held.get(id) ?? null,
    });
  }
}

/** What a blob's part comes as. */
const bytesOf = (value: unknown): Buffer => (Buffer.isBuffer(value) ? value : Buffer.alloc(0));
