import { randomUUID } from "node:crypto";
import { Op, type Transaction } from "sequelize";
import type { StudySummary } from "@busy-harbor/core/contract";
import { gone, HttpProblem, notFound } from "../api/problems.ts";
import type { Documents } from "../documents/documents.ts";
import { joined, type PreparedStudy } from "../documents/prepared.ts";
import type { Kept } from "../documentWorker.ts";
import type { Database } from "./database.ts";
import type { FileStore } from "./files.ts";
import type { StudyRow } from "./models.ts";
import { applied, type Difference, differenceOf } from "./revisions.ts";

/** How many past revisions of a study are kept, and how many letters of them. */
const KEPT_REVISIONS = 50;
const KEPT_LETTERS = 16 * 2 ** 20;

/** A study on its way out: its document is text already, and goes as it is. */
export interface StoredText {
  readonly id: string;
  readonly revision: number;
  readonly updatedAt: string;
  readonly text: string;
}

/** Studies and their designs in the database. */
export class StudyStore {
  /** The study last written or read, as it is now: it is mostly asked for again. */
  private last: { readonly id: string; readonly revision: number; readonly text: string } | undefined;

  constructor(
    private readonly db: Database,
    private readonly files: FileStore,
    private readonly documents: Documents,
  ) {}

  async list(): Promise<StudySummary[]> {
    const { studies, designs, experiments } = this.db.models;
    const rows = await studies.findAll({ where: { deletedAt: null }, order: [["updatedAt", "DESC"]] });
    return Promise.all(
      rows.map(async (row) => ({
        id: row.id,
        name: row.name,
        question: questionOf(row),
        designs: (
          await designs.findAll({ where: { studyId: row.id }, attributes: ["name"], order: [["position", "ASC"]] })
        ).map((d) => d.name),
        revision: row.revision,
        updatedAt: row.updatedAt.toISOString(),
        runs: await experiments.count({ where: { studyId: row.id } }),
      })),
    );
  }

  async create(study: PreparedStudy, demo: string | null = null): Promise<StoredText> {
    const id = randomUUID();
    await this.keepFiles(study);
    await this.db.write(async (transaction) => {
      await this.db.models.studies.create(
        { id, name: study.name, header: study.header, revision: 1, demo, deletedAt: null },
        { transaction },
      );
      await this.writeDesigns(id, study, transaction);
    });
    return this.get(id);
  }

  async get(id: string): Promise<StoredText> {
    const row = await this.row(id);
    return { id, revision: row.revision, updatedAt: row.updatedAt.toISOString(), text: await this.textOf(row) };
  }

  /** The parts of a study as they are kept. */
  async kept(id: string): Promise<Kept> {
    return this.partsOf(await this.row(id));
  }

  /** Replaces a study's document. A write made from an older revision is refused, and the present one handed out. */
  async save(id: string, revision: number, study: PreparedStudy): Promise<{ revision: number; updatedAt: string }> {
    await this.keepFiles(study);
    return this.db.write(async (transaction) => {
      const row = await this.row(id, transaction);
      if (row.revision !== revision) {
        throw new HttpProblem(409, "stale-write", "The study was changed elsewhere since you opened it.", {
          detail: `Your copy is of revision ${revision}; the study is at revision ${row.revision}.`,
          current: { revision: row.revision, text: await this.textOf(row, transaction) },
        });
      }
      const before = await this.partsOf(row, transaction);
      const next = revision + 1;
      await row.update({ name: study.name, header: study.header, revision: next }, { transaction });
      await this.writeDesigns(id, study, transaction);
      const text = joined(
        study.header,
        study.designs.map((d) => d.body),
      );
      await this.keepRevision(id, revision, differenceOf(joined(before.header, before.designs), text), transaction);
      this.last = { id, revision: next, text };
      return { revision: next, updatedAt: row.updatedAt.toISOString() };
    });
  }

  /** The document as it was at a revision that is still kept; undefined for one that is not. */
  async revision(id: string, revision: number): Promise<string | undefined> {
    const row = await this.row(id);
    const parts = await this.partsOf(row);
    let text = joined(parts.header, parts.designs);
    if (revision === row.revision) return text;
    const older = await this.db.models.revisions.findAll({
      where: { studyId: id, revision: { [Op.gte]: revision } },
      order: [["revision", "DESC"]],
    });
    for (const { document, isDifference } of older)
      text = isDifference ? applied(JSON.parse(document) as Difference, text) : document;
    return older.at(-1)?.revision === revision ? text : undefined;
  }

  /** Takes a study off the list; `restore` brings it back, runs and all. */
  async remove(id: string): Promise<void> {
    await this.db.write(async (transaction) =>
      (await this.row(id, transaction)).update({ deletedAt: new Date() }, { silent: true, transaction }),
    );
  }

  async restore(id: string): Promise<StoredText> {
    await this.db.write(async (transaction) => {
      const row = await this.db.models.studies.findByPk(id, { transaction });
      if (!row) throw notFound("study");
      await row.update({ deletedAt: null }, { silent: true, transaction });
    });
    return this.get(id);
  }

  /** Whether a demo study was ever made, deleted or not. */
  async hasDemo(demo: string): Promise<boolean> {
    return (await this.db.models.studies.count({ where: { demo } })) > 0;
  }

  /** Takes away the studies made from a demo file. */
  async removeDemo(demo: string): Promise<void> {
    await this.db.write((transaction) =>
      this.db.models.studies.update(
        { deletedAt: new Date() },
        { where: { demo, deletedAt: null }, silent: true, transaction },
      ),
    );
  }

  private async keepFiles({ files }: PreparedStudy): Promise<void> {
    for (const { id, bytes } of files) await this.files.put(id, Buffer.from(bytes));
  }

  private async row(id: string, transaction?: Transaction): Promise<StudyRow> {
    const row = await this.db.models.studies.findByPk(id, { transaction });
    if (!row) throw notFound("study");
    if (row.deletedAt) throw gone("study");
    return row;
  }

  private async partsOf(row: StudyRow, transaction?: Transaction): Promise<Kept> {
    const designs = await this.db.models.designs.findAll({
      where: { studyId: row.id },
      order: [["position", "ASC"]],
      transaction,
    });
    return { header: row.header, designs: designs.map((d) => d.body) };
  }

  private async textOf(row: StudyRow, transaction?: Transaction): Promise<string> {
    const { id, revision } = row;
    if (this.last?.id === id && this.last.revision === revision) return this.last.text;
    const text = await this.documents.textOf(await this.partsOf(row, transaction));
    this.last = { id, revision, text };
    return text;
  }

  /** Writes the designs that are new or not as they were, and takes out those that are gone. */
  private async writeDesigns(studyId: string, study: PreparedStudy, transaction: Transaction): Promise<void> {
    const { designs } = this.db.models;
    const kept = new Map((await designs.findAll({ where: { studyId }, transaction })).map((row) => [row.id, row]));
    for (const [position, { id, name, body }] of study.designs.entries()) {
      const row = kept.get(id);
      kept.delete(id);
      if (!row) await designs.create({ studyId, id, position, name, body }, { transaction });
      else if (row.body !== body || row.position !== position)
        await designs.update({ position, name, body }, { where: { studyId, id }, transaction });
    }
    if (kept.size > 0) await designs.destroy({ where: { studyId, id: [...kept.keys()] }, transaction });
  }

  /** Keeps how the study was before it was saved, and thins out what is old. */
  private async keepRevision(
    studyId: string,
    revision: number,
    difference: Difference,
    transaction: Transaction,
  ): Promise<void> {
    const { revisions } = this.db.models;
    await revisions.destroy({ where: { studyId, revision }, transaction });
    await revisions.create(
      { studyId, revision, document: JSON.stringify(difference), isDifference: 1 },
      { transaction },
    );
    const { sequelize } = this.db;
    const sizes = await revisions.findAll({
      where: { studyId },
      attributes: ["revision", [sequelize.fn("length", sequelize.col("document")), "document"]],
      order: [["revision", "DESC"]],
      transaction,
    });
    let letters = 0;
    const oldest = sizes.findIndex(
      (row, i) => i >= KEPT_REVISIONS || ((letters += Number(row.document)) > KEPT_LETTERS && i > 0),
    );
    if (oldest > 0)
      await revisions.destroy({ where: { studyId, revision: { [Op.lte]: sizes[oldest].revision } }, transaction });
  }
}

/** A header that is damaged hides no other study: opening it says what is wrong. */
function questionOf({ header }: StudyRow): string {
  try {
    const { question } = JSON.parse(header) as { question?: unknown };
    return typeof question === "string" ? question : "";
  } catch {
    return "";
  }
}
