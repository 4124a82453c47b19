import { randomUUID } from "node:crypto";
import { Op, QueryTypes, type Transaction } from "sequelize";
import type { RunSettings } from "@busy-harbor/core";
import { searchStep, type SearchStep, selectionStep, type Tried } from "@busy-harbor/core/inference";
import { type KeptSearch, keptSearchSchema, searchStateOf } from "../runs/keptSearch.ts";
import { readPrecision, type RunPrecision, searchKeys, triedOf } from "@busy-harbor/core/experiments";
import {
  type ChangedRun,
  type Experiment,
  type MeasureInfo,
  measureInfoSchema,
  MOST_ROWS,
  type Responses,
  type RunColumns,
  type RunSummary,
  type Selection,
  selectionSchema,
  type SelectionState,
  selectionStateSchema,
  type SearchState,
  searchStateSchema,
  runFailureSchema,
  RunStatistics,
  type SameBits,
  runSummarySchema,
} from "@busy-harbor/core/contract";
import { HttpProblem, notFound } from "../api/problems.ts";
import type { PackedResult } from "../runs/job.ts";
import type { PreparedRun, PreparedScenario, PreparedSearch } from "../documents/prepared.ts";
import type { Database } from "./database.ts";
import type { ExperimentRow, PointRow } from "./models.ts";
import { pack, unpack } from "./packed.ts";

export type RunFailureOfReplication = NonNullable<RunSummary["failure"]>;

/** What the queue needs to carry on with a run. */
export interface RunTask {
  readonly id: string;
  readonly experimentId: string;
  readonly studyId: string;
  readonly designId: string;
  readonly documentId: string;
  readonly seed: number;
  /** Replications, or the batches of a long run. */
  readonly replications: number;
  readonly long: boolean;
  /** Each entity that leaves is written to a file. */
  readonly observes: boolean;
  readonly finished: ReadonlySet<number>;
  /** It goes on until half-widths are small enough. */
  readonly precision: RunPrecision | undefined;
}

/** A point of a new experiment. */
export interface NewPoint {
  readonly designId: string;
  readonly factors: Readonly<Record<string, string | number>>;
  readonly run: PreparedRun;
  /** The scenario of the study's experiment that it is. */
  readonly of?: { readonly plan: string; readonly scenario: string; readonly name: string };
}

/** A replication as it was just kept. */
export interface KeptReplication {
  readonly number: number;
  readonly packed: Buffer;
  readonly errors: readonly number[] | null;
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
/** RunStatistics of so many runs are kept in memory. */
const MOST_STATISTICS = 8;
/** Texts of so many points are. */
const MOST_TEXTS = 4;

/** Experiments, their points and replications in the database. What a person calls a run is a point. */
export class RunStore {
  /** Why runs stand still that could go on, by their ids. */
  readonly held = new Map<string, string>();
  private places: { readonly measures: string; readonly of: ReadonlyMap<string, number> } | undefined;
  private readonly texts = new Map<string, string>();
  private readonly statisticsOf = new Map<string, Promise<RunStatistics>>();

  constructor(private readonly db: Database) {}

  /** Makes an experiment of points, which wait to be run. Texts that ran before are not kept again. */
  async create(studyId: string, points: readonly NewPoint[], selection?: Selection): Promise<RunSummary[]> {
    const { documents, experiments, points: rows } = this.db.models;
    const experimentId = randomUUID();
    const ids = points.map((_, position) => (position === 0 ? experimentId : `${experimentId}-${position}`));
    await this.db.write(async (transaction) => {
      const last = await experiments.max<number, ExperimentRow>("number", { where: { studyId }, transaction });
      const number = (Number.isFinite(last) ? last : 0) + 1;
      const how = selection ? JSON.stringify(selection) : null;
      await experiments.create({ id: experimentId, studyId, number, selection: how }, { transaction });
      for (const [position, { designId, factors, run, of }] of points.entries()) {
        const { snapshot, designName, fingerprint, settings, documentId, measures } = run;
        if ((await documents.count({ where: { id: documentId }, transaction })) === 0)
          await documents.create({ id: documentId, text: snapshot }, { transaction });
        await rows.create(
          {
            id: ids[position],
            experimentId,
            position,
            designId,
            factors: JSON.stringify(factors),
            designName,
            fingerprint,
            settings,
            documentId,
            measures,
            ...of,
            state: "queued",
            failure: null,
            endedAt: null,
          },
          { transaction },
        );
      }
    });
    return Promise.all(ids.map((id) => this.summary(id)));
  }

  /** Makes a run anew of all that made another: the same document, settings and seed. */
  async repeat(id: string): Promise<RunSummary> {
    const { experiments, points } = this.db.models;
    const old = await this.row(id);
    const experiment = await experiments.findByPk(old.experimentId);
    if (!experiment) throw notFound("run");
    const { studyId } = experiment;
    const again = randomUUID();
    await this.db.write(async (transaction) => {
      const last = await experiments.max<number, ExperimentRow>("number", { where: { studyId }, transaction });
      await experiments.create({ id: again, studyId, number: last + 1 }, { transaction });
      const { designId, designName, factors, fingerprint, settings, documentId, measures } = old;
      const same = { designId, designName, factors, fingerprint, settings, documentId, measures };
      const state = { state: "queued", failure: null, endedAt: null };
      await points.create(
        { ...same, ...state, id: again, experimentId: again, position: 0, repeats: id },
        { transaction },
      );
    });
    return this.summary(again);
  }

  /** How the numbers of two runs compare, to the last bit. */
  async sameBits(a: string, b: string): Promise<SameBits> {
    const [found] = await this.db.sequelize.query<SameBits>(
      `SELECT COUNT(*) AS compared, COALESCE(SUM(one.packed <> other.packed OR one.errors IS NOT other.errors), 0) AS differing
       FROM replications one JOIN replications other ON other.number = one.number
       WHERE one.pointId = :a AND other.pointId = :b`,
      { replacements: { a, b }, type: QueryTypes.SELECT },
    );
    return found;
  }

  /** The study file that a run was made with, its one design in it. */
  async studyText(id: string): Promise<string> {
    return this.text((await this.row(id, undefined, ["measures", "settings", "factors"])).documentId);
  }

  async experiment(id: string): Promise<Experiment> {
    const row = await this.db.models.experiments.findByPk(id);
    if (!row) throw notFound("experiment");
    // Points that were taken away too: positions are counted over all.
    const points = await this.summaries([row], true);
    const { studyId, number, createdAt } = row;
    const selection = row.selection ? selectionSchema.parse(JSON.parse(row.selection)) : null;
    const kept = row.search ? keptSearchSchema.parse(JSON.parse(row.search)) : undefined;
    const selectionState =
      row.outcome && !kept
        ? selectionStateSchema.parse(JSON.parse(row.outcome))
        : selection && (await this.selectionState(selection, points));
    const searchState = !kept
      ? null
      : row.outcome
        ? searchStateSchema.parse(JSON.parse(row.outcome))
        : searchStateOf(kept, await this.searchStep(kept, points));
    // Told last, so that a state is never ahead of its points.
    const told = kept || selection ? await this.summaries([row], true) : points;
    const head = { id, studyId, number, createdAt: createdAt.toISOString(), state: stateOf(told) };
    return { ...head, points: told, selection, selectionState, searchState };
  }

  /** Begins a search: an experiment whose points are found as it goes on. The study that it keeps to is kept once. */
  async createSearch(studyId: string, plan: string, { text, ...search }: PreparedSearch): Promise<string> {
    const id = randomUUID();
    const { documents, experiments } = this.db.models;
    await this.db.write(async (transaction) => {
      if ((await documents.count({ where: { id: search.hash }, transaction })) === 0)
        await documents.create({ id: search.hash, text }, { transaction });
      const last = await experiments.max<number, ExperimentRow>("number", { where: { studyId }, transaction });
      const number = (Number.isFinite(last) ? last : 0) + 1;
      await experiments.create({ id, studyId, number, search: JSON.stringify({ plan, ...search }) }, { transaction });
    });
    return id;
  }

  /** A search that has not ended; undefined where there is none. */
  async openSearch(id: string): Promise<KeptSearch | undefined> {
    const row = await this.db.models.experiments.findByPk(id);
    return row?.search && !row.outcome ? keptSearchSchema.parse(JSON.parse(row.search)) : undefined;
  }

  /** A person stops a search, or has it go on. */
  async setStopped(id: string, stopped: boolean): Promise<void> {
    const kept = await this.openSearch(id);
    if (!kept) throw notFound("search under way");
    await this.db.write(async (transaction) => {
      const search = JSON.stringify({ ...kept, stopped });
      await this.db.models.experiments.update({ search }, { where: { id }, transaction });
    });
  }

  /** What a search wants next, by what has been kept of its points. */
  async searchStep({ search, measure, bounded }: KeptSearch, points: readonly RunSummary[]): Promise<SearchStep> {
    const history: Tried[] = [];
    for (const { id } of points) {
      const { replications, values } = await this.responses(id, searchKeys(measure, bounded, search));
      const whole = (column: readonly (number | null)[] | null | undefined): number[] =>
        (column ?? []).filter((_, i) => replications[i] === i + 1).map((v) => v ?? Number.NaN);
      history.push(triedOf(values.map(whole), bounded !== null, search));
    }
    return searchStep(history, search.settings);
  }

  /** Adds points to an experiment, behind those there are. */
  async addPoints(experimentId: string, plan: string, points: readonly PreparedScenario[]): Promise<string[]> {
    const { documents, points: rows } = this.db.models;
    return this.db.write(async (transaction) => {
      const there = await rows.count({ where: { experimentId }, transaction });
      const ids: string[] = [];
      for (const [i, { snapshot, factors, name, documentId, ...prepared }] of points.entries()) {
        if ((await documents.count({ where: { id: documentId }, transaction })) === 0)
          await documents.create({ id: documentId, text: snapshot }, { transaction });
        const position = there + i;
        const id = `${experimentId}-${position}`;
        const state = { state: "queued", failure: null, endedAt: null };
        await rows.create(
          {
            ...prepared,
            ...state,
            id,
            experimentId,
            position,
            documentId,
            name,
            plan,
            factors: JSON.stringify(factors),
          },
          { transaction },
        );
        ids.push(id);
      }
      return ids;
    });
  }

  async openSearches(): Promise<string[]> {
    const rows = await this.db.sequelize.query<{ id: string }>(
      "SELECT id FROM experiments WHERE search IS NOT NULL AND outcome IS NULL",
      { type: QueryTypes.SELECT },
    );
    return rows.map(({ id }) => id);
  }

  /** How a selection stands by what has been kept of its points. */
  async selectionState(selection: Selection, points: readonly RunSummary[]): Promise<SelectionState> {
    const values: number[][] = [];
    for (const { id, name } of points) {
      const { replications, values: columns } = await this.responses(id, [selection.measure]);
      // Up to the first that is missing: what a stage wants counts from the first on.
      const whole = (columns[0] ?? []).filter((_, i) => replications[i] === i + 1);
      if (whole.some((v) => v === null)) {
        const problem = `In a replication of ${name} the measure has no value, so the best cannot be selected by it.`;
        return { wanted: [], inPlay: points.map(() => true), selected: null, holds: false, problem };
      }
      values.push(whole as number[]);
    }
    const { wanted, inPlay, selected = null, holds } = selectionStep(values, selection);
    return { wanted: [...wanted], inPlay: [...inPlay], selected, holds };
  }

  /** Keeps how a selection ended. */
  async setOutcome(id: string, outcome: SelectionState | SearchState): Promise<void> {
    await this.db.write(async (transaction) => {
      await this.db.models.experiments.update({ outcome: JSON.stringify(outcome) }, { where: { id }, transaction });
    });
  }

  /** Whether the best of an experiment's points is being selected. */
  async isSelecting(id: string): Promise<boolean> {
    const row = await this.db.models.experiments.findByPk(id, { attributes: ["selection", "outcome"] });
    return Boolean(row?.selection) && !row?.outcome;
  }

  /** Selections that have not ended. */
  async openSelections(): Promise<string[]> {
    const rows = await this.db.sequelize.query<{ id: string }>(
      "SELECT id FROM experiments WHERE selection IS NOT NULL AND outcome IS NULL",
      { type: QueryTypes.SELECT },
    );
    return rows.map(({ id }) => id);
  }

  async list(studyId: string): Promise<RunSummary[]> {
    return this.summaries(
      await this.db.models.experiments.findAll({ where: { studyId }, order: [["number", "DESC"]] }),
    );
  }

  async summary(id: string): Promise<RunSummary> {
    const asOf = now();
    const point = await this.row(id, undefined, ["measures"]);
    const experiment = await this.db.models.experiments.findByPk(point.experimentId);
    if (!experiment) throw notFound("run");
    const finished = await this.db.models.replications.count({ where: { pointId: id } });
    return this.toSummary(point, experiment, finished, asOf);
  }

  /** Summaries of the points of experiments, without their measures, texts or numbers. */
  private async summaries(experiments: readonly ExperimentRow[], withDeleted = false): Promise<RunSummary[]> {
    const asOf = now();
    const { points, replications } = this.db.models;
    const byId = new Map(experiments.map((row) => [row.id, row]));
    const rows = await points.findAll({
      where: { experimentId: [...byId.keys()], ...(withDeleted ? {} : { deletedAt: null }) },
      order: [["position", "ASC"]],
      attributes: { exclude: ["measures"] },
    });
    const finished = await replications.count({ where: { pointId: rows.map(({ id }) => id) }, group: ["pointId"] });
    const counts = new Map(finished.map(({ pointId, count }) => [String(pointId), count]));
    return rows
      .map((row) => this.toSummary(row, byId.get(row.experimentId)!, counts.get(row.id) ?? 0, asOf))
      .sort((a, b) => b.number - a.number || a.point - b.point);
  }

  /** What is measured in a run, as it was written down. */
  async measuresText(id: string): Promise<string> {
    return (await this.row(id, undefined, ["settings", "factors"])).measures;
  }

  async measures(id: string): Promise<MeasureInfo[]> {
    return measureInfoSchema.array().parse(JSON.parse((await this.row(id)).measures));
  }

  /** Finished replications in rising order, a page at a time. */
  async *replications(runId: string): AsyncGenerator<readonly Finished[]> {
    for (let after = 0; ;) {
      const rows = await this.db.sequelize.query<{ number: number; packed: Buffer; errors: Buffer | null }>(
        "SELECT number, packed, errors FROM replications WHERE pointId = :runId AND number > :after ORDER BY number LIMIT :page",
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

  /** RunStatistics of every measure over the finished replications. They are kept up to date while the run goes on. */
  statistics(runId: string): Promise<RunStatistics> {
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

  private async readStatistics(runId: string): Promise<RunStatistics> {
    const statistics = new RunStatistics();
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
      `SELECT number, errors${measures.map((m) => `, ${column(m)}`).join("")} FROM replications WHERE pointId = :runId AND number > :after ORDER BY number LIMIT :most`,
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

  /** Points that had not ended when the server last stopped, oldest first. */
  async unfinished(): Promise<string[]> {
    const rows = await this.db.sequelize.query<{ id: string }>(
      `SELECT points.id AS id FROM points JOIN experiments ON experiments.id = points.experimentId
       WHERE points.state IN ('queued', 'running') AND points.deletedAt IS NULL ORDER BY experiments.createdAt, experiments.number, points.position`,
      { type: QueryTypes.SELECT },
    );
    return rows.map((row) => row.id);
  }

  /** The text of a study file that runs. Those of the last few are kept at hand: their replications come by turns. */
  async text(documentId: string): Promise<string> {
    let text = this.texts.get(documentId);
    if (text === undefined) {
      text = (await this.db.models.documents.findByPk(documentId))?.text;
      if (text === undefined) throw notFound("document");
      for (const old of this.texts.keys()) if (this.texts.size >= MOST_TEXTS) this.texts.delete(old);
      this.texts.set(documentId, text);
    }
    return text;
  }

  async task(id: string): Promise<RunTask> {
    const row = await this.row(id, undefined, ["measures"]);
    const [experiment, finished] = await Promise.all([
      this.db.models.experiments.findByPk(row.experimentId),
      this.db.models.replications.findAll({ where: { pointId: id }, attributes: ["number"] }),
    ]);
    if (!experiment) throw notFound("run");
    const settings = JSON.parse(row.settings) as RunSettings;
    const precision = settings.precision ? readPrecision(settings, await this.measures(id)).precision : undefined;
    return {
      id,
      precision,
      experimentId: row.experimentId,
      studyId: experiment.studyId,
      designId: row.designId,
      documentId: row.documentId,
      seed: settings.seed,
      replications: settings.replications,
      long: settings.kind === "long",
      observes: settings.observations ?? false,
      finished: new Set(finished.map((r) => r.number)),
    };
  }

  async setState(id: string, state: RunSummary["state"], failure?: RunFailureOfReplication): Promise<void> {
    const ended = state === "done" || state === "cancelled" || state === "failed";
    await this.db.write(async (transaction) =>
      (await this.row(id, transaction, ["measures"])).update(
        { state, endedAt: ended ? new Date() : null, ...(failure ? { failure: JSON.stringify(failure) } : {}) },
        { transaction },
      ),
    );
    // While replications end in any order sums are added up in that order; when all are there, in theirs.
    if (ended) this.statisticsOf.delete(id);
  }

  /** About how many replications a run takes that goes on until a precision is reached. */
  async setExpected(id: string, replications: number): Promise<void> {
    await this.db.write(async (transaction) => {
      const row = await this.row(id, transaction, ["measures"]);
      const settings = JSON.stringify({ ...(JSON.parse(row.settings) as RunSettings), replications });
      await row.update({ settings }, { transaction });
    });
  }

  /** Takes away what was run beyond the replications that count. */
  async trim(pointId: string, replications: number): Promise<void> {
    await this.db.write((transaction) =>
      this.db.models.replications.destroy({ where: { pointId, number: { [Op.gt]: replications } }, transaction }),
    );
    this.statisticsOf.delete(pointId);
  }

  /** Gives a run a name, or a note beside it. */
  async describe(id: string, changes: ChangedRun): Promise<RunSummary> {
    await this.db.write(async (transaction) =>
      (await this.row(id, transaction, ["measures"])).update(changes, { transaction }),
    );
    return this.summary(id);
  }

  /** Takes a run away, or brings it back; its numbers stay. */
  async setDeleted(id: string, deleted: boolean): Promise<RunSummary> {
    await this.db.write(async (transaction) =>
      (await this.row(id, transaction, ["measures"])).update(
        { deletedAt: deleted ? new Date() : null },
        { transaction },
      ),
    );
    return this.summary(id);
  }

  /** Has a run that is over wait to be gone on with, with more replications if asked. */
  async goOn(id: string, replications: number | undefined): Promise<void> {
    await this.db.write(async (transaction) => {
      const row = await this.row(id, transaction, ["measures"]);
      const settings = JSON.parse(row.settings) as RunSettings;
      const refuse = (detail: string) => new HttpProblem(409, "cannot-go-on", "The run cannot go on.", { detail });
      if (row.state === "queued" || row.state === "running") throw refuse("It is under way.");
      if (settings.precision && row.state === "done" && replications !== undefined)
        throw refuse("It has reached the precision that it was run to.");
      if (row.state === "failed") throw refuse("A problem ended it: run the design again once that is mended.");
      const wanted = replications ?? settings.replications;
      if (wanted < settings.replications) throw refuse(`It has ${settings.replications} replications already.`);
      if (settings.kind === "long" && wanted !== settings.replications)
        throw refuse("The batches of one long run are parts of a whole: run it again with more.");
      const longer = { ...settings, replications: wanted };
      await row.update({ settings: JSON.stringify(longer), state: "queued", endedAt: null }, { transaction });
    });
  }

  /** Measures of a run by their keys: a column each over its replications. */
  async responses(id: string, keys: readonly string[]): Promise<Responses[number]> {
    const row = await this.row(id, undefined, ["settings", "factors"]);
    const places = this.placesOf(row.measures);
    const known = keys.flatMap((key) => places.get(key) ?? []);
    const replications: number[] = [];
    const columns: (number | null)[][] = known.map(() => []);
    for (let after = 0; ;) {
      const page = await this.columns(id, known, after, MOST_ROWS);
      replications.push(...page.replications);
      page.values.forEach((values, i) => columns[i].push(...values));
      if (page.replications.length < MOST_ROWS) break;
      after = page.replications[page.replications.length - 1];
    }
    let next = 0;
    return { run: id, replications, values: keys.map((key) => (places.has(key) ? columns[next++] : null)) };
  }

  /** Where in a row of numbers each measure stands. Scenarios of one experiment mostly measure the same. */
  private placesOf(measures: string): ReadonlyMap<string, number> {
    if (this.places?.measures !== measures) {
      const of = measureInfoSchema.array().parse(JSON.parse(measures));
      this.places = { measures, of: new Map(of.map(({ key }, i) => [key, i])) };
    }
    return this.places.of;
  }

  /** Keeps replications in one go; returns their numbers as they are kept. */
  async addReplications(pointId: string, results: readonly PackedResult[]): Promise<KeptReplication[]> {
    const rows = results.map(({ replication: number, values, errors, events }) => {
      const pairs = errors?.flat() ?? null;
      return { number, values, packed: pack(values), pairs, events };
    });
    await this.db.write((transaction) =>
      this.db.sequelize.query(
        `INSERT INTO replications (pointId, number, packed, errors, events) VALUES ${rows.map((_, i) => `(${[1, 2, 3, 4, 5].map((k) => `$${5 * i + k}`).join(", ")})`).join(", ")}`,
        {
          // As values of their own: bytes in the text of a statement would be too long for it.
          bind: rows.flatMap(({ number, packed, pairs, events }) => [
            pointId,
            number,
            packed,
            pairs ? pack(pairs) : null,
            events,
          ]),
          type: QueryTypes.INSERT,
          transaction,
        },
      ),
    );
    // They are kept: that figures of them cannot be read just now must not have them written again.
    const statistics = await this.statisticsOf.get(pointId)?.catch(() => undefined);
    for (const { number, values, pairs } of rows) statistics?.add(number, values, pairs ?? undefined);
    return rows.map(({ number, packed, pairs }) => ({ number, packed, errors: pairs }));
  }

  private async row(id: string, transaction?: Transaction, exclude: string[] = []): Promise<PointRow> {
    const row = await this.db.models.points.findByPk(id, { transaction, attributes: { exclude } });
    if (!row) throw notFound("run");
    return row;
  }

  private toSummary(
    point: PointRow,
    { studyId, number, createdAt }: ExperimentRow,
    finished: number,
    asOf: number,
  ): RunSummary {
    const { id, experimentId, position, designId, designName, factors, settings, state, failure, endedAt } = point;
    return runSummarySchema.parse({
      id,
      experimentId,
      point: position,
      factors: JSON.parse(factors) as unknown,
      studyId,
      number,
      designId,
      designName,
      fingerprint: point.fingerprint,
      settings: JSON.parse(settings) as unknown,
      state,
      finished,
      createdAt: createdAt.toISOString(),
      endedAt: endedAt?.toISOString() ?? null,
      failure: failure ? runFailureSchema.parse(JSON.parse(failure)) : null,
      held: this.held.get(id) ?? null,
      name: point.name,
      note: point.note,
      plan: point.plan,
      scenario: point.scenario,
      repeats: point.repeats,
      deleted: point.deletedAt !== null,
      asOf,
    });
  }
}

/** The state of an experiment from those of its points: what is still to do goes before how it ended. */
function stateOf(points: readonly RunSummary[]): Experiment["state"] {
  const states = points.map(({ state }) => state);
  const order: Experiment["state"][] = ["running", "queued", "failed", "cancelled", "done"];
  if (states.includes("queued") && states.some((s) => s === "done")) return "running";
  return order.find((state) => states.includes(state)) ?? "done";
}

/** Milliseconds, never the same twice, and rising over starts of the server. */
let last = 0;
const now = (): number => (last = Math.max(last + 0.001, performance.timeOrigin + performance.now()));

/** What a blob's part comes as. */
const bytesOf = (value: unknown): Buffer => (Buffer.isBuffer(value) ? value : Buffer.alloc(0));
