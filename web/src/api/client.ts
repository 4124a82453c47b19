import type { Study } from "@busy-harbor/core";
import {
  type ChangedRun,
  type DistributionQuery,
  distributionSchema,
  experimentSchema,
  keptInRunSchema,
  type OverTimeQuery,
  overTimeSchema,
  type NewRun,
  folderSchema,
  type ProblemDocument,
  measureInfoSchema,
  type NewFigures,
  newFiguresSchema,
  problemDocumentSchema,
  responsesSchema,
  runColumnsSchema,
  type RunSummary,
  type Selection,
  runSummarySchema,
  sameBitsSchema,
  savedSchema,
  storedStudySchema,
  studySummarySchema,
  wholeFiguresSchema,
  writtenTablesSchema,
} from "@busy-harbor/core/contract";
import { z } from "zod";

/** An answer of the server that is a problem document, or no answer at all (status 0). */
export class ApiProblem extends Error {
  constructor(readonly document: ProblemDocument) {
    super(document.detail ? `${document.title} ${document.detail}` : document.title);
  }
  get status(): number {
    return this.document.status;
  }
}

const unreachable = new ApiProblem({
  type: "urn:busy-harbor:unreachable",
  title: "The server does not answer.",
  detail: "Is Busy Harbor still running? Your changes are kept in this browser meanwhile.",
  status: 0,
});

/** How often a request is sent again that came when there were too many, and the longest wait before that, in ms. */
const MOST_TRIES = 6;
const LONGEST_WAIT = 10_000;

/** Sends a request; where the server asks for patience, it is sent again after a while. */
async function send(path: string, init: RequestInit): Promise<Response> {
  for (let tried = 1; ; tried++) {
    let response: Response;
    try {
      response = await fetch(`/api${path}`, init);
    } catch (error) {
      if (init.signal?.aborted) throw error;
      throw unreachable;
    }
    if (response.ok) return response;
    if ((response.status !== 429 && response.status !== 503) || tried === MOST_TRIES) throw await problemOf(response);
    const asked = Number(response.headers.get("retry-after")) * 1000;
    await new Promise((resolve) => setTimeout(resolve, Math.min(LONGEST_WAIT, asked > 0 ? asked : 250 * 2 ** tried)));
  }
}

async function call<T>(
  method: string,
  path: string,
  schema: z.ZodType<T>,
  body?: unknown,
  keepalive = false,
): Promise<T> {
  const response = await send(path, {
    method,
    keepalive,
    ...(body === undefined ? {} : { headers: { "content-type": "application/json" }, body: JSON.stringify(body) }),
  });
  const data: unknown = response.status === 204 ? undefined : await response.json().catch(() => undefined);
  return schema.parse(data);
}

async function problemOf(response: Response): Promise<ApiProblem> {
  const problem = problemDocumentSchema.safeParse(await response.json().catch(() => undefined));
  return new ApiProblem(
    problem.success
      ? problem.data
      : {
          type: "urn:busy-harbor:unknown",
          title: `The server answered with status ${response.status}.`,
          status: response.status,
        },
  );
}

const queryText = (query: Readonly<Record<string, number | undefined>>): string =>
  new URLSearchParams(
    Object.entries(query).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]])),
  ).toString();

const nothing = z.unknown();

/** A request whose body or answer is bytes. */
async function callBytes(
  method: "GET" | "PUT",
  path: string,
  body?: Uint8Array<ArrayBuffer>,
  signal?: AbortSignal,
): Promise<Uint8Array<ArrayBuffer>> {
  const response = await send(path, {
    method,
    signal,
    ...(body ? { headers: { "content-type": "application/octet-stream" }, body } : {}),
  });
  return new Uint8Array(await response.arrayBuffer());
}

export const api = {
  studies: () => call("GET", "/studies", studySummarySchema.array()),
  openFile: (study: unknown) => call("POST", "/studies", storedStudySchema, { study }),
  study: (id: string) => call("GET", `/studies/${id}`, storedStudySchema),
  save: (id: string, revision: number, study: Study, keepalive = false) =>
    call("PUT", `/studies/${id}`, savedSchema, { revision, study }, keepalive),
  remove: (id: string) => call("DELETE", `/studies/${id}`, nothing),
  restore: (id: string) => call("POST", `/studies/${id}/restore`, storedStudySchema),
  resetDemo: () => call("POST", "/demo/reset", studySummarySchema.array()),
  runs: (id: string) => call("GET", `/studies/${id}/runs`, runSummarySchema.array()),
  startRun: (id: string, run: NewRun) => call("POST", `/studies/${id}/runs`, runSummarySchema, run),
  describeRun: (run: string, changes: ChangedRun) => call("PATCH", `/runs/${run}`, runSummarySchema, changes),
  /** Runs scenarios of an experiment that stands in the study. */
  startScenarios: (id: string, plan: string, scenarios: readonly string[], selection?: Selection) =>
    call("POST", `/studies/${id}/experiments`, experimentSchema, { plan, scenarios, selection }),
  startSearch: (id: string, plan: string) =>
    call("POST", `/studies/${id}/searches`, experimentSchema, { search: plan }),
  stopSearch: (id: string) => call("POST", `/experiments/${id}/stop`, experimentSchema),
  continueSearch: (id: string) => call("POST", `/experiments/${id}/continue`, experimentSchema),
  experiment: (id: string) => call("GET", `/experiments/${id}`, experimentSchema),
  /** Goes on with a run that was stopped, or makes it longer. */
  continueRun: (run: string, replications: number) =>
    call("POST", `/runs/${run}/continue`, runSummarySchema, { replications }),
  removeRun: (run: string) => call("DELETE", `/runs/${run}`, nothing),
  restoreRun: (run: string) => call("POST", `/runs/${run}/restore`, runSummarySchema),
  repeatRun: (run: string) => call("POST", `/runs/${run}/repeat`, runSummarySchema),
  sameAs: (run: string, other: string) => call("GET", `/runs/${run}/same-as/${other}`, sameBitsSchema),
  /** The study file that a run was made with. */
  studyOf: (run: string) => call("GET", `/runs/${run}/study`, z.unknown()),
  responses: (runs: readonly string[], measures: readonly string[]) =>
    call("POST", "/responses", responsesSchema, { runs, measures }),
  cancelRun: (run: string) => call("POST", `/runs/${run}/cancel`, runSummarySchema),
  file: (id: string) => callBytes("GET", `/files/${id}`),
  keepFile: (id: string, bytes: Uint8Array<ArrayBuffer>, signal?: AbortSignal) =>
    callBytes("PUT", `/files/${id}`, bytes, signal),
  folders: () => call("GET", "/folders", folderSchema.array()),
  /** A file of a folder that the server may read, as it is now. */
  fileNow: (folder: string, path: string, signal?: AbortSignal) =>
    callBytes("GET", `/folders/file?${new URLSearchParams({ folder, path }).toString()}`, undefined, signal),
  /** Names of the tables that steps of a run write rows into. */
  written: (run: string) => call("GET", `/runs/${run}/rows`, writtenTablesSchema),
  /** What is kept one by one of a run. */
  kept: (run: string) => call("GET", `/runs/${run}/kept`, keptInRunSchema),
  distribution: (run: string, source: number, query: Partial<DistributionQuery>) =>
    call("GET", `/runs/${run}/kept/${source}/distribution?${queryText(query)}`, distributionSchema),
  overTime: (run: string, source: number, query: Partial<OverTimeQuery>) =>
    call("GET", `/runs/${run}/kept/${source}/over-time?${queryText(query)}`, overTimeSchema),
  measures: (run: string) => call("GET", `/runs/${run}/measures`, measureInfoSchema.array()),
  /** Statistics of every measure, `STATISTICS_OF_A_MEASURE` numbers each. */
  statistics: async (run: string) => new Float64Array((await callBytes("GET", `/runs/${run}/statistics`)).buffer),
  columns: (run: string, measures: readonly number[], after: number, most: number) =>
    call("GET", `/runs/${run}/columns?measures=${measures.join(",")}&after=${after}&most=${most}`, runColumnsSchema),
};

/** Figures of a run as they are, and then what is new of them, until it is told to stop. */
export function listenToFigures(
  runId: string,
  onWhole: (whole: { readonly replications: number[]; readonly statistics: string }) => void,
  onNew: (figures: NewFigures) => void,
): () => void {
  const source = new EventSource(`/api/runs/${runId}/figures`);
  const read = <T>(schema: z.ZodType<T>, event: Event, take: (value: T) => void) => {
    const parsed = schema.safeParse(JSON.parse((event as MessageEvent<string>).data));
    if (parsed.success) take(parsed.data);
  };
  // Whenever the connection is made anew, the whole comes first.
  source.addEventListener("whole", (event) => read(wholeFiguresSchema, event, onWhole));
  source.addEventListener("new", (event) => read(newFiguresSchema, event, onNew));
  return () => source.close();
}

/** Listens to changes of a study's runs; the browser reconnects by itself. Returns how to stop. */
export function listenToRuns(studyId: string, onRun: (run: RunSummary) => void, onOpen: () => void): () => void {
  const source = new EventSource(`/api/studies/${studyId}/events`);
  source.addEventListener("open", onOpen);
  source.addEventListener("run", (event) => {
    const parsed = runSummarySchema.safeParse(JSON.parse((event as MessageEvent<string>).data));
    if (parsed.success) onRun(parsed.data);
  });
  return () => source.close();
}
