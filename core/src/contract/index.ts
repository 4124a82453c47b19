import { z } from "zod";
import { MOST_SCENARIOS } from "../document/experiment.ts";
import { SELECTION_METHODS } from "../inference/selection.ts";
import { changedRunSettingsSchema, runSettingsSchema } from "../document/runSettings.ts";
import { studySchema } from "../study/schema.ts";

/** Requests and replies of the server's API: one definition for checking on both sides and for the OpenAPI document. */

export const problemSchema = z.object({
  code: z.string(),
  severity: z.enum(["error", "warning"]),
  message: z.string(),
  hint: z.string().optional(),
  path: z.array(z.union([z.string(), z.number()])),
  designId: z.string().optional(),
  id: z.string().optional(),
  field: z.string().optional(),
  start: z.number().optional(),
  end: z.number().optional(),
  /** The scenario that has it. */
  scenario: z.string().optional(),
});

/** An error as a problem document (RFC 9457). */
export const problemDocumentSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string().optional(),
  problems: z.array(problemSchema).optional(),
  /** Given with a refused stale write: the study as it stands on the server. */
  current: z.object({ revision: z.int(), study: studySchema }).optional(),
});

export const studySummarySchema = z.object({
  id: z.string(),
  name: z.string(),
  question: z.string(),
  designs: z.array(z.string()),
  revision: z.int(),
  updatedAt: z.string(),
  runs: z.int(),
});

export const storedStudySchema = z.object({
  id: z.string(),
  revision: z.int(),
  updatedAt: z.string(),
  study: studySchema,
});

/** Opens a study on the server from a study file's content, which is read and checked there. */
export const newStudySchema = z.object({ study: z.unknown() });
export const saveStudySchema = z.object({ revision: z.int(), study: studySchema });
export const savedSchema = z.object({ revision: z.int(), updatedAt: z.string() });

export const RUN_STATES = ["queued", "running", "done", "cancelled", "failed"] as const;

export const newRunSchema = z.object({
  designId: z.string(),
  /** Settings that differ from the study's own. */
  settings: changedRunSettingsSchema.default({}),
});

export const runFailureSchema = z.object({
  code: z.string(),
  message: z.string(),
  hint: z.string().optional(),
  id: z.string().optional(),
  field: z.string().optional(),
  time: z.number(),
  value: z.number().nullish(),
  replication: z.int(),
});

/** Names of the tables that steps of a run write rows into, in their order. */
export const writtenTablesSchema = z.array(z.string());

export const runSummarySchema = z.object({
  id: z.string(),
  studyId: z.string(),
  number: z.int(),
  designId: z.string(),
  designName: z.string(),
  /** Fingerprint of the design, the plan aside, and of the settings that made the run. */
  fingerprint: z.string(),
  settings: runSettingsSchema,
  state: z.enum(RUN_STATES),
  finished: z.int(),
  createdAt: z.string(),
  endedAt: z.string().nullable(),
  failure: runFailureSchema.nullable(),
  /** Why it stands still, where it could go on, such as a full disk. */
  held: z.string().nullable().default(null),
  /** The experiment of which it is a point, which of them, counted from 0, and the factors it stands for. */
  experimentId: z.string(),
  point: z.int(),
  factors: z.record(z.string(), z.union([z.string(), z.number()])).default({}),
  /** Ids of the study's experiment and of the scenario that it ran; empty for a run of a design as it is. */
  plan: z.string().default(""),
  scenario: z.string().default(""),
  /** What a person calls it, and has written beside it. */
  name: z.string().default(""),
  note: z.string().default(""),
  /** Id of the run that it repeats; empty where it repeats none. */
  repeats: z.string().default(""),
  /** It was taken away, and can be brought back. */
  deleted: z.boolean().default(false),
  /** When it began to be read, in milliseconds: of two that come in any order, the later holds. */
  asOf: z.number().default(0),
});

/** How the numbers of two runs compare, replication by replication of those that both have. */
export const sameBitsSchema = z.object({
  compared: z.int(),
  /** Replications of which some number differs, in however little. */
  differing: z.int(),
});

/** What a person says of a run. */
export const changedRunSchema = z.strictObject({
  name: z.string().trim().max(120).optional(),
  note: z.string().max(4000).optional(),
});
export type ChangedRun = z.infer<typeof changedRunSchema>;

export const measureInfoSchema = z.object({
  key: z.string(),
  ownerId: z.string(),
  owner: z.string(),
  ownerKind: z.string(),
  id: z.string(),
  measure: z.string(),
  part: z.string().optional(),
  each: z.string().optional(),
  label: z.string(),
  dimension: z.tuple([z.number(), z.number(), z.number(), z.number()]),
});

/** All of a run, sent a page of replications at a time. */
export const runResultsSchema = z.object({
  run: runSummarySchema,
  measures: z.array(measureInfoSchema),
  /** The finished replications, in rising order. */
  replications: z.array(
    z.object({
      number: z.int(),
      /** One value a measure; null where undefined. SI units. */
      values: z.array(z.number().nullable()),
      /** Pairs of a measure's position and by how much its value may be off. */
      errors: z.array(z.tuple([z.int(), z.number()])).optional(),
    }),
  ),
});

/** Most measures, and most replications, of one request for columns. */
export const MOST_COLUMNS = 200;
export const MOST_ROWS = 2000;

const positions = z
  .string()
  .regex(/^\d{1,7}(,\d{1,7})*$/, "Positions of measures, separated by commas.")
  .transform((text) => text.split(",").map(Number));

/** Which columns are asked for: measures by their positions, replications after a number. */
export const columnsQuerySchema = z.object({
  measures: positions.refine((list) => list.length <= MOST_COLUMNS, `At most ${MOST_COLUMNS} measures.`),
  after: z.coerce.number().int().min(0).default(0),
  most: z.coerce.number().int().min(1).max(MOST_ROWS).default(MOST_ROWS),
});

export const runColumnsSchema = z.object({
  replications: z.array(z.int()),
  /** One row a measure asked for, one value a replication. */
  values: z.array(z.array(z.number().nullable())),
  /** By how much they may be off; null for measures all of whose values are exact. */
  errors: z.array(z.array(z.number()).nullable()),
});

/** An experiment: designs, or one with other settings, to be run as points of one thing. */
export const newExperimentSchema = z.object({
  points: z
    .array(
      newRunSchema.extend({
        /** Values of factors that this point stands for, as they are shown. */
        factors: z.record(z.string().max(80), z.union([z.string().max(400), z.number()])).default({}),
      }),
    )
    .min(1)
    .max(1000),
});

/** How the best of several scenarios is to be selected, by replications that are added where they are needed. */
export const selectionSchema = z.strictObject({
  method: z.enum(SELECTION_METHODS),
  measure: z.string().min(1).max(400).describe("Key of the measure."),
  better: z.enum(["more", "less"]),
  p: z.number().min(0.5).max(0.9999).describe("Chance with which the best is to be selected."),
  indifference: z.number().positive().describe("The smallest difference that matters, in SI units."),
  firstStage: z.int().min(5).max(1000).describe("Replications of each scenario before any is put out."),
  most: z.int().min(10).max(100_000).describe("Replications of a scenario at which it gives up."),
});

/** How a selection stands, by the points of its experiment. */
export const selectionStateSchema = z.object({
  wanted: z.array(z.int()),
  inPlay: z.array(z.boolean()),
  /** Position of the one selected; null until it is known. */
  selected: z.int().nullable(),
  /** Whether the promised chance holds. */
  holds: z.boolean(),
  /** Why it cannot go on. */
  problem: z.string().optional(),
});

/** Begins the search of an experiment that stands in the study. */
export const newSearchSchema = z.strictObject({ search: z.string().min(1).max(60).describe("Id of the experiment.") });

/** How a search stands; positions are those of its points. */
export const searchStateSchema = z.object({
  phase: z.enum(["looking", "selecting", "over"]),
  best: z.int().nullable(),
  path: z.array(z.int()),
  finalists: z.array(z.int()),
  holds: z.boolean(),
  budget: z.int(),
  measure: z.string(),
  bounded: z.string().nullable(),
  /** Keys of further measures, and whether the efficient places by all of them are looked for, or a weighted sum. */
  also: z.array(z.string()).default([]),
  isFront: z.boolean().default(false),
  /** A person has stopped it; it can go on. */
  stopped: z.boolean(),
  /** Why it cannot go on. */
  problem: z.string().optional(),
});

/** Runs scenarios of an experiment that stands in the study. */
export const plannedScenariosSchema = z.strictObject({
  plan: z.string().min(1).max(60),
  scenarios: z.array(z.string().min(1).max(60)).min(1).max(MOST_SCENARIOS),
  /** They are run to select the best of them. */
  selection: selectionSchema.optional(),
});

/** Goes on with a run that was stopped, or makes it longer. */
export const continuedRunSchema = z.strictObject({ replications: z.int().min(1).max(100_000).optional() });

/** Most runs, and most measures, of one request for responses. */
export const MOST_RESPONSES = { runs: MOST_SCENARIOS, measures: 200 } as const;

/** Measures of several runs, by their keys. */
export const responsesQuerySchema = z.strictObject({
  runs: z.array(z.string().max(100)).min(1).max(MOST_RESPONSES.runs),
  measures: z.array(z.string().max(400)).min(1).max(MOST_RESPONSES.measures),
});

export const responsesSchema = z.array(
  z.object({
    run: z.string(),
    replications: z.array(z.int()),
    /** By measure asked for: one value a replication; null where the run has no such measure. SI units. */
    values: z.array(z.array(z.number().nullable()).nullable()),
  }),
);

export const experimentSchema = z.object({
  id: z.string(),
  studyId: z.string(),
  number: z.int(),
  state: z.enum(RUN_STATES),
  createdAt: z.string(),
  points: z.array(runSummarySchema),
  selection: selectionSchema.nullable().default(null),
  /** How the selection stands, by what has been run; once it is over, how it ended. */
  selectionState: selectionStateSchema.nullable().default(null),
  /** Where its points are those of a search. */
  searchState: searchStateSchema.nullable().default(null),
});

const base64 = z.string().describe("64-bit numbers, little-endian, in base 64.");

/** The figures of a run as they are when somebody begins to follow it. */
export const wholeFiguresSchema = z.object({
  /** Replications that are counted in them. */
  replications: z.array(z.int()),
  /** Statistics of every measure. */
  statistics: base64,
});

/** What is new of a run's figures since the last that was told. */
export const newFiguresSchema = z.object({
  replications: z.array(z.int()),
  /** One value a measure, for one replication after another; NaN where undefined. */
  values: base64,
  /** For each replication, pairs of a measure's position and by how much its value may be off. */
  errors: z.array(z.array(z.number()).nullable()),
});

/** A file of a folder that the server may read. */
export const folderFileSchema = z.object({
  /** In the folder, parted by slashes. */
  path: z.string(),
  bytes: z.int(),
  changedAt: z.string(),
});
export const folderSchema = z.object({ name: z.string(), path: z.string(), files: folderFileSchema.array() });
export const fileQuerySchema = z.object({ folder: z.string().max(200), path: z.string().min(1).max(1000) });

export { RunStatistics, STATISTICS_OF_A_MEASURE } from "../statistics/runStatistics.ts";

export type ProblemDocument = z.infer<typeof problemDocumentSchema>;
export type StudySummary = z.infer<typeof studySummarySchema>;
export type StoredStudy = z.infer<typeof storedStudySchema>;
export type RunSummary = z.infer<typeof runSummarySchema>;
export type SameBits = z.infer<typeof sameBitsSchema>;
export type RunResults = z.infer<typeof runResultsSchema>;
export type RunColumns = z.infer<typeof runColumnsSchema>;
export type MeasureInfo = z.infer<typeof measureInfoSchema>;
export type NewRun = z.input<typeof newRunSchema>;
export type Responses = z.infer<typeof responsesSchema>;
export type Selection = z.infer<typeof selectionSchema>;
export type SearchState = z.infer<typeof searchStateSchema>;
export type SelectionState = z.infer<typeof selectionStateSchema>;
export type Experiment = z.infer<typeof experimentSchema>;
export type FolderFile = z.infer<typeof folderFileSchema>;
export type Folder = z.infer<typeof folderSchema>;
export type NewFigures = z.infer<typeof newFiguresSchema>;
export * from "./kept.ts";
