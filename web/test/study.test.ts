import { type Design, readStudy, type Study, writeStudy } from "@busy-harbor/core";
import { addElement, emptyStudy } from "../src/state/edits.ts";
import { useStudy } from "../src/state/study.ts";
import { studyDifferences } from "../src/state/studyDifferences.ts";

/** A server that keeps one study with its revision, and can be made to fail. */
function fakeServer() {
  const read = readStudy(emptyStudy("Quay 3"));
  if (!read.ok) throw new Error("bad study");
  const server = {
    study: read.study,
    revision: 1,
    fails: undefined as "down" | "refuses" | "full" | undefined,
    saves: 0,
    opened: [] as Study[],
  };
  const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
  globalThis.fetch = async (_url, init) => {
    if (server.fails === "down") throw new TypeError("no route");
    const stored = () => ({
      id: "s",
      revision: server.revision,
      updatedAt: "2026-06-03T08:00:00.000Z",
      study: server.study,
    });
    if (init?.method === "POST") {
      const { study } = JSON.parse(String(init.body)) as { study: Study };
      server.opened.push(study);
      return answer(201, { id: "copy", revision: 1, updatedAt: "2026-06-03T08:00:00.000Z", study });
    }
    if (init?.method !== "PUT") return answer(200, stored());
    if (server.fails === "full")
      return answer(507, {
        type: "t",
        title: "The server cannot keep it.",
        detail: "There is no room left on the disk.",
        status: 507,
      });
    const { revision, study } = JSON.parse(String(init.body)) as { revision: number; study: Study };
    if (server.fails === "refuses")
      return answer(422, { type: "t", title: "This study cannot be kept.", status: 422, problems: [] });
    if (revision !== server.revision)
      return answer(409, {
        type: "t",
        title: "Stale.",
        status: 409,
        current: { revision: server.revision, study: server.study },
      });
    server.study = study;
    server.revision += 1;
    server.saves += 1;
    return answer(200, { revision: server.revision, updatedAt: "2026-06-03T08:01:00.000Z" });
  };
  return server;
}

const kept = new Map<string, string>();
const store = () => useStudy.getState();
const present = () => store().history!.present;
const names = (study: Study = present()) => study.designs[0].elements.map((e) => e.name);
const add = (name: string) =>
  store().changeDesign(`Add ${name}`, (d: Design) => void (addElement(d, "station", [0, 0]).name = name));

let server: ReturnType<typeof fakeServer>;
beforeEach(async () => {
  jest.useFakeTimers();
  kept.clear();
  globalThis.localStorage = {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
    removeItem: (k: string) => void kept.delete(k),
    key: (i: number) => [...kept.keys()][i] ?? null,
    get length() {
      return kept.size;
    },
  } as Storage;
  server = fakeServer();
  await store().load("s");
});
afterEach(async () => {
  server.fails = undefined;
  await store().flush();
  jest.useRealTimers();
});

test("changes are saved together after a pause, and the draft kept meanwhile goes", async () => {
  add("Desk");
  add("Gate");
  expect(store().save).toBe("unsaved");
  jest.advanceTimersByTime(300);
  expect([...kept.keys()]).toEqual([expect.stringMatching(/^busy-harbor-draft-s-/)]);
  await jest.advanceTimersByTimeAsync(500);
  expect(store().save).toBe("saved");
  expect(server.saves).toBe(1);
  expect(names(server.study)).toEqual(["Desk", "Gate"]);
  expect(kept.size).toBe(0);
});

test.each([
  ["the server is down", "down", { save: "offline" }],
  ["the disk is full", "full", { save: "held", saveProblem: expect.stringContaining("no room left") as string }],
] as const)(
  "while %s everything stays and that is said, and it is saved by itself afterwards",
  async (_, fails, told) => {
    server.fails = fails;
    add("Desk");
    await store().flush();
    expect(store()).toMatchObject(told);
    expect(kept.size).toBe(1);
    server.fails = undefined;
    await jest.advanceTimersByTimeAsync(3100);
    expect(store().save).toBe("saved");
    expect(names(server.study)).toEqual(["Desk"]);
  },
);

test("what a closed tab could not save is taken up again, as a change that undo takes back", async () => {
  server.fails = "down";
  add("Desk");
  await store().flush();
  server.fails = undefined;
  await store().load("s");
  expect(names()).toEqual(["Desk"]);
  store().undo();
  expect(names()).toEqual([]);
});

test("a stale save is told, and either version can be kept without losing the other", async () => {
  const theirs = structuredClone(present());
  addElement(theirs.designs[0], "queue", [0, 0]);
  server.study = theirs;
  server.revision = 7;
  add("Desk");
  await store().flush();
  expect(store()).toMatchObject({ save: "conflict", conflict: { revision: 7 } });
  expect(names()).toEqual(["Desk"]);

  store().takeTheirs();
  expect(names()).toEqual(["Queue"]);
  expect(kept.size).toBe(0);
  store().undo();
  expect(names()).toEqual(["Desk"]);
  await store().flush();
  expect(names(server.study)).toEqual(["Desk"]);
});

test("both versions can be kept: one's own becomes a study of its own", async () => {
  const theirs = structuredClone(present());
  addElement(theirs.designs[0], "queue", [0, 0]);
  server.study = theirs;
  server.revision = 7;
  add("Desk");
  await store().flush();
  expect(await store().keepBoth()).toBe("copy");
  expect(server.opened.map((study) => [study.name, names(study)])).toEqual([["Quay 3 (mine)", ["Desk"]]]);
  expect([names(), store().save, kept.size]).toEqual([["Queue"], "saved", 0]);
});

test("a draft of another tab stays when this one saves; left behind with an older revision it is a conflict", async () => {
  const other = structuredClone(present());
  addElement(other.designs[0], "queue", [0, 0]);
  add("Desk");
  kept.set("busy-harbor-draft-s-other", JSON.stringify({ revision: 1, at: 1, text: writeStudy(other) }));
  await store().flush();
  expect([...kept.keys()]).toEqual(["busy-harbor-draft-s-other"]);
  await store().load("s");
  expect(store()).toMatchObject({ save: "conflict", conflict: { revision: 2 } });
  expect(names()).toEqual(["Queue"]);
  store().takeTheirs();
  expect([names(), kept.size]).toEqual([["Desk"], 0]);
});

test("two versions of a study differ in sentences", () => {
  const mine = structuredClone(present());
  addElement(mine.designs[0], "station", [0, 0]).name = "Desk";
  mine.run.length = "9 h";
  mine.designs.push({ ...structuredClone(mine.designs[0]), id: "d9", name: "Second" });
  expect(studyDifferences(present(), mine)).toEqual([
    "The run settings differ.",
    expect.stringMatching(/: .*Desk/),
    "The design Second is new.",
  ]);
  expect(studyDifferences(mine, present()).slice(-1)[0]).toMatch(/Desk/);
  expect(studyDifferences(mine, mine)).toEqual([]);
});

test("one's own version can be saved over the other", async () => {
  server.revision = 7;
  add("Desk");
  await store().flush();
  await store().keepMine();
  expect(store()).toMatchObject({ save: "saved", revision: 8 });
  expect(names(server.study)).toEqual(["Desk"]);
});

test("a refused save says why, and the next change tries again", async () => {
  server.fails = "refuses";
  add("Desk");
  await store().flush();
  expect(store()).toMatchObject({ save: "refused", saveProblem: "This study cannot be kept." });
  server.fails = undefined;
  add("Gate");
  await jest.advanceTimersByTimeAsync(600);
  expect(store().save).toBe("saved");
  expect(writeStudy(server.study)).toContain("Gate");
});

test("deleting what is selected, or a design that is shown, leaves no dangling choice", () => {
  add("Desk");
  const { id } = present().designs[0].elements[0];
  store().select([id]);
  store().changeDesign("Delete", (d) => void (d.elements = []));
  expect(store().selection).toEqual([]);
  store().change(
    "Copy",
    (s) => void s.designs.push({ ...structuredClone(present().designs[0]), id: "copy", name: "Copy" }),
  );
  store().showDesign("copy");
  store().undo();
  expect(store().designId).toBe(present().designs[0].id);
});
