import { execFile } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { useStage } from "./support/stage.ts";

const stage = useStage();

const demo = join(process.cwd(), "demo", "foot-passengers.json");

test("the browser's worker, watched in uneven pieces, gives the command line's numbers to the last bit", async () => {
  await stage.person.go(stage.server.url);
  const worker = readdirSync(join(process.cwd(), "web/dist/assets")).find((name) =>
    /^session\.worker-.*\.js$/.test(name),
  );
  expect(worker).toBeDefined();
  const watched = (await stage.person.driver.executeAsyncScript(
    `const [file, study, designId, seed, done] = arguments;
     const worker = new Worker(file, { type: "module" });
     let last = 0;
     const call = (name, ...args) => new Promise((resolve) => {
       const id = String(++last);
       const listen = (event) => {
         if (event.data?.id !== id) return;
         worker.removeEventListener("message", listen);
         resolve(event.data.value);
       };
       worker.addEventListener("message", listen);
       worker.postMessage({ id, type: "APPLY", path: [name], argumentList: args.map((value) => ({ type: "RAW", value })) });
     });
     (async () => {
       const all = [];
       for (const replication of [1, 2, 3]) {
         await call("open", study, designId, seed, replication);
         for (const time of [1, 17.5, 300, 301, 2000]) await call("advance", time, 1000);
         for (let i = 0; i < 50; i++) await call("step");
         await call("advance", Infinity, 60000);
         all.push(Array.from((await call("result")).values));
       }
       done(all);
     })();`,
    `/assets/${worker!}`,
    JSON.parse(readFileSync(demo, "utf8")),
    "shared",
    2207,
  )) as (number | null)[][];
  const out = await new Promise<string>((resolve, reject) =>
    execFile(
      process.execPath,
      [join(process.cwd(), "cli/bin/harbor.mjs"), "run", demo, "--json", "--replications", "3"],
      { maxBuffer: 64e6 },
      (error, text) => (error ? reject(error) : resolve(text)),
    ),
  );
  const values = (JSON.parse(out) as { measures: { values: (number | null)[] }[] }).measures.map((m) => m.values);
  expect(watched).toHaveLength(3);
  watched.forEach((replication, r) => expect(replication).toEqual(values.map((v) => v[r])));
});

test("two tabs editing the same study: the stale one is told, and neither version is lost", async () => {
  await stage.person.go(stage.server.url);
  await stage.person.click("Foot passengers for the 9:10");
  await stage.person.sees("No problems: this design can run.");
  const id = (await stage.person.driver.getCurrentUrl()).split("/").at(-2)!;
  const stored = async () =>
    (await (await fetch(`${stage.server.url}/api/studies/${id}`)).json()) as {
      revision: number;
      study: { question: string; designs: { note: string }[] };
    };
  const { revision, study } = await stored();
  await fetch(`${stage.server.url}/api/studies/${id}`, {
    method: "PUT",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ revision, study: { ...study, question: "From the other tab" } }),
  });

  await stage.person.fill("Note", "From this tab");
  await stage.person.sees("This study was changed elsewhere");
  expect((await stored()).study.question).toBe("From the other tab");
  await stage.person.click("Take the other");
  await stage.person.driver.wait(
    async () => !(await stage.person.text("body")).includes("This study was changed elsewhere"),
    5000,
  );
  expect(await (await stage.person.setting("Note")).getAttribute("value")).not.toBe("From this tab");
  await stage.person.clickAt(500, 700);
  await stage.person.chord("\uE009", "z");
  await stage.person.driver.wait(
    async () => (await (await stage.person.setting("Note")).getAttribute("value")) === "From this tab",
    5000,
    "One's own version did not come back",
  );
  await stage.person.driver.wait(
    async () => (await stored()).study.designs[0].note === "From this tab",
    10_000,
    "It was not saved",
  );
});

test("a problem's click leads to its place", async () => {
  await stage.person.go(stage.server.url);
  await stage.person.click("Foot passengers for the 9:10");
  const desks = await stage.person.onFloor("Ticket desks");
  await stage.person.clickAt(desks.x, desks.y);
  await stage.person.fill("Time", "3 m");
  await stage.person.sees("This is a length; a time is wanted.");
  await stage.person.click("Watch");
  await stage.person.sees("This design cannot be watched yet");
  await stage.person.click("Time: This is a length");
  await stage.person.driver.wait(
    // The editor may be taking the field's place.
    async () =>
      (await stage.person.driver.executeScript(
        "return document.activeElement.value ?? document.activeElement.innerText",
      )) === "3 m",
    5000,
    "The setting was not focused",
  );
  await (await stage.person.find("[data-testid=run]")).click();
  await stage.person.sees("has problems and cannot run");
});

test("a name that cannot be kept stays in the field, and the old one holds", async () => {
  await stage.person.go(stage.server.url);
  await stage.person.click("Foot passengers for the 9:10");
  const gangway = await stage.person.onFloor("Gangway");
  await stage.person.clickAt(gangway.x, gangway.y);
  const name = await stage.person.setting("Name");
  await name.sendKeys("\uE009a\uE000", "\uE003");
  await stage.person.sees('A name is needed. "Gangway" is kept until then.');
  await stage.person.onFloor("Gangway");
  await name.sendKeys("Ramp");
  await stage.person.onFloor("Ramp");
  await stage.person.driver.wait(
    async () => (await stage.person.text("[data-testid=save-state]")).startsWith("Saved"),
    8000,
    "Not saved",
  );
});

test("the keyboard alone places, links and moves", async () => {
  await stage.person.go(stage.server.url);
  await stage.person.click("New study");
  await stage.person.sees("Begin with Arrivals");
  await (await stage.person.find("[data-testid=floor]")).sendKeys("a");
  const [enter, tab, left] = ["\uE007", "\uE004", "\uE012"];
  await stage.person.press("arr", enter);
  await stage.person.onFloor("Arrivals");
  await stage.person.press("a", "depart", enter);
  await stage.person.onFloor("Departures");
  for (let i = 0; i < 8; i++) await stage.person.press(left);
  await stage.person.press("a", "station", enter);
  await stage.person.onFloor("Station");
  // Tab goes through the elements in order of placing: Arrivals, Departures, Station.
  await stage.person.press(tab, "l", "station", enter);
  await stage.person.sees("Arrivals linked to Station.");
  await stage.person.press(tab, tab, tab, "l", "departures", enter);
  await stage.person.sees("Station linked to Departures.");
  await stage.person.press(tab, tab, tab);
  const before = await stage.person.onFloor("Station");
  await stage.person.press("\uE014", "\uE014", "\uE015");
  const after = await stage.person.onFloor("Station");
  expect(after.x).toBeGreaterThan(before.x);
  expect(after.y).toBeGreaterThan(before.y);
  // The pointer's way back, with the name of what is undone.
  await stage.person.click("Undo: move (Ctrl Z)");
  await stage.person.driver.wait(
    async () => (await stage.person.onFloor("Station")).x === before.x,
    5000,
    "The move was not undone",
  );
  await stage.person.click("Redo: move (Ctrl Y)");
  await stage.person.driver.wait(
    async () => (await stage.person.onFloor("Station")).x === after.x,
    5000,
    "The move was not redone",
  );
});
