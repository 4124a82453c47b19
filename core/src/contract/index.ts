import { z } from "zod";
import { changedRunSettingsSchema, runSettingsSchema, studySchema } from "../document/schema.ts";

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

export const storedStudySchema = z.object({ id: z.string(), revision: z.int(), updatedAt: z.string(), study: studySchema });

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
});

export const measureInfoSchema = z.object({
  key: z.string(),
  ownerId: z.string(),
  owner: z.string(),
  ownerKind: z.string(),
  id: z.string(),
  label: z.string(),
  dimension: z.tuple([z.number(), z.number(), z.number(), z.number()]),
});

export const runResultsSchema = z.object({
  run: runSummarySchema,
  measures: z.array(measureInfoSchema),
  /** Numbers of the finished replications, in rising order. */
  replications: z.array(z.int()),
  /** One row a measure, one value a replication; null where undefined. SI units. */
  values: z.array(z.array(z.number().nullable())),
});

export type ProblemDocument = z.infer<typeof problemDocumentSchema>;
export type StudySummary = z.infer<typeof studySummarySchema>;
export type StoredStudy = z.infer<typeof storedStudySchema>;
export type RunSummary = z.infer<typeof runSummarySchema>;
export type RunResults = z.infer<typeof runResultsSchema>;
export type NewRun = z.input<typeof newRunSchema>;
