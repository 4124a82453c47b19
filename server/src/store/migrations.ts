import { DataTypes, type QueryInterface, QueryTypes } from "sequelize";
import { placeFigure } from "@busy-harbor/core";
import { hashOf } from "./hash.ts";
import { pack } from "./packed.ts";

const { TEXT, INTEGER, DATE } = DataTypes;
const required = (type: typeof TEXT | typeof INTEGER | typeof DATE) => ({ type, allowNull: false });
const optional = (type: typeof TEXT | typeof INTEGER | typeof DATE) => ({ type, allowNull: true });
const key = () => ({ type: TEXT, allowNull: false, primaryKey: true });
const of = (table: string) => ({
  type: TEXT,
  allowNull: false,
  references: { model: table, key: "id" },
  onDelete: "CASCADE",
});

/** Changes of the database's form, in order. A migration that has been released is never edited. */
export const migrations: ReadonlyArray<{
  readonly name: string;
  readonly up: (query: QueryInterface) => Promise<void>;
}> = [
  {
    name: "001-studies-designs-runs",
    async up(query) {
      await query.createTable("studies", {
        id: key(),
        name: required(TEXT),
        header: required(TEXT),
        revision: required(INTEGER),
        demo: optional(TEXT),
        createdAt: required(DATE),
        updatedAt: required(DATE),
        deletedAt: optional(DATE),
      });
      await query.createTable("designs", {
        studyId: { ...of("studies"), primaryKey: true },
        id: key(),
        position: required(INTEGER),
        name: required(TEXT),
        body: required(TEXT),
      });
      await query.createTable("revisions", {
        studyId: { ...of("studies"), primaryKey: true },
        revision: { ...required(INTEGER), primaryKey: true },
        document: required(TEXT),
        createdAt: required(DATE),
      });
      await query.createTable("runs", {
        id: key(),
        studyId: of("studies"),
        number: required(INTEGER),
        designId: required(TEXT),
        designName: required(TEXT),
        fingerprint: required(TEXT),
        settings: required(TEXT),
        snapshot: required(TEXT),
        measures: required(TEXT),
        state: required(TEXT),
        failure: optional(TEXT),
        createdAt: required(DATE),
        endedAt: optional(DATE),
      });
      await query.addIndex("runs", ["studyId", "number"], { unique: true });
      await query.createTable("replications", {
        runId: { ...of("runs"), primaryKey: true },
        number: { ...required(INTEGER), primaryKey: true },
        values: required(TEXT),
        events: required(INTEGER),
      });
    },
  },
  {
    name: "002-files",
    async up(query) {
      await query.createTable("files", {
        id: key(),
        bytes: { type: DataTypes.BLOB("long"), allowNull: false },
        createdAt: required(DATE),
      });
    },
  },
  {
    name: "003-packed-replications-and-differences",
    async up(query) {
      const { sequelize } = query;
      await query.addColumn("revisions", "isDifference", { type: INTEGER, allowNull: false, defaultValue: 0 });
      await query.addColumn("replications", "packed", { type: DataTypes.BLOB("long"), allowNull: true });
      await query.addColumn("replications", "errors", { type: DataTypes.BLOB("long"), allowNull: true });
      // Numbers that were kept as text keep their bits; what had no value is no number.
      for (let after = 0; ;) {
        const rows = await sequelize.query<{ rowid: number; text: string }>(
          'SELECT rowid, "values" AS text FROM replications WHERE rowid > :after ORDER BY rowid LIMIT 200',
          { replacements: { after }, type: QueryTypes.SELECT },
        );
        if (rows.length === 0) break;
        for (const { rowid, text } of rows) {
          const packed = pack((JSON.parse(text) as (number | null)[]).map((v) => v ?? Number.NaN));
          await sequelize.query("UPDATE replications SET packed = :packed, \"values\" = '' WHERE rowid = :rowid", {
            replacements: { packed, rowid },
          });
        }
        after = rows[rows.length - 1].rowid;
      }
    },
  },
  {
    name: "004-experiments-of-points",
    up: experimentsOfPoints,
  },
  {
    name: "005-names-of-runs",
    async up(query) {
      for (const column of ["name", "note"])
        await query.addColumn("points", column, { ...required(TEXT), defaultValue: "" });
    },
  },
  {
    name: "006-scenarios",
    async up(query) {
      for (const column of ["plan", "scenario"])
        await query.addColumn("points", column, { ...required(TEXT), defaultValue: "" });
      await query.addColumn("points", "deletedAt", optional(DATE));
      for (const column of ["selection", "search", "outcome"])
        await query.addColumn("experiments", column, optional(TEXT));
    },
  },
  {
    name: "007-repeated-runs",
    async up(query) {
      await query.addColumn("points", "repeats", { ...required(TEXT), defaultValue: "" });
    },
  },
];

/**
 * A run becomes an experiment of one point, by the same id; what ran is kept once by its hash; figures say of which
 * measure they are. All of it happens or nothing; numbers are copied as the bytes they are.
 */
async function experimentsOfPoints(query: QueryInterface): Promise<void> {
  const { sequelize } = query;
  const tables = await query.showAllTables();
  // Done, but the note of it was lost with the power.
  if (!tables.includes("runs")) return;
  await sequelize.query("BEGIN IMMEDIATE");
  try {
    await query.createTable("documents", { id: key(), text: required(TEXT), createdAt: required(DATE) });
    await query.createTable("experiments", {
      id: key(),
      studyId: of("studies"),
      number: required(INTEGER),
      createdAt: required(DATE),
    });
    await query.addIndex("experiments", ["studyId", "number"], { unique: true });
    await query.createTable("points", {
      id: key(),
      experimentId: of("experiments"),
      position: required(INTEGER),
      designId: required(TEXT),
      designName: required(TEXT),
      factors: required(TEXT),
      fingerprint: required(TEXT),
      settings: required(TEXT),
      documentId: { ...required(TEXT), references: { model: "documents", key: "id" } },
      measures: required(TEXT),
      state: required(TEXT),
      failure: optional(TEXT),
      endedAt: optional(DATE),
    });
    await query.addIndex("points", ["experimentId", "position"], { unique: true });
    await query.createTable("pointReplications", {
      pointId: { ...of("points"), primaryKey: true },
      number: { ...required(INTEGER), primaryKey: true },
      packed: { type: DataTypes.BLOB("long"), allowNull: false },
      errors: { type: DataTypes.BLOB("long"), allowNull: true },
      events: required(INTEGER),
    });
    await movePoints(sequelize);
    await sequelize.query(
      "INSERT INTO pointReplications (pointId, number, packed, errors, events) SELECT runId, number, packed, errors, events FROM replications",
    );
    await sequelize.query("DROP TABLE replications");
    await sequelize.query("DROP TABLE runs");
    await sequelize.query("ALTER TABLE pointReplications RENAME TO replications");
    await sequelize.query("COMMIT");
  } catch (error) {
    await sequelize.query("ROLLBACK");
    throw error;
  }
}

interface OldRun {
  readonly rowid: number;
  readonly id: string;
  readonly snapshot: string;
  readonly measures: string;
}
interface OldFigure {
  readonly ownerKind: string;
  readonly id: string;
}

async function movePoints(sequelize: QueryInterface["sequelize"]): Promise<void> {
  for (let after = 0; ;) {
    const [run] = await sequelize.query<OldRun>(
      "SELECT rowid, id, snapshot, measures FROM runs WHERE rowid > :after ORDER BY rowid LIMIT 1",
      { replacements: { after }, type: QueryTypes.SELECT },
    );
    if (!run) return;
    const { id, snapshot } = run;
    const documentId = hashOf(snapshot);
    const measures = JSON.stringify(
      (JSON.parse(run.measures) as OldFigure[]).map((figure) => ({
        ...figure,
        ...placeFigure(figure.ownerKind, figure.id),
      })),
    );
    const replacements = { id, documentId, snapshot, measures };
    await sequelize.query(
      "INSERT OR IGNORE INTO documents (id, text, createdAt) SELECT :documentId, snapshot, createdAt FROM runs WHERE id = :id",
      { replacements },
    );
    await sequelize.query(
      "INSERT INTO experiments (id, studyId, number, createdAt) SELECT id, studyId, number, createdAt FROM runs WHERE id = :id",
      { replacements },
    );
    await sequelize.query(
      `INSERT INTO points (id, experimentId, position, designId, designName, factors, fingerprint, settings, documentId, measures, state, failure, endedAt)
       SELECT id, id, 0, designId, designName, '{}', fingerprint, settings, :documentId, :measures, state, failure, endedAt FROM runs WHERE id = :id`,
      { replacements },
    );
    after = run.rowid;
  }
}
