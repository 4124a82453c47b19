import {
  changedRunSchema,
  columnsQuerySchema,
  continuedRunSchema,
  distributionQuerySchema,
  distributionSchema,
  experimentSchema,
  folderSchema,
  keptInRunSchema,
  measureInfoSchema,
  newExperimentSchema,
  newSearchSchema,
  overTimeQuerySchema,
  overTimeSchema,
  plannedScenariosSchema,
  responsesQuerySchema,
  responsesSchema,
  newFiguresSchema,
  newRunSchema,
  newStudySchema,
  problemDocumentSchema,
  runColumnsSchema,
  runResultsSchema,
  runSummarySchema,
  sameBitsSchema,
  savedSchema,
  saveStudySchema,
  storedStudySchema,
  studySummarySchema,
  wholeFiguresSchema,
  writtenTablesSchema,
} from "@busy-harbor/core/contract";
import { studySchema } from "@busy-harbor/core";
import { z } from "zod";

const body = (schema: z.ZodType, io: "input" | "output" = "output") => ({
  content: { "application/json": { schema: z.toJSONSchema(schema, { io, unrepresentable: "any" }) } },
});
const answers = (status: number, description: string, schema?: z.ZodType) => ({
  responses: {
    [status]: { description, ...(schema ? body(schema) : {}) },
    default: {
      description: "A problem document (RFC 9457)",
      content: {
        "application/problem+json": { schema: z.toJSONSchema(problemDocumentSchema, { unrepresentable: "any" }) },
      },
    },
  },
});
const takes = (schema: z.ZodType) => ({ requestBody: { required: true, ...body(schema, "input") } });
const queryOf = (shape: Readonly<Record<string, unknown>>) =>
  Object.keys(shape).map((name) => ({ name, in: "query", required: false, schema: { type: "number" } }));
const parameters = [{ name: "id", in: "path", required: true, schema: { type: "string" } }];

const source = { name: "source", in: "path", required: true, schema: { type: "integer" } };

let known: object | undefined;

/** The API's description, made from the same schemas that check its requests and replies, when first asked for. */
export const openApi = (): object => (known ??= description());

const description = () => ({
  openapi: "3.1.0",
  info: { title: "Busy Harbor", version: "1", description: "Studies, designs and runs. Served to this machine only." },
  paths: {
    "/api/studies": {
      get: { summary: "All studies", ...answers(200, "Studies, latest change first", studySummarySchema.array()) },
      post: {
        summary: "Open a study file as a new study",
        ...takes(newStudySchema),
        ...answers(201, "The study as stored", storedStudySchema),
      },
    },
    "/api/studies/{id}": {
      parameters,
      get: { summary: "One study", ...answers(200, "The study", storedStudySchema) },
      put: {
        summary: "Save a study; a stale revision is refused with 409 and the present study",
        ...takes(saveStudySchema),
        ...answers(200, "Saved", savedSchema),
      },
      delete: { summary: "Delete a study (it can be restored)", ...answers(204, "Deleted") },
    },
    "/api/studies/{id}/restore": {
      parameters,
      post: { summary: "Bring a deleted study back", ...answers(200, "The study", storedStudySchema) },
    },
    "/api/studies/{id}/experiments": {
      parameters,
      post: {
        summary:
          "Start an experiment of several points, or scenarios of one that stands in the study; none is queued unless all can run",
        ...takes(z.union([newExperimentSchema, plannedScenariosSchema])),
        ...answers(201, "The experiment, its points queued", experimentSchema),
      },
    },
    "/api/studies/{id}/searches": {
      parameters,
      post: {
        summary: "Begin the search of an experiment that stands in the study; its points are found as it goes on",
        ...takes(newSearchSchema),
        ...answers(201, "The experiment, its first points queued", experimentSchema),
      },
    },
    "/api/experiments/{id}": {
      parameters,
      get: { summary: "An experiment with its points", ...answers(200, "The experiment", experimentSchema) },
    },
    "/api/experiments/{id}/stop": {
      parameters,
      post: { summary: "Stop a search; what it has tried stays", ...answers(202, "The search", experimentSchema) },
    },
    "/api/experiments/{id}/continue": {
      parameters,
      post: { summary: "Go on with a search that was stopped", ...answers(202, "The search", experimentSchema) },
    },
    "/api/runs/{id}/figures": {
      parameters,
      get: {
        summary: "Server-sent events: the statistics so far (event whole), then what is new (events new)",
        ...answers(200, "An event stream", z.union([wholeFiguresSchema, newFiguresSchema])),
      },
    },
    "/api/studies/{id}/runs": {
      parameters,
      get: { summary: "Runs of a study", ...answers(200, "Runs, latest first", runSummarySchema.array()) },
      post: {
        summary: "Start a run of a design",
        ...takes(newRunSchema),
        ...answers(201, "The run, queued", runSummarySchema),
      },
    },
    "/api/studies/{id}/events": {
      parameters,
      get: {
        summary: "Changes of the study's runs as server-sent events named run",
        responses: { 200: { description: "An event stream", content: { "text/event-stream": {} } } },
      },
    },
    "/api/runs/{id}/observations.csv": {
      parameters,
      get: {
        summary: "Each entity that left in the replications that are over, a row each, in SI units",
        responses: { 200: { description: "A table", content: { "text/csv": {} } } },
      },
    },
    "/api/runs/{id}/rows": {
      parameters,
      get: {
        summary: "Names of the tables that steps of the run write rows into",
        ...answers(200, "Names", writtenTablesSchema),
      },
    },
    "/api/runs/{id}/rows/{table}.csv": {
      parameters: [...parameters, { name: "table", in: "path", required: true, schema: { type: "integer" } }],
      get: {
        summary:
          "Rows that steps wrote into the table of that number, from 0, in the replications that are over, in SI units",
        responses: { 200: { description: "A table", content: { "text/csv": {} } } },
      },
    },
    "/api/runs/{id}/kept": {
      parameters,
      get: {
        summary: "Measures of which every observation, or every change of a level, is kept",
        ...answers(200, "What is kept", keptInRunSchema),
      },
    },
    "/api/runs/{id}/kept/{source}/distribution": {
      parameters: [...parameters, source, ...queryOf(distributionQuerySchema.shape)],
      get: {
        summary: "How what was kept is distributed: moments, quantiles, bins, distribution function, box",
        ...answers(200, "The distribution; null where nothing was observed", distributionSchema),
      },
    },
    "/api/runs/{id}/kept/{source}/over-time": {
      parameters: [...parameters, source, ...queryOf(overTimeQuerySchema.shape)],
      get: {
        summary: "What was kept over time: means over replications by piece of time and by hour of the day",
        ...answers(200, "Means", overTimeSchema),
      },
    },
    "/api/runs/{id}/kept/{source}.csv": {
      parameters: [...parameters, source],
      get: {
        summary: "All that was kept of a measure, a row an observation or a change, in SI units",
        responses: { 200: { description: "A table", content: { "text/csv": {} } } },
      },
    },
    "/api/folders": {
      get: {
        summary: "Folders that tables may be linked to files of, with their spreadsheets and texts",
        ...answers(200, "Folders", folderSchema.array()),
      },
    },
    "/api/folders/file": {
      parameters: ["folder", "path"].map((name) => ({
        name,
        in: "query",
        required: true,
        schema: { type: "string" },
      })),
      get: {
        summary: "A file of a folder as it is now; the head x-changed-at tells since when",
        responses: { 200: { description: "Its bytes", content: { "application/octet-stream": {} } } },
      },
    },
    "/api/runs/{id}": {
      parameters,
      get: { summary: "One run", ...answers(200, "The run", runSummarySchema) },
      patch: {
        summary: "Give a run a name, or a note beside it",
        ...takes(changedRunSchema),
        ...answers(200, "The run", runSummarySchema),
      },
      delete: { summary: "Take a run away (it can be brought back)", ...answers(204, "Taken away") },
    },
    "/api/runs/{id}/restore": {
      parameters,
      post: { summary: "Bring back a run that was taken away", ...answers(200, "The run", runSummarySchema) },
    },
    "/api/runs/{id}/continue": {
      parameters,
      post: {
        summary: "Go on with a run that was stopped, or make it longer; what it has stays",
        ...takes(continuedRunSchema),
        ...answers(202, "The run, queued", runSummarySchema),
      },
    },
    "/api/runs/{id}/repeat": {
      parameters,
      post: {
        summary: "Run anew what made a run: the same design, data, settings and seed",
        ...answers(201, "The new run", runSummarySchema),
      },
    },
    "/api/runs/{id}/same-as/{other}": {
      parameters: [...parameters, { name: "other", in: "path", required: true, schema: { type: "string" } }],
      get: {
        summary: "How the numbers of two runs compare, to the last bit",
        ...answers(200, "Replications compared, and those that differ", sameBitsSchema),
      },
    },
    "/api/runs/{id}/study": {
      parameters,
      get: {
        summary: "The study file that a run was made with, its one design in it",
        ...answers(200, "The study", studySchema),
      },
    },
    "/api/responses": {
      post: {
        summary: "Measures of several runs by their keys, a column each over the replications so far",
        ...takes(responsesQuerySchema),
        ...answers(200, "Columns by run", responsesSchema),
      },
    },
    "/api/runs/{id}/measures": {
      parameters,
      get: {
        summary: "What is measured in a run, in the order of its numbers",
        ...answers(200, "Measures", measureInfoSchema.array()),
      },
    },
    "/api/runs/{id}/statistics": {
      parameters,
      get: {
        summary:
          "Statistics of every measure over the replications so far: 64-bit little-endian numbers, eight a measure: count, mean, sum of squared deviations, least, most, sum of errors, sum of squared differences of neighbours, last",
        responses: {
          200: {
            description: "The numbers; the head x-replications tells of how many replications",
            content: { "application/octet-stream": {} },
          },
        },
      },
    },
    "/api/runs/{id}/columns": {
      parameters: [
        ...parameters,
        ...Object.entries(columnsQuerySchema.shape).map(([name]) => ({
          name,
          in: "query",
          required: name === "measures",
          schema: { type: name === "measures" ? "string" : "integer" },
        })),
      ],
      get: {
        summary: "Values of a few measures, by their positions, of replications after a number",
        ...answers(200, "Columns", runColumnsSchema),
      },
    },
    "/api/runs/{id}/results": {
      parameters,
      get: { summary: "All of a run, replication by replication", ...answers(200, "Results so far", runResultsSchema) },
    },
    "/api/runs/{id}/results.csv": {
      parameters,
      get: {
        summary: "All of a run for a spreadsheet, a row a replication, SI units",
        responses: { 200: { description: "The table", content: { "text/csv": {} } } },
      },
    },
    "/api/runs/{id}/cancel": {
      parameters,
      post: { summary: "Stop a run; finished replications stay", ...answers(202, "The run", runSummarySchema) },
    },
    "/api/files/{id}": {
      parameters,
      get: {
        summary: "A file of a study, such as a drawing, by the SHA-256 of its bytes",
        responses: { 200: { description: "Its bytes", content: { "application/octet-stream": {} } } },
      },
      put: {
        summary: "Keep a file under the SHA-256 of its bytes",
        requestBody: { required: true, content: { "application/octet-stream": {} } },
        ...answers(204, "Kept"),
      },
    },
    "/api/demo/reset": {
      post: { summary: "Make the demo studies anew", ...answers(200, "All studies", studySummarySchema.array()) },
    },
  },
});
