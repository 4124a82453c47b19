import { DataTypes, type QueryInterface, QueryTypes } from "sequelize";
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
];
