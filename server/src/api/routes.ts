import { raw, Router } from "express";
import { compile, fileId, readStudy, runSettingsSchema } from "@busy-harbor/core";
import { newRunSchema, newStudySchema, saveStudySchema } from "@busy-harbor/core/contract";
import { demoNames, readDemo } from "../demo.ts";
import type { RunQueue } from "../runs/queue.ts";
import type { FileStore } from "../store/files.ts";
import type { RunStore } from "../store/runs.ts";
import type { StudyStore } from "../store/studies.ts";
import { openApi } from "./openapi.ts";
import { HttpProblem } from "./problems.ts";

export interface Services {
  readonly studies: StudyStore;
  readonly runs: RunStore;
  readonly queue: RunQueue;
  readonly files: FileStore;
}

const FILE_LIMIT = "40mb";

/** Everything under /api. Bodies are checked with the contract's schemas. */
export function apiRoutes({ studies, runs, queue, files }: Services): Router {
  const api = Router();

  api.get("/openapi.json", (_request, response) => void response.json(openApi()));

  api.get("/studies", async (_request, response) => void response.json(await studies.list()));

  api.post("/studies", async (request, response) => {
    const read = readStudy(newStudySchema.parse(request.body).study);
    if (!read.ok) throw new HttpProblem(422, "unreadable-study", "The file cannot be opened as a study.", { problems: read.problems });
    response.status(201).json(await studies.create(read.study));
  });

  api.get("/studies/:id", async (request, response) => void response.json(await studies.get(request.params.id)));

  api.put("/studies/:id", async (request, response) => {
    const { revision, study } = saveStudySchema.parse(request.body);
    response.json(await studies.save(request.params.id, revision, study));
  });

  api.delete("/studies/:id", async (request, response) => {
    await studies.remove(request.params.id);
    response.status(204).end();
  });

  api.post("/studies/:id/restore", async (request, response) => void response.json(await studies.restore(request.params.id)));

  api.post("/demo/reset", async (_request, response) => {
    for (const demo of await demoNames()) {
      await studies.removeDemo(demo);
      await studies.create(await readDemo(demo), demo);
    }
    response.json(await studies.list());
  });

  api.get("/studies/:id/runs", async (request, response) => void response.json(await runs.list(request.params.id)));

  api.post("/studies/:id/runs", async (request, response) => {
    const { designId, settings: changed } = newRunSchema.parse(request.body);
    const { study } = await studies.get(request.params.id);
    const design = study.designs.find((d) => d.id === designId);
    if (!design) throw new HttpProblem(404, "not-found", "The study has no such design.");
    const settings = runSettingsSchema.parse({ ...study.run, ...changed });
    const { program, problems } = compile({ ...study, run: settings }, designId);
    if (!program) throw new HttpProblem(422, "model-problems", `${design.name} has problems and cannot run.`, { problems });
    const run = await runs.create(request.params.id, study, design, settings, program.measures);
    queue.add(run.id);
    response.status(201).json(run);
  });

  api.get("/studies/:id/events", (request, response) => {
    response.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store" });
    response.write(": runs of this study\n\n");
    const stop = queue.onChange(request.params.id, (run) => response.write(`event: run\ndata: ${JSON.stringify(run)}\n\n`));
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
    response.set({ "content-type": "application/octet-stream", "content-disposition": "attachment", "cache-control": "private, max-age=31536000, immutable" }).send(bytes);
  });

  api.get("/runs/:id", async (request, response) => void response.json(await runs.summary(request.params.id)));
  api.get("/runs/:id/results", async (request, response) => void response.json(await runs.results(request.params.id)));
  api.post("/runs/:id/cancel", async (request, response) => {
    await queue.cancel(request.params.id);
    response.status(202).json(await runs.summary(request.params.id));
  });

  return api;
}
