import { spawn } from "node:child_process";
import { chmodSync, mkdtempSync, readFileSync, truncateSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sqlite3 from "sqlite3";
import { smallDisk } from "./smallDisk.ts";
import { startServer } from "./startServer.ts";

jest.setTimeout(60_000);
const main = join(process.cwd(), "server", "dist", "main.mjs");
const fresh = () => mkdtempSync(join(tmpdir(), "harbor-start-"));

/** Tries to start a server that should not; what it says and the code it ends with. */
function tryStart(data: string, env: Record<string, string> = {}): Promise<{ code: number | null; err: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [main], {
      env: { ...process.env, PORT: "0", HARBOR_DATA: data, ...env },
      stdio: ["ignore", "pipe", "pipe"],
    });
    let err = "";
    child.stderr.on("data", (chunk: Buffer) => (err += chunk.toString()));
    // One that starts after all must not stay.
    child.stdout.once("data", () => child.kill());
    child.once("close", (code) => resolve({ code, err }));
  });
}

const sql = (file: string, text: string) =>
  new Promise<void>((resolve, reject) => {
    const database = new sqlite3.Database(file);
    database.exec(text, (error) => database.close(() => (error ? reject(error) : resolve())));
  });

describe("what keeps the server from starting is said in one sentence, and never as a stack", () => {
  const refused = async (data: string, words: RegExp, env?: Record<string, string>) => {
    const { code, err } = await tryStart(data, env);
    expect(err).toMatch(words);
    expect({ code, lines: err.trim().split("\n").length, stack: /\n\s+at /.test(err) }).toEqual({
      code: 1,
      lines: 1,
      stack: false,
    });
  };

  test.each([["abc"], ["70000"], ["-1"], ["80.5"]])("PORT=%s", (PORT) =>
    refused(fresh(), new RegExp(`cannot start: PORT is "${PORT}", which is no port`), { PORT }),
  );

  test("a file in place of the data folder", async () => {
    const file = join(fresh(), "data");
    writeFileSync(file, "");
    await refused(file, /data is a file where a folder should be: move it elsewhere/);
    await refused(join(file, "deeper"), /is a file where a folder should be/);
  });

  test("a folder that cannot be written", async () => {
    // Even the system's own user cannot make a folder there.
    await refused("/proc/harbor-data", /\/proc\/harbor-data .*(cannot be (written|opened)|no such file)/i);
    if (process.getuid?.() === 0) return;
    const data = fresh();
    chmodSync(data, 0o500);
    await refused(data, /cannot be written/);
  });

  test("no database, another program's, a newer version's", async () => {
    const words = fresh();
    writeFileSync(join(words, "harbor.sqlite"), "These are words, and no database at all.\n".repeat(40));
    await refused(words, /harbor\.sqlite is not a database/);
    const foreign = fresh();
    await sql(join(foreign, "harbor.sqlite"), "CREATE TABLE songs (title TEXT); INSERT INTO songs VALUES ('Shanty');");
    await refused(foreign, /another program's database/);
    const newer = fresh();
    await (await startServer(newer)).stop();
    await sql(join(newer, "harbor.sqlite"), "INSERT INTO SequelizeMeta VALUES ('999-from-the-future');");
    await refused(newer, /changed by a newer Busy Harbor \(999-from-the-future\)/);
  });

  test("a database that was cut off", async () => {
    const data = fresh();
    await (await startServer(data)).stop();
    const file = join(data, "harbor.sqlite");
    truncateSync(file, Math.floor(readFileSync(file).length / 2 / 4096) * 4096);
    await refused(data, /harbor\.sqlite is cut off: it has \d+ of \d+ bytes/);
  });
});

test("a second server on the same data says which process holds it, and a crash of the first leaves nothing behind", async () => {
  const data = fresh();
  const first = await startServer(data);
  const { code, err } = await tryStart(data);
  expect(code).toBe(1);
  expect(err).toContain(`is in use by another Busy Harbor, process ${first.pid} at ${first.url}: use that one`);
  expect((await fetch(`${first.url}/api/studies`)).status).toBe(200);
  await first.stop("SIGKILL");
  const again = await startServer(data);
  expect((await fetch(`${again.url}/api/studies`)).status).toBe(200);
  await again.stop();
});

test("one study that is damaged hides no other, and says what is wrong when it is opened", async () => {
  const data = fresh();
  const first = await startServer(data);
  const before = (await (await fetch(`${first.url}/api/studies`)).json()) as { id: string }[];
  const [{ id }] = before;
  await first.stop();
  await sql(join(data, "harbor.sqlite"), `UPDATE studies SET header = '{"broken' WHERE id = '${id}';`);
  const again = await startServer(data);
  const list = (await (await fetch(`${again.url}/api/studies`)).json()) as { id: string }[];
  expect(list).toHaveLength(before.length);
  const opened = await fetch(`${again.url}/api/studies/${id}`);
  expect([opened.status, ((await opened.json()) as { title: string }).title]).toEqual([
    500,
    expect.stringMatching(/stored study is damaged/),
  ]);
  const other = list.find((s) => s.id !== id)!;
  expect((await fetch(`${again.url}/api/studies/${other.id}`)).status).toBe(200);
  await again.stop();
});

test("on a full disk the run is held and the save refused with the reason; both go on once there is room, and the server stays", async () => {
  const disk = smallDisk(12);
  // Where no small disk can be made, the queue's own test injects the fault.
  if (!disk) return;
  const server = await startServer(disk.folder);
  try {
    const call = async (method: string, path: string, body?: unknown) => {
      const response = await fetch(`${server.url}/api${path}`, {
        method,
        ...(body ? { headers: { "content-type": "application/json" }, body: JSON.stringify(body) } : {}),
      });
      return {
        status: response.status,
        body: (await response.json()) as Record<string, never> & {
          id: string;
          held: string | null;
          state: string;
          finished: number;
          detail: string;
          revision: number;
        },
      };
    };
    const demo = JSON.parse(readFileSync(join(process.cwd(), "demo/foot-passengers.json"), "utf8")) as {
      name: string;
      question: string;
    };
    const { body: study } = await call("POST", "/studies", { study: demo });
    const { body: run } = await call("POST", `/studies/${study.id}/runs`, {
      designId: "shared",
      settings: { replications: 400, length: "3 h" },
    });
    disk.fill();
    const until = async (good: (run: { held: string | null; state: string }) => boolean) => {
      for (let i = 0; i < 200; i++) {
        const { body } = await call("GET", `/runs/${run.id}`);
        if (good(body)) return body;
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      throw new Error(JSON.stringify((await call("GET", `/runs/${run.id}`)).body));
    };
    const held = await until((r) => r.held !== null);
    expect(held).toMatchObject({
      state: expect.stringMatching(/queued|running/),
      held: expect.stringMatching(/no room left on the disk/),
    });
    const saved = await call("PUT", `/studies/${study.id}`, {
      revision: 1,
      study: { ...demo, question: "?".repeat(3900) },
    });
    expect(saved).toMatchObject({ status: 507, body: { detail: expect.stringMatching(/no room left/) } });
    disk.empty();
    expect(await until((r) => r.state === "done")).toMatchObject({ held: null, finished: 400 });
    expect(await call("PUT", `/studies/${study.id}`, { revision: 1, study: demo })).toMatchObject({ status: 200 });
  } finally {
    await server.stop();
    disk.remove();
  }
});
