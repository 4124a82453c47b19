import { mkdtempSync } from "node:fs";
import { join } from "node:path";
import { tmpdir } from "node:os";
import { startServer } from "../server/test/startServer.ts";

interface RunSummary {
  id: string;
  state: string;
  finished: number;
}

const json = async <T>(url: string, body?: unknown): Promise<T> => {
  const response = await fetch(
    url,
    body === undefined
      ? {}
      : { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) },
  );
  if (!response.ok) throw new Error(`${response.status} ${await response.text()}`);
  return (await response.json()) as T;
};

const until = async (holds: () => Promise<boolean>, what: string, timeout = 90_000) => {
  const end = Date.now() + timeout;
  while (!(await holds())) {
    if (Date.now() > end) throw new Error(`${what} never happened`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
};

test("a server killed in mid-run completes the run at the next start, with the same numbers", async () => {
  const data = mkdtempSync(join(tmpdir(), "harbor-data-"));
  const settings = { replications: 60, length: "40 d" };
  let server = await startServer(data);
  const studies = await json<{ id: string; name: string }[]>(`${server.url}/api/studies`);
  const study = studies.find(({ name }) => name.startsWith("Foot passengers"))!.id;
  const { id } = await json<RunSummary>(`${server.url}/api/studies/${study}/runs`, { designId: "shared", settings });
  const summary = () => json<RunSummary>(`${server.url}/api/runs/${id}`);
  await until(async () => (await summary()).finished >= 5, "five replications");
  await server.stop("SIGKILL");

  server = await startServer(data);
  const resumed = await summary();
  expect(resumed.finished).toBeGreaterThanOrEqual(5);
  expect(resumed.finished).toBeLessThan(60);
  await until(async () => (await summary()).state === "done", "the end of the resumed run");
  const again = await json<RunSummary>(`${server.url}/api/studies/${study}/runs`, { designId: "shared", settings });
  await until(
    async () => (await json<RunSummary>(`${server.url}/api/runs/${again.id}`)).state === "done",
    "the end of the second run",
  );
  const values = async (run: string) =>
    await json<{ replications: { number: number; values: (number | null)[] }[] }>(
      `${server.url}/api/runs/${run}/results`,
    );
  const [killed, whole] = [await values(id), await values(again.id)];
  expect(killed.replications).toHaveLength(60);
  expect(killed.replications).toEqual(whole.replications);
  await server.stop();
});
