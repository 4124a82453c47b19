import { existsSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import express, { type Express } from "express";
import { rateLimit } from "express-rate-limit";
import helmet from "helmet";
import type { Logger } from "pino";
import { localOnly } from "./api/access.ts";
import { noSuchPath, problemAnswers, tooMany } from "./api/problems.ts";
import { apiRoutes, type Services } from "./api/routes.ts";
import { loadDemo } from "./demo.ts";
import { Documents } from "./documents/documents.ts";
import { KeptReadings } from "./runs/keptReadings.ts";
import { RunQueue } from "./runs/queue.ts";
import { Searches } from "./runs/searches.ts";
import { Selections } from "./runs/selections.ts";
import { Folders } from "./folders/folders.ts";
import { own } from "./start/owner.ts";
import { startProblem } from "./start/startProblem.ts";
import { makeFolder, openDatabase } from "./store/database.ts";
import { FileStore } from "./store/files.ts";
import { RunStore } from "./store/runs.ts";
import { StudyStore } from "./store/studies.ts";

export interface ServerOptions {
  readonly data: string;
  /** Further folders that tables may be linked to files of, parted as the system parts paths. */
  readonly folders?: string;
  /** Folder of the built interface; absent while developing. */
  readonly web?: string;
  readonly port: number;
  /** Try the ports after it when it is taken. */
  readonly orNextFree?: boolean;
  readonly log: Logger;
  /** Programs of the threads that run replications, that read documents, and that read what was kept. */
  readonly replications: URL;
  readonly documents: URL;
  readonly readings: URL;
  readonly threads?: number;
}

export interface RunningServer {
  readonly url: string;
  close(): Promise<void>;
}

function makeApp(services: Services, { web, log }: ServerOptions): Express {
  const app = express();
  app.disable("x-powered-by");
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          // Primitives place menus and lock scrolling by style elements.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", "data:", "blob:"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(localOnly);
  // Who is foreign was refused above, and is not counted.
  app.use(
    "/api",
    rateLimit({ windowMs: 10_000, limit: 3000, standardHeaders: true, legacyHeaders: false, handler: tooMany }),
  );
  app.use("/api", apiRoutes(services), noSuchPath);
  if (web && existsSync(join(web, "index.html"))) {
    app.use(
      express.static(web, {
        index: false,
        maxAge: "1h",
        setHeaders: (response, path) =>
          void (path.endsWith(".html") && response.setHeader("cache-control", "no-store")),
      }),
    );
    app.get(/^\/(?!api\/)[^.]*$/, (_request, response) => {
      response.setHeader("cache-control", "no-store");
      response.sendFile(join(web, "index.html"));
    });
  }
  app.use(noSuchPath);
  app.use(problemAnswers(log));
  return app;
}

/**
 * Takes the data folder for itself, migrates the database, loads the demo, takes up interrupted runs, and listens on
 * 127.0.0.1. Throws a `StartProblem` for what keeps it from that.
 */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  makeFolder(options.data);
  const ownership = await own(options.data).catch((error: unknown) => {
    throw startProblem(error, options.data);
  });
  const database = await openDatabase(options.data).catch(async (error: unknown) => {
    await ownership.release();
    throw error;
  });
  const documents = new Documents(options.documents);
  const files = new FileStore(database);
  const studies = new StudyStore(database, files, documents);
  const runs = new RunStore(database);
  const observations = join(options.data, "observations");
  const queue = new RunQueue(runs, options.log, options.replications, observations, options.threads);
  const readings = new KeptReadings(options.readings, observations);
  const selections = new Selections(runs, queue, options.log);
  const searches = new Searches(runs, queue, documents, options.log);
  await loadDemo(studies, documents, options.log);
  const server = await listen(
    makeApp(
      {
        studies,
        runs,
        queue,
        searches,
        files,
        documents,
        folders: new Folders(options.data, options.folders),
        observations,
        readings,
      },
      options,
    ),
    options.port,
    options.orNextFree ?? false,
  );
  await queue.resume();
  await selections.resume();
  await searches.resume();
  const { port } = server.address() as AddressInfo;
  const url = `http://127.0.0.1:${port}`;
  ownership.announce(url);
  return {
    url,
    async close() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await queue.close();
      await selections.close();
      await searches.close();
      await documents.close();
      await readings.close();
      await database.close();
      await ownership.release();
    },
  };
}

const PORTS_TRIED = 50;

async function listen(app: Express, port: number, orNextFree: boolean): Promise<Server> {
  for (let tried = 0; ; tried++) {
    const server = createServer(app);
    try {
      await new Promise<void>((resolve, reject) => {
        server.once("error", reject);
        server.listen(port === 0 ? 0 : port + tried, "127.0.0.1", resolve);
      });
      return server;
    } catch (error) {
      const taken = error instanceof Error && "code" in error && error.code === "EADDRINUSE";
      if (!taken || !orNextFree || tried >= PORTS_TRIED) throw error;
    }
  }
}
