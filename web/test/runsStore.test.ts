import { type RunSummary, runSummarySchema } from "@busy-harbor/core/contract";
import { useRuns } from "../src/state/runs.ts";

const run = (more: object): RunSummary =>
  runSummarySchema.parse({
    id: "r",
    experimentId: "r",
    point: 0,
    factors: {},
    studyId: "s",
    number: 1,
    designId: "d",
    designName: "As it is",
    fingerprint: "f",
    settings: { length: "60 d", warmUp: "0 s", replications: 20, seed: 1 },
    state: "queued",
    finished: 0,
    createdAt: "2026-01-01T00:00:00.000Z",
    endedAt: null,
    failure: null,
    held: null,
    ...more,
  });

/** What the server tells of runs as they change. */
let tell: (of: RunSummary) => void;
let opened: () => void;
const answers: unknown[] = [];

beforeEach(() => {
  globalThis.EventSource = class {
    addEventListener(name: string, listener: (event: { data: string }) => void) {
      if (name === "run") tell = (of) => listener({ data: JSON.stringify(of) });
      if (name === "open") opened = () => listener({ data: "" });
    }
    close() {}
  } as unknown as typeof EventSource;
  globalThis.fetch = () => Promise.resolve(Response.json(answers.shift()));
  answers.length = 0;
  useRuns.setState({ studyId: undefined, runs: [] });
  useRuns.getState().follow("s");
});

const settle = () => new Promise((resolve) => setTimeout(resolve, 0));
const shown = () => useRuns.getState().runs.map(({ state, finished, name }) => [state, finished, name]);

test("an answer that comes after a later event does not put a run back to what it was", async () => {
  tell(run({ state: "done", finished: 20, asOf: 7 }));
  answers.push(run({ state: "running", finished: 3, asOf: 5 }));
  await useRuns.getState().cancel("r");
  expect(shown()).toEqual([["done", 20, ""]]);
});

test("a list that was read before an event leaves what the event told, and drops runs that are gone", async () => {
  tell(run({ id: "gone", asOf: 2 }));
  tell(run({ state: "done", finished: 20, asOf: 7 }));
  answers.push([run({ state: "running", finished: 3, asOf: 5 }), run({ id: "other", number: 0, asOf: 5 })]);
  opened();
  await settle();
  expect(shown()).toEqual([
    ["done", 20, ""],
    ["queued", 0, ""],
  ]);
});

test("a name given while a run goes on does not put its progress back", async () => {
  const first = run({ state: "running", finished: 3, asOf: 3 });
  tell(first);
  tell(run({ state: "running", finished: 9, asOf: 6 }));
  answers.push(run({ state: "running", finished: 11, name: "Base", asOf: 8 }));
  const said = useRuns.getState().describe(first, { name: "Base" });
  expect(shown()).toEqual([["running", 9, "Base"]]);
  await said;
  expect(shown()).toEqual([["running", 11, "Base"]]);
});
