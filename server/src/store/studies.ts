import { randomUUID } from "node:crypto";
import { Op, type Transaction } from "sequelize";
import { assignStreams, readStudy, type Study } from "@busy-harbor/core";
import type { StoredStudy, StudySummary } from "@busy-harbor/core/contract";
import { gone, HttpProblem, notFound } from "../api/problems.ts";
import type { Database } from "./database.ts";
import type { FileStore } from "./files.ts";
import type { StudyRow } from "./models.ts";

/** How many past revisions of a study are kept. */
const KEPT_REVISIONS = 50;

/** Studies and their designs in the database. */
export class StudyStore {
  constructor(
    private readonly db: Database,
    private readonly files: FileStore,
  ) {}

  async list(): Promise<StudySummary[]> {
    const { studies, designs, runs } = this.db.models;
    const rows = await studies.findAll({ where: { deletedAt: null }, order: [["updatedAt", "DESC"]] });
    return Promise.all(
      rows.map(async (row) => ({
        id: row.id,
        name: row.name,
        question: headerOf(row).question,
        designs: (await designs.findAll({ where: { studyId: row.id }, attributes: ["name"], order: [["position", "ASC"]] })).map((d) => d.name),
        revision: row.revision,
        updatedAt: row.updatedAt.toISOString(),
        runs: await runs.count({ where: { studyId: row.id } }),
      })),
    );
  }

  async create(given: Study, demo: string | null = null): Promise<StoredStudy> {
    const id = randomUUID();
    const study = await this.withoutFiles(given);
    await this.db.write(async (transaction) => {
      await this.db.models.studies.create({ id, name: study.name, header: header(study), revision: 1, demo, deletedAt: null }, { transaction });
      await this.writeDesigns(id, 1, study, transaction);
    });
    return this.get(id);
  }

  async get(id: string): Promise<StoredStudy> {
    const row = await this.row(id);
    return { id, revision: row.revision, updatedAt: row.updatedAt.toISOString(), study: await this.read(row) };
  }

  /** Replaces a study's document. A write made from an older revision is refused, and the present one handed out. */
  async save(id: string, revision: number, given: Study): Promise<{ revision: number; updatedAt: string }> {
    const study = assignStreams(await this.withoutFiles(given));
    return this.db.write(async (transaction) => {
      const row = await this.row(id, transaction);
      if (row.revision !== revision) {
        throw new HttpProblem(409, "stale-write", "The study was changed elsewhere since you opened it.", {
          detail: `Your copy is of revision ${revision}; the study is at revision ${row.revision}.`,
          current: { revision: row.revision, study: await this.read(row, transaction) },
        });
      }
      const next = revision + 1;
      await row.update({ name: study.name, header: header(study), revision: next }, { transaction });
      await this.writeDesigns(id, next, study, transaction);
      return { revision: next, updatedAt: row.updatedAt.toISOString() };
    });
  }

  /** Takes a study off the list; `restore` brings it back, runs and all. */
  async remove(id: string): Promise<void> {
    await this.db.write(async (transaction) => (await this.row(id, transaction)).update({ deletedAt: new Date() }, { silent: true, transaction }));
  }

  async restore(id: string): Promise<StoredStudy> {
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
    await this.db.write((transaction) => this.db.models.studies.update({ deletedAt: new Date() }, { where: { demo, deletedAt: null }, silent: true, transaction }));
  }

  /** Keeps the files that came with a study by themselves, so that saving need not write them again. */
  private async withoutFiles(study: Study): Promise<Study> {
    for (const [id, content] of Object.entries(study.files)) await this.files.put(id, Buffer.from(content, "base64"));
    return { ...study, files: {} };
  }

  private async row(id: string, transaction?: Transaction): Promise<StudyRow> {
    const row = await this.db.models.studies.findByPk(id, { transaction });
    if (!row) throw notFound("study");
    if (row.deletedAt) throw gone("study");
    return row;
  }

  private async read(row: StudyRow, transaction?: Transaction): Promise<Study> {
    const designs = await this.db.models.designs.findAll({ where: { studyId: row.id }, order: [["position", "ASC"]], transaction });
    const read = readStudy({ ...headerOf(row), designs: designs.map((d) => JSON.parse(d.body) as unknown) });
    if (!read.ok) throw new HttpProblem(500, "stored-study-unreadable", "The stored study cannot be read.", { problems: read.problems });
    return read.study;
  }

  private async writeDesigns(studyId: string, revision: number, study: Study, transaction: Transaction): Promise<void> {
    const { designs, revisions } = this.db.models;
    await designs.destroy({ where: { studyId }, transaction });
    await designs.bulkCreate(study.designs.map((design, position) => ({ studyId, id: design.id, position, name: design.name, body: JSON.stringify(design) })), { transaction });
    await revisions.create({ studyId, revision, document: JSON.stringify(study) }, { transaction });
    await revisions.destroy({ where: { studyId, revision: { [Op.lte]: revision - KEPT_REVISIONS } }, transaction });
  }
}

function header(study: Study): string {
  const { designs: _, ...rest } = study;
  return JSON.stringify(rest);
}

const headerOf = (row: StudyRow) => JSON.parse(row.header) as Omit<Study, "designs">;
