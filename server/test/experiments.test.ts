import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Experiment, experimentSchema, RunStatistics, runSummarySchema } from "@busy-harbor/core/contract";
import { QueryTypes, Sequelize } from "sequelize";
import { type Active, newActive, nextInTurn, stop } from "../src/runs/active.ts";
import { openDatabase } from "../src/store/database.ts";
import { migrations } from "../src/store/migrations.ts";
import { pack, unpack } from "../src/store/packed.ts";
import { RunStore } from "../src/store/runs.ts";
import { startServer, type TestServer } from "./startServer.ts";

const folder = () => mkdtempSync(join(tmpdir(), "harbor-experiments-"));

describe("a database of the version before experiments", () => {
  const directory = folder();
  afterAll(() => rmSync(directory, { recursive: true, force: true }));
  const figures = [
    { key: "q/wait.p95", ownerId: "q", owner: "Line", ownerKind: "queue", id: "wait.p95" },
    { key: "s/lost.share", ownerId: "s", owner: "Desk", ownerKind: "station", id: "lost.share" },
    { key: "s/state.busy", ownerId: "s", owner: "Desk", ownerKind: "station", id: "state.busy" },
    { key: "out/departed.t1", ownerId: "out", owner: "Out", ownerKind: "departures", id: "departed.t1" },
    {
      key: "out/timeInSystem.mean.t1",
      ownerId: "out",
      owner: "Out",
      ownerKind: "departures",
      id: "timeInSystem.mean.t1",
    },
  ].map((figure) => ({ ...figure, label: figure.id, dimension: [0, 0, 0, 0] }));
  const values = [1 / 3, Number.NaN, 2 ** -1074, 0.1 + 0.2, -0];

  beforeAll(async () => {
    const sequelize = new Sequelize({
      dialect: "sqlite",
      storage: join(directory, "harbor.sqlite"),
      logging: false,
      pool: { max: 1, min: 1, idle: 2 ** 31 - 1 },
    });
    const query = sequelize.getQueryInterface();
    await sequelize.query("CREATE TABLE SequelizeMeta (name VARCHAR(255) PRIMARY KEY)");
    for (const { name, up } of migrations.slice(0, 3)) {
      await up(query);
      await sequelize.query("INSERT INTO SequelizeMeta VALUES (:name)", { replacements: { name } });
    }
    const at = "2026-11-01 10:00:00.000 +00:00";
    await sequelize.query(
      "INSERT INTO studies (id, name, header, revision, createdAt, updatedAt) VALUES ('st', 'S', '{}', 1, :at, :at)",
      { replacements: { at } },
    );
    for (const [number, id] of ["a", "b"].entries())
      await sequelize.query(
        `INSERT INTO runs (id, studyId, number, designId, designName, fingerprint, settings, snapshot, measures, state, createdAt, endedAt)
         VALUES (:id, 'st', :number, 'd', 'As it is', 'f00d', '{}', 'the same text', :measures, 'done', :at, :at)`,
        { replacements: { id, number: number + 1, measures: JSON.stringify(figures), at } },
      );
    await sequelize.query(
      "INSERT INTO replications (runId, number, \"values\", events, packed, errors) VALUES ('a', 1, '', 7, :packed, :errors)",
      { replacements: { packed: pack(values), errors: pack([0, 0.25]) } },
    );
    await sequelize.close();
  });

  test("is migrated: runs are experiments of one point, texts are kept once, numbers have their bits", async () => {
    const database = await openDatabase(directory);
    const store = new RunStore(database);
    const runs = await store.list("st");
    expect(
      runs.map(({ id, number, experimentId, point, finished, state, fingerprint }) => [
        id,
        number,
        experimentId,
        point,
        finished,
        state,
        fingerprint,
      ]),
    ).toEqual([
      ["b", 2, "b", 0, 0, "done", "f00d"],
      ["a", 1, "a", 0, 1, "done", "f00d"],
    ]);
    const kept = await database.sequelize.query<{ packed: Buffer; errors: Buffer; events: number }>(
      "SELECT packed, errors, events FROM replications WHERE pointId = 'a'",
      { type: QueryTypes.SELECT },
    );
    expect(kept.map(({ packed }) => packed.equals(pack(values)))).toEqual([true]);
    expect([[...unpack(kept[0].errors)], kept[0].events]).toEqual([[0, 0.25], 7]);
    expect(await database.models.documents.count()).toBe(1);
    expect((await store.measures("a")).map(({ measure, part, each }) => [measure, part, each])).toEqual([
      ["wait", "p95", undefined],
      ["lost.share", undefined, undefined],
      ["state", "busy", undefined],
      ["departed", undefined, "t1"],
      ["timeInSystem", "mean", "t1"],
    ]);
    await database.close();
    // Nothing is left to do at the next start.
    await (await openDatabase(directory)).close();
  });
});

describe("whose turn it is", () => {
  const active = (id: string, experimentId: string, missing: number, working = 0, lastTaken = 0): Active => ({
    ...newActive(id),
    task: { id, experimentId } as Active["task"],
    missing: Array.from({ length: missing }, (_, i) => i + 1),
    working,
    lastTaken,
  });
  test("the experiment on which the fewest threads work, then which has waited longest", () => {
    expect(nextInTurn([active("a", "a", 9, 1), active("b", "b", 2)])?.id).toBe("b");
    expect(nextInTurn([active("a", "a", 9, 1, 5), active("b", "b", 2, 1, 4)])?.id).toBe("b");
    // Ten points of one experiment are one share beside a single run.
    const points = Array.from({ length: 10 }, (_, i) => active(`p${i}`, "large", 5, i < 2 ? 1 : 0, i));
    expect(nextInTurn([...points, active("small", "small", 1, 1, 99)])?.id).toBe("small");
  });
  test("what has nothing left, is stopped or is not read yet is passed over", () => {
    const stopped = active("a", "a", 3);
    stop(stopped);
    expect(nextInTurn([stopped, active("b", "b", 0, 1), newActive("c")])).toBeUndefined();
  });
});

describe("experiments over the network", () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startServer();
  }, 60_000);
  afterAll(() => server.stop());

  const demo = async () => {
    const studies = (await (await fetch(`${server.url}/api/studies`)).json()) as { id: string; name: string }[];
    const { id } = studies.find(({ name }) => name.startsWith("Foot passengers"))!;
    const { study } = (await (await fetch(`${server.url}/api/studies/${id}`)).json()) as {
      study: { designs: { id: string }[] };
    };
    return { id, designs: study.designs.map((d) => d.id) };
  };
  const start = (study: string, points: unknown[]) =>
    fetch(`${server.url}/api/studies/${study}/experiments`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ points }),
    });
  const ended = async (id: string): Promise<Experiment> => {
    for (;;) {
      const read = experimentSchema.parse(await (await fetch(`${server.url}/api/experiments/${id}`)).json());
      if (read.state === "done" || read.state === "failed") return read;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };

  test("points run with their own settings and say which factors they stand for", async () => {
    const { id, designs } = await demo();
    const response = await start(id, [
      { designId: designs[0], settings: { replications: 3, length: "1 h" }, factors: { line: "shared" } },
      { designId: designs[1], settings: { replications: 2, length: "1 h" }, factors: { line: "apart" } },
    ]);
    expect(response.status).toBe(201);
    const { points } = await ended(experimentSchema.parse(await response.json()).id);
    expect(points.map(({ point, finished, state, factors }) => [point, finished, state, factors])).toEqual([
      [0, 3, "done", { line: "shared" }],
      [1, 2, "done", { line: "apart" }],
    ]);
  });

  test("none is queued unless all can run", async () => {
    const { id, designs } = await demo();
    const before = (await (await fetch(`${server.url}/api/studies/${id}/runs`)).json()) as unknown[];
    const response = await start(id, [
      { designId: designs[0] },
      { designId: designs[1], settings: { length: "soon" } },
    ]);
    expect(response.status).toBe(422);
    const after = (await (await fetch(`${server.url}/api/studies/${id}/runs`)).json()) as unknown[];
    expect(after.length).toBe(before.length);
  });

  test("who follows a run is told the whole, then what is new, which comes to the run's own statistics", async () => {
    const { id, designs } = await demo();
    const run = runSummarySchema.parse(
      await (
        await fetch(`${server.url}/api/studies/${id}/runs`, {
          method: "POST",
          headers: { "content-type": "application/json" },
          body: JSON.stringify({ designId: designs[0], settings: { replications: 40, length: "40 h" } }),
        })
      ).json(),
    );
    const stream = await fetch(`${server.url}/api/runs/${run.id}/figures`);
    const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
    const numbers = (text: string) => unpack(Buffer.from(text, "base64")) as Float64Array<ArrayBuffer>;
    let statistics = new RunStatistics();
    let text = "";
    while (statistics.replications < 40) {
      const { value, done } = await reader.read();
      if (done) break;
      text += value;
      for (let end = text.indexOf("\n\n"); end >= 0; end = text.indexOf("\n\n")) {
        const [, event, data] = /^event: (\w+)\ndata: (.*)$/s.exec(text.slice(0, end)) ?? [];
        text = text.slice(end + 2);
        if (event === "whole") {
          const whole = JSON.parse(data) as { statistics: string; replications: number[] };
          statistics = RunStatistics.from(numbers(whole.statistics), whole.replications);
        } else if (event === "new") {
          const news = JSON.parse(data) as { replications: number[]; values: string; errors: (number[] | null)[] };
          const all = numbers(news.values);
          const width = all.length / news.replications.length;
          news.replications.forEach((r, i) =>
            statistics.add(r, all.subarray(i * width, (i + 1) * width), news.errors[i] ?? undefined),
          );
        }
      }
    }
    await reader.cancel();
    await ended(run.experimentId);
    const bytes = await (await fetch(`${server.url}/api/runs/${run.id}/statistics`)).arrayBuffer();
    const whole = new Float64Array(bytes);
    expect(statistics.numbers.length).toBe(whole.length);
    // Counts are the same; sums were added up in the order in which replications ended.
    for (let i = 0; i < whole.length; i += 8) {
      expect(statistics.numbers[i]).toBe(whole[i]);
      if (whole[i] > 0)
        expect(Math.abs(statistics.numbers[i + 1] - whole[i + 1])).toBeLessThanOrEqual(1e-9 * Math.abs(whole[i + 1]));
    }
  });
});
