import { join } from "node:path";
import { z } from "zod";
import { raw, json, Router, type Response } from "express";
import { fileId } from "@busy-harbor/core";
import {
  changedRunSchema,
  columnsQuerySchema,
  continuedRunSchema,
  distributionQuerySchema,
  fileQuerySchema,
  newExperimentSchema,
  newSearchSchema,
  type NewFigures,
  overTimeQuerySchema,
  plannedScenariosSchema,
  responsesQuerySchema,
} from "@busy-harbor/core/contract";
import { demoNames, readDemo } from "../demo.ts";
import type { Documents } from "../documents/documents.ts";
import type { Kept } from "../documentWorker.ts";
import type { Folders } from "../folders/folders.ts";
import type { KeptReadings } from "../runs/keptReadings.ts";
import type { RunQueue } from "../runs/queue.ts";
import type { Searches } from "../runs/searches.ts";
import type { FileStore } from "../store/files.ts";
import type { NewPoint, RunStore } from "../store/runs.ts";
import type { StoredText, StudyStore } from "../store/studies.ts";
import { sendKept } from "./kept.ts";
import { sendReplicationFiles } from "./observations.ts";
import { observationsFile } from "../runs/observationsFile.ts";
import { namesOfRows, rowFile } from "../runs/rowFiles.ts";
import { openApi } from "./openapi.ts";
import { HttpProblem, notFound } from "./problems.ts";
import { sendCsv, sendResults } from "./results.ts";

export interface Services {
  readonly studies: StudyStore;
  readonly runs: RunStore;
  readonly queue: RunQueue;
  readonly searches: Searches;
  readonly files: FileStore;
  readonly documents: Documents;
  readonly folders: Folders;
  /** Where observations of runs are, a folder each. */
  readonly observations: string;
  readonly readings: KeptReadings;
}

const FILE_LIMIT = "40mb";
const STUDY_LIMIT = "64mb";
const REQUEST_LIMIT = "1mb";

/** The body of a request that holds a study, unread. */
const study = raw({ type: ["application/json"], limit: STUDY_LIMIT });

function bytesOf(body: unknown): Uint8Array {
  if (!Buffer.isBuffer(body)) throw new HttpProblem(415, "not-json", "A study is sent as application/json.");
  return body;
}

/** A study as it is kept: its document is text already. */
const sendStudy = (response: Response, { id, revision, updatedAt, text }: StoredText, status = 200): void => {
  const head = JSON.stringify({ id, revision, updatedAt });
  response
    .status(status)
    .type("application/json")
    .send(`${head.slice(0, -1)},"study":${text}}`);
};

/** Scenarios made ready one after another; where some cannot run, all that is wrong with any is told. */
async function preparedScenarios(
  documents: Documents,
  kept: Kept,
  { plan, scenarios, selection }: z.infer<typeof plannedScenariosSchema>,
): Promise<NewPoint[]> {
  const points: NewPoint[] = [];
  const refused: HttpProblem[] = [];
  for (const scenario of scenarios)
    try {
      const run = await documents.readScenario(kept, plan, scenario, selection);
      const { designId, factors, name } = run;
      points.push({ designId, factors, run, of: { plan, scenario, name } });
    } catch (error) {
      if (!(error instanceof HttpProblem && error.status === 422)) throw error;
      refused.push(error);
    }
  if (refused.length === 0) return points;
  throw new HttpProblem(
    422,
    "model-problems",
    refused.length === 1 ? refused[0].message : `${refused.length} scenarios have problems and cannot run.`,
    { problems: refused.flatMap(({ extras }) => extras.problems ?? []).slice(0, 200) },
  );
}

/** Everything under /api. Bodies are checked with the contract's schemas. */
export function apiRoutes({
  studies,
  runs,
  queue,
  searches,
  files,
  documents,
  folders,
  observations,
  readings,
}: Services): Router {
  const api = Router();
  const small = json({ limit: REQUEST_LIMIT });
  // Whatever else stands there is nobody's id, and never reaches the database.
  api.param("id", (_request, _response, next, id: string) =>
    next(/^[\w-]{1,100}$/.test(id) ? undefined : notFound("thing")),
  );

  api.get("/openapi.json", (_request, response) => void response.json(openApi()));

  api.get("/studies", async (_request, response) => void response.json(await studies.list()));

  api.post("/studies", study, async (request, response) => {
    sendStudy(response, await studies.create(await documents.readNew(bytesOf(request.body))), 201);
  });

  api.get("/studies/:id", async (request, response) => sendStudy(response, await studies.get(request.params.id)));

  api.put("/studies/:id", study, async (request, response) => {
    const { revision, study: given } = await documents.readSave(bytesOf(request.body));
    response.json(await studies.save(request.params.id, revision, given));
  });

  api.delete("/studies/:id", async (request, response) => {
    await studies.remove(request.params.id);
    response.status(204).end();
  });

  api.post("/studies/:id/restore", async (request, response) =>
    sendStudy(response, await studies.restore(request.params.id)),
  );

  api.post("/demo/reset", async (_request, response) => {
    for (const demo of await demoNames()) {
      const given = await readDemo(demo, documents);
      await studies.removeDemo(demo);
      await studies.create(given, demo);
    }
    response.json(await studies.list());
  });

  api.get("/studies/:id/runs", async (request, response) => void response.json(await runs.list(request.params.id)));

  api.post("/studies/:id/runs", small, async (request, response) => {
    const prepared = await documents.readRun(await studies.kept(request.params.id), request.body);
    const { designId } = request.body as { designId: string };
    const [run] = await runs.create(request.params.id, [{ designId, factors: {}, run: prepared }]);
    queue.add(run.id);
    response.status(201).json(run);
  });

  api.post("/studies/:id/searches", small, async (request, response) => {
    const { search: plan } = newSearchSchema.parse(request.body);
    const prepared = await documents.readSearch(await studies.kept(request.params.id), plan);
    const id = await runs.createSearch(request.params.id, plan, prepared);
    await searches.look(id);
    response.status(201).json(await runs.experiment(id));
  });

  api.post("/studies/:id/experiments", small, async (request, response) => {
    const asked = z.union([plannedScenariosSchema, newExperimentSchema]).parse(request.body);
    const kept = await studies.kept(request.params.id);
    const prepared: NewPoint[] = [];
    // One after another: each is checked whole, and none is queued unless all can run.
    if ("plan" in asked) prepared.push(...(await preparedScenarios(documents, kept, asked)));
    else
      for (const { factors, ...point } of asked.points)
        prepared.push({ designId: point.designId, factors, run: await documents.readRun(kept, point) });
    const made = await runs.create(request.params.id, prepared, "plan" in asked ? asked.selection : undefined);
    for (const { id } of made) queue.add(id);
    response.status(201).json(await runs.experiment(made[0].experimentId));
  });

  api.post("/experiments/:id/stop", async (request, response) => {
    await searches.stop(request.params.id);
    response.status(202).json(await runs.experiment(request.params.id));
  });
  api.post("/experiments/:id/continue", async (request, response) => {
    await searches.goOn(request.params.id);
    response.status(202).json(await runs.experiment(request.params.id));
  });
  api.get(
    "/experiments/:id",
    async (request, response) => void response.json(await runs.experiment(request.params.id)),
  );

  api.get("/studies/:id/events", (request, response) => {
    response.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store" });
    response.write(": runs of this study\n\n");
    const stop = queue.onChange(request.params.id, (run) =>
      response.write(`event: run\ndata: ${JSON.stringify(run)}\n\n`),
    );
    const alive = setInterval(() => response.write(": still here\n\n"), 15_000);
    request.on("close", () => {
      stop();
      clearInterval(alive);
    });
  });

  api.put("/files/:id", raw({ type: "application/octet-stream", limit: FILE_LIMIT }), async (request, response) => {
    const body: unknown = request.body;
    if (!Buffer.isBuffer(body)) throw new HttpProblem(415, "not-bytes", "A file is sent as application/octet-stream.");
    await files.put(fileId.parse(request.params.id), body);
    response.status(204).end();
  });

  api.get("/files/:id", async (request, response) => {
    const bytes = await files.get(fileId.parse(request.params.id));
    // Whatever it is, a browser that opens it must not run it; and it never changes.
    response
      .set({
        "content-type": "application/octet-stream",
        "content-disposition": "attachment",
        "cache-control": "private, max-age=31536000, immutable",
      })
      .send(bytes);
  });

  api.get("/folders", async (_request, response) => void response.json(await folders.list()));

  api.get("/folders/file", async (request, response) => {
    const { folder, path } = fileQuerySchema.parse(request.query);
    const { bytes, changedAt } = await folders.read(folder, path);
    response
      .set({
        "content-type": "application/octet-stream",
        "content-disposition": "attachment",
        "cache-control": "no-store",
        "x-changed-at": changedAt,
      })
      .send(bytes);
  });

  api.get("/runs/:id", async (request, response) => void response.json(await runs.summary(request.params.id)));
  api.get("/runs/:id/measures", async (request, response) => {
    response.type("application/json").send(await runs.measuresText(request.params.id));
  });
  api.get("/runs/:id/statistics", async (request, response) => {
    await runs.summary(request.params.id);
    const statistics = await runs.statistics(request.params.id);
    response
      .set({
        "content-type": "application/octet-stream",
        "cache-control": "no-store",
        "x-replications": String(statistics.replications),
      })
      .send(Buffer.from(statistics.bytes));
  });
  api.get("/runs/:id/figures", async (request, response) => {
    const { id } = request.params;
    await runs.summary(id);
    // What ends while the whole is read is told after it.
    const early: NewFigures[] = [];
    let send = (figures: NewFigures): void => void early.push(figures);
    const stop = queue.onFigures(id, (figures) => send(figures));
    request.on("close", stop);
    const statistics = await runs.statistics(id);
    response.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store" });
    const tell = (event: string, data: unknown) => response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
    tell("whole", {
      replications: [...statistics.counted],
      statistics: Buffer.from(statistics.bytes).toString("base64"),
    });
    send = (figures) => void tell("new", figures);
    for (const figures of early) send(figures);
    const alive = setInterval(() => response.write(": still here\n\n"), 15_000);
    request.on("close", () => clearInterval(alive));
  });
  api.get("/runs/:id/columns", async (request, response) => {
    const { measures, after, most } = columnsQuerySchema.parse(request.query);
    await runs.summary(request.params.id);
    response.json(await runs.columns(request.params.id, measures, after, most));
  });
  api.get("/runs/:id/results", async (request, response) =>
    sendResults(
      response,
      await runs.summary(request.params.id),
      await runs.measures(request.params.id),
      runs.replications(request.params.id),
    ),
  );
  api.get("/runs/:id/results.csv", async (request, response) =>
    sendCsv(
      response,
      await runs.summary(request.params.id),
      await runs.measures(request.params.id),
      runs.replications(request.params.id),
    ),
  );
  api.get("/runs/:id/observations.csv", async (request, response) => {
    const run = await runs.summary(request.params.id);
    await sendReplicationFiles(response, run, "observations", (replication) =>
      observationsFile(join(observations, run.id), replication),
    );
  });
  api.get("/runs/:id/rows", async (request, response) => {
    const run = await runs.summary(request.params.id);
    response.json(await namesOfRows(join(observations, run.id, "rows")));
  });
  api.get("/runs/:id/rows/:table.csv", async (request, response) => {
    const run = await runs.summary(request.params.id);
    const folder = join(observations, run.id, "rows");
    const table = Number(request.params.table);
    const name = (await namesOfRows(folder))[table];
    if (name === undefined) throw notFound("table of rows");
    await sendReplicationFiles(response, run, name, (replication) => rowFile(folder, table, replication));
  });
  api.get("/runs/:id/kept", async (request, response) => {
    response.json(await readings.about(await runs.summary(request.params.id)));
  });
  api.get("/runs/:id/kept/:source/distribution", async (request, response) => {
    const { id, source } = request.params;
    response.json(
      await readings.distribution(await runs.summary(id), Number(source), distributionQuerySchema.parse(request.query)),
    );
  });
  api.get("/runs/:id/kept/:source/over-time", async (request, response) => {
    const { id, source } = request.params;
    response.json(
      await readings.overTime(await runs.summary(id), Number(source), overTimeQuerySchema.parse(request.query)),
    );
  });
  api.get("/runs/:id/kept/:source.csv", async (request, response) => {
    const run = await runs.summary(request.params.id);
    const source = Number(request.params.source);
    await sendKept(response, run, await readings.about(run), source, (isLevel, replication) =>
      readings.series(run.id, source, isLevel, replication),
    );
  });
  api.patch("/runs/:id", small, async (request, response) => {
    const run = await runs.describe(request.params.id, changedRunSchema.parse(request.body));
    queue.tell(run.id);
    response.json(run);
  });
  api.post("/runs/:id/repeat", async (request, response) => {
    const run = await runs.repeat(request.params.id);
    queue.add(run.id);
    response.status(201).json(run);
  });
  api.get("/runs/:id/same-as/:other", async (request, response) => {
    const { id, other } = request.params;
    await runs.summary(other);
    response.json(await runs.sameBits((await runs.summary(id)).id, other));
  });
  api.get("/runs/:id/study", async (request, response) => {
    response.type("application/json").send(await runs.studyText(request.params.id));
  });
  api.post("/responses", small, async (request, response) => {
    const { runs: ids, measures } = responsesQuerySchema.parse(request.body);
    const found = [];
    for (const id of ids) found.push(await runs.responses(id, measures));
    response.json(found);
  });
  api.post("/runs/:id/continue", small, async (request, response) => {
    const { replications } = continuedRunSchema.parse(request.body);
    await runs.goOn(request.params.id, replications);
    queue.add(request.params.id);
    response.status(202).json(await runs.summary(request.params.id));
  });
  api.delete("/runs/:id", async (request, response) => {
    await queue.cancel(request.params.id);
    const run = await runs.setDeleted(request.params.id, true);
    queue.tell(run.id);
    response.status(204).end();
  });
  api.post("/runs/:id/restore", async (request, response) => {
    const run = await runs.setDeleted(request.params.id, false);
    queue.tell(run.id);
    response.json(run);
  });
  api.post("/runs/:id/cancel", async (request, response) => {
    await queue.cancel(request.params.id);
    response.status(202).json(await runs.summary(request.params.id));
  });

  return api;
}
