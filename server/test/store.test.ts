import fc from "fast-check";
import { pino } from "pino";
import { QueryTypes, Sequelize } from "sequelize";
import { tmpdir } from "node:os";
import { pathToFileURL } from "node:url";
import { join } from "node:path";
import { RunQueue } from "../src/runs/queue.ts";
import { storageFault } from "../src/store/faults.ts";
import { migrations } from "../src/store/migrations.ts";
import { pack, unpack } from "../src/store/packed.ts";
import { applied, differenceOf } from "../src/store/revisions.ts";
import type { RunStore } from "../src/store/runs.ts";

test("numbers that were kept as text have the same bits when they are packed", async () => {
  const sequelize = new Sequelize({
    dialect: "sqlite",
    storage: ":memory:",
    logging: false,
    pool: { max: 1, min: 1, idle: 2 ** 31 - 1 },
  });
  const query = sequelize.getQueryInterface();
  const [first, second, third] = migrations;
  await first.up(query);
  await second.up(query);
  const values = [0.1 + 0.2, 1 / 3, 1e-300, 6.02e23, 0, 123456789.123456789];
  await sequelize.query("PRAGMA foreign_keys = OFF");
  for (let number = 1; number <= 450; number++) {
    await sequelize.query(
      "INSERT INTO replications (runId, number, \"values\", events) VALUES ('r', :number, :text, 5)",
      { replacements: { number, text: JSON.stringify([number, null, ...values]) } },
    );
  }
  await third.up(query);
  const rows = await sequelize.query<{ number: number; packed: Buffer }>(
    "SELECT number, packed FROM replications ORDER BY number",
    { type: QueryTypes.SELECT },
  );
  expect(rows).toHaveLength(450);
  for (const { number, packed } of rows) expect([...unpack(packed)]).toEqual([number, Number.NaN, ...values]);
  await sequelize.close();
});

test("packing keeps every bit, and a difference gives the text before back", () => {
  fc.assert(fc.property(fc.array(fc.double()), (values) => expect([...unpack(pack(values))]).toEqual(values)));
  const text = fc
    .array(fc.constantFrom("a", "b", "{", "\u{1F6A2}"), { maxLength: 12 })
    .map((letters) => letters.join(""));
  fc.assert(
    fc.property(text, text, (before, after) => expect(applied(differenceOf(before, after), after)).toBe(before)),
    { numRuns: 2000 },
  );
  const long = "x".repeat(100_000);
  expect(differenceOf(`${long}4 min${long}`, `${long}3 min${long}`)).toEqual({
    start: 100_000,
    end: 100_004,
    middle: "4",
  });
});

test("faults of the disk are told from others", () => {
  expect(
    [
      "SQLITE_FULL: database or disk is full",
      "ENOSPC: no space left on device",
      "SQLITE_IOERR: disk I/O error",
      "SQLITE_READONLY: attempt to write a readonly database",
    ].map((m) => storageFault(new Error(m)) !== undefined),
  ).toEqual([true, true, true, true]);
  expect([storageFault(new Error("SQLITE_CONSTRAINT: UNIQUE")), storageFault("text"), storageFault(undefined)]).toEqual(
    [undefined, undefined, undefined],
  );
});

/** A store in memory whose disk can be full. */
function fakeStore() {
  const state = { full: false, state: "queued", kept: [] as number[] };
  const held = new Map<string, string>();
  const write = <T>(act: () => T) =>
    state.full ? Promise.reject(new Error("SQLITE_FULL: database or disk is full")) : Promise.resolve(act());
  const store = {
    held,
    unfinished: () => Promise.resolve(["r"]),
    text: () => Promise.resolve(SNAPSHOT),
    task: () =>
      Promise.resolve({
        id: "r",
        experimentId: "r",
        documentId: "text",
        studyId: "s",
        designId: "d",
        seed: 1,
        replications: 6,
        long: false,
        finished: new Set(state.kept),
      }),
    setState: (_: string, now: string) => write(() => (state.state = now)),
    addReplications: (_: string, results: readonly { replication: number }[]) =>
      write(() =>
        results.map(({ replication }) => {
          state.kept.push(replication);
          return { number: replication, packed: Buffer.alloc(0), errors: null };
        }),
      ),
    summary: () => Promise.resolve({ studyId: "s", state: state.state, held: held.get("r") ?? null }),
  };
  return { state, store: store as unknown as RunStore };
}

const SNAPSHOT = JSON.stringify({
  format: "busy-harbor-study",
  version: 1,
  name: "Small",
  run: { length: "1 h" },
  designs: [
    {
      id: "d",
      name: "D",
      entityTypes: [{ id: "t", name: "T" }],
      links: [{ id: "l", from: "in", to: "out" }],
      elements: [
        { kind: "arrivals", id: "in", name: "In", at: [0, 0], entityType: "t" },
        { kind: "departures", id: "out", name: "Out", at: [9, 0] },
      ],
    },
  ],
});

describe("a disk that is full for a while", () => {
  const worker = pathToFileURL(join(process.cwd(), "server/dist/replicationWorker.cjs"));
  const silent = pino({ level: "silent" });
  const until = async (good: () => boolean) => {
    for (let i = 0; i < 200 && !good(); i++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(good()).toBe(true);
  };
  test("holds the run, which goes on by itself and keeps each replication once", async () => {
    const { state, store } = fakeStore();
    const queue = new RunQueue(store, silent, worker, join(tmpdir(), "harbor-observations"), 2);
    const seen: { held: string | null }[] = [];
    queue.onChange("s", (run) => seen.push({ held: run.held }));
    state.full = true;
    await queue.resume();
    await until(() => store.held.has("r"));
    expect(state.kept).toEqual([]);
    state.full = false;
    await until(() => state.state === "done");
    expect([...state.kept].sort()).toEqual([1, 2, 3, 4, 5, 6]);
    await until(() => seen.length > 0 && seen[seen.length - 1].held === null);
    expect(seen.some((run) => run.held?.includes("no room left"))).toBe(true);
    await queue.close();
  });
  test("does not keep the server from stopping, nor from taking the run up again", async () => {
    const { state, store } = fakeStore();
    const first = new RunQueue(store, silent, worker, join(tmpdir(), "harbor-observations"), 2);
    state.full = true;
    await first.resume();
    await until(() => store.held.has("r"));
    await first.close();
    state.full = false;
    const second = new RunQueue(store, silent, worker, join(tmpdir(), "harbor-observations"), 2);
    await second.resume();
    await until(() => state.state === "done");
    expect([...state.kept].sort()).toEqual([1, 2, 3, 4, 5, 6]);
    await second.close();
  });
});
