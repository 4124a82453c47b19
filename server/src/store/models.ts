import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type ModelStatic,
  type Sequelize,
} from "sequelize";

export interface StudyRow extends Model<InferAttributes<StudyRow>, InferCreationAttributes<StudyRow>> {
  id: string;
  name: string;
  /** The study without its designs, as JSON. */
  header: string;
  revision: number;
  /** Name of the demo study it was made from, if it was. */
  demo: string | null;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
  deletedAt: Date | null;
}

export interface DesignRow extends Model<InferAttributes<DesignRow>, InferCreationAttributes<DesignRow>> {
  studyId: string;
  id: string;
  position: number;
  name: string;
  body: string;
}

export interface RevisionRow extends Model<InferAttributes<RevisionRow>, InferCreationAttributes<RevisionRow>> {
  studyId: string;
  revision: number;
  /** The whole text, or what differs from the revision after it: see `Difference`. */
  document: string;
  isDifference: CreationOptional<number>;
  createdAt: CreationOptional<Date>;
}

/** A text of a study file that ran, kept once however often it did. */
export interface DocumentRow extends Model<InferAttributes<DocumentRow>, InferCreationAttributes<DocumentRow>> {
  /** SHA-256 of the text. */
  id: string;
  text: string;
  createdAt: CreationOptional<Date>;
}

export interface ExperimentRow extends Model<InferAttributes<ExperimentRow>, InferCreationAttributes<ExperimentRow>> {
  id: string;
  studyId: string;
  /** Counted from 1 in a study. */
  number: number;
  createdAt: CreationOptional<Date>;
  /** How the best of its points is selected, and how that ended, as JSON; missing where none is selected. */
  selection: CreationOptional<string | null>;
  /** The search whose points they are, as JSON: see `KeptSearch`. */
  search: CreationOptional<string | null>;
  outcome: CreationOptional<string | null>;
}

/** One point of an experiment: a design, as it was, with its settings. A run is an experiment of one point. */
export interface PointRow extends Model<InferAttributes<PointRow>, InferCreationAttributes<PointRow>> {
  id: string;
  experimentId: string;
  position: number;
  designId: string;
  designName: string;
  /** JSON. */
  factors: string;
  fingerprint: string;
  settings: string;
  /** The study file with the one design that runs, as it was. */
  documentId: string;
  measures: string;
  state: string;
  failure: string | null;
  endedAt: Date | null;
  /** What a person calls the run, and has written beside it. */
  name: CreationOptional<string>;
  note: CreationOptional<string>;
  /** Ids of the study's experiment and its scenario; empty for a run of a design as it is. */
  plan: CreationOptional<string>;
  scenario: CreationOptional<string>;
  /** Id of the run that it repeats; empty where it repeats none. */
  repeats: CreationOptional<string>;
  deletedAt: CreationOptional<Date | null>;
}

export interface ReplicationRow extends Model<
  InferAttributes<ReplicationRow>,
  InferCreationAttributes<ReplicationRow>
> {
  pointId: string;
  number: number;
  /** One 64-bit number a measure, NaN where undefined. */
  packed: Buffer;
  /** Pairs of a measure's position and by how much its value may be off; missing where all are exact. */
  errors: Buffer | null;
  events: number;
}

export interface FileRow extends Model<InferAttributes<FileRow>, InferCreationAttributes<FileRow>> {
  /** SHA-256 of the bytes. */
  id: string;
  bytes: Buffer;
  createdAt: CreationOptional<Date>;
}

export interface Models {
  readonly studies: ModelStatic<StudyRow>;
  readonly designs: ModelStatic<DesignRow>;
  readonly revisions: ModelStatic<RevisionRow>;
  readonly documents: ModelStatic<DocumentRow>;
  readonly experiments: ModelStatic<ExperimentRow>;
  readonly points: ModelStatic<PointRow>;
  readonly replications: ModelStatic<ReplicationRow>;
  readonly files: ModelStatic<FileRow>;
}

const { TEXT, INTEGER, DATE } = DataTypes;
// Each column needs a definition of its own: the library writes into them.
const text = () => ({ type: TEXT, allowNull: false });
const whole = () => ({ type: INTEGER, allowNull: false });
const date = () => ({ type: DATE, allowNull: false });
const key = () => ({ ...text(), primaryKey: true });

export function defineModels(sequelize: Sequelize): Models {
  return {
    studies: sequelize.define<StudyRow>(
      "studies",
      {
        id: key(),
        name: text(),
        header: text(),
        revision: whole(),
        demo: TEXT,
        createdAt: date(),
        updatedAt: date(),
        deletedAt: DATE,
      },
      { timestamps: true },
    ),
    designs: sequelize.define<DesignRow>(
      "designs",
      { studyId: key(), id: key(), position: whole(), name: text(), body: text() },
      { timestamps: false },
    ),
    revisions: sequelize.define<RevisionRow>(
      "revisions",
      {
        studyId: key(),
        revision: { ...whole(), primaryKey: true },
        document: text(),
        isDifference: { ...whole(), defaultValue: 0 },
        createdAt: date(),
      },
      { timestamps: true, updatedAt: false },
    ),
    documents: sequelize.define<DocumentRow>(
      "documents",
      { id: key(), text: text(), createdAt: date() },
      { timestamps: true, updatedAt: false },
    ),
    experiments: sequelize.define<ExperimentRow>(
      "experiments",
      { id: key(), studyId: text(), number: whole(), createdAt: date(), selection: TEXT, search: TEXT, outcome: TEXT },
      { timestamps: true, updatedAt: false },
    ),
    points: sequelize.define<PointRow>(
      "points",
      {
        id: key(),
        experimentId: text(),
        position: whole(),
        designId: text(),
        designName: text(),
        factors: text(),
        fingerprint: text(),
        settings: text(),
        documentId: text(),
        measures: text(),
        state: text(),
        failure: TEXT,
        endedAt: DATE,
        name: { ...text(), defaultValue: "" },
        note: { ...text(), defaultValue: "" },
        plan: { ...text(), defaultValue: "" },
        scenario: { ...text(), defaultValue: "" },
        repeats: { ...text(), defaultValue: "" },
        deletedAt: DATE,
      },
      { timestamps: false },
    ),
    replications: sequelize.define<ReplicationRow>(
      "replications",
      {
        pointId: key(),
        number: { ...whole(), primaryKey: true },
        packed: { type: DataTypes.BLOB("long"), allowNull: false },
        errors: { type: DataTypes.BLOB("long"), allowNull: true },
        events: whole(),
      },
      { timestamps: false },
    ),
    files: sequelize.define<FileRow>(
      "files",
      { id: key(), bytes: { type: DataTypes.BLOB("long"), allowNull: false }, createdAt: date() },
      { timestamps: true, updatedAt: false },
    ),
  };
}
