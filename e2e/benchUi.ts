import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";
import { By, Key, Origin } from "selenium-webdriver";
import { startServer } from "../server/test/startServer.ts";
import { Person } from "./support/browser.ts";
import { dropLargeDxf } from "./support/drop.ts";
import { serveManyRows } from "./support/manyRows.ts";
import { fullStations } from "./support/fullStations.ts";
import { largePlan } from "./support/largePlan.ts";

/** Measures the interface in headless Chromium, one `name: value` a line. */
const server = await startServer();
const person = await Person.open(1280, 800);
const { driver } = person;

async function store(study: object): Promise<string> {
  const response = await fetch(`${server.url}/api/studies`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ study }),
  });
  if (!response.ok) throw new Error((await response.text()).slice(0, 500));
  return ((await response.json()) as { id: string }).id;
}

/** Frames drawn a second while something goes on, from the times of animation frames. */
const countFrames = () =>
  driver.executeScript(
    "window.frames = []; const tick = (t) => { window.frames.push(t); window.counting = requestAnimationFrame(tick); }; window.counting = requestAnimationFrame(tick);",
  );
async function framesPerSecond(): Promise<number> {
  const times = (await driver.executeScript("cancelAnimationFrame(window.counting); return window.frames")) as number[];
  return ((times.length - 1) / (times[times.length - 1] - times[0])) * 1000;
}

/**
 * Moves the pointer in small steps inside the page, an event a frame, as a hand does; the driver itself is far
 * slower.
 */
const sweep = (type: "drag" | "pan", from: readonly [number, number], steps: number) =>
  driver.executeAsyncScript(
    `const [type, x, y, steps, done] = arguments;
     const stage = document.querySelector("[data-testid=floor] canvas");
     const send = (name, px, py, buttons) => stage.dispatchEvent(new MouseEvent(name, { bubbles: true, cancelable: true, view: window, clientX: px, clientY: py, button: 0, buttons }));
     stage.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true, pointerType: "mouse", clientX: x, clientY: y }));
     send("mousedown", x, y, 1);
     let i = 0;
     const step = () => {
       i += 1;
       send("mousemove", x + 60 * Math.sin(i / 8), y + 40 * Math.sin(i / 5), 1);
       if (i < steps) requestAnimationFrame(step);
       else { send("mouseup", x, y, 0); done(type); }
     };
     requestAnimationFrame(step);`,
    type,
    ...from,
    steps,
  );

await driver.manage().setTimeouts({ script: 120_000 });

/** A drawing of 220,000 lines, over 20 MB, under four elements: opening, panning and dragging over it. */
async function benchDrawing(): Promise<void> {
  await person.go(server.url);
  await person.click("New study");
  await person.sees("Begin with Arrivals");
  await (await person.find("[data-testid=floor]")).click();
  await driver.actions().move({ x: 400, y: 300 }).perform();
  await person.press("a", "Station", Key.ENTER);
  await person.onFloor("Station");
  const bytes = Number(await dropLargeDxf(person, "Works.dxf", 220_000));
  await person.find("progress", 20_000);
  await person.sees("Works added.", 120_000);
  console.log(`drawing-mb: ${(bytes / 2 ** 20).toFixed(1)}`);
  console.log(
    `drawing-open-ms: ${Number(await driver.executeScript("return performance.now() - window.droppedAt")).toFixed(0)}`,
  );
  await driver.sleep(3000);
  const first = await person.onFloor("Station");
  const { width, height } = await (await person.find("[data-testid=floor]")).getRect();
  await countFrames();
  await sweep("pan", [width * 0.4, height - 150], 120);
  console.log(`drawing-pan-fps: ${(await framesPerSecond()).toFixed(1)}`);
  const station = await person.onFloor("Station");
  if (Math.abs(station.x - first.x) + Math.abs(station.y - first.y) < 5) throw new Error("The floor did not pan.");
  await countFrames();
  await sweep("drag", [station.x, station.y], 120);
  console.log(`drawing-drag-fps: ${(await framesPerSecond()).toFixed(1)}`);
}

/** What the page has fetched of the interface so far, packed, in kB. */
async function fetchedKb(): Promise<number> {
  const urls = (await driver.executeScript(
    "return performance.getEntriesByType('resource').map((e) => e.name).filter((n) => /\\/assets\\/.*\\.(js|css)$/.test(n))",
  )) as string[];
  let bytes = 0;
  for (const url of new Set(urls)) bytes += gzipSync(Buffer.from(await (await fetch(url)).arrayBuffer())).length;
  return bytes / 1000;
}

async function benchPlan(): Promise<void> {
  const id = await store(largePlan(1000, 1500));
  await person.go(`${server.url}/study/${id}/build`);
  await person.onFloor("Lane 1, place 1");
  await person.go(`${server.url}/study/${id}/build`);
  await person.onFloor("Lane 1, place 1");
  // From the arrival of the study's data to the first frame with every element on it.
  const open = Number(
    await driver.executeScript(
      "const data = performance.getEntriesByType('resource').filter((e) => e.name.includes('/api/studies/')).at(0).responseEnd; return performance.getEntriesByName('floor-drawn').at(0).startTime - data",
    ),
  );
  console.log(`open-1000-ms: ${open.toFixed(0)}`);
  await driver.sleep(1000);
  console.log(`build-kb: ${(await fetchedKb()).toFixed(0)}`);

  const first = await person.onFloor("Lane 1, place 1");
  await countFrames();
  const { width } = await (await person.find("[data-testid=floor]")).getRect();
  await sweep("pan", [width * 0.4, 112], 120);
  const panFps = await framesPerSecond();
  const panned = await person.onFloor("Lane 1, place 1");
  if (Math.abs(panned.x - first.x) + Math.abs(panned.y - first.y) < 5) throw new Error("The floor did not pan.");
  console.log(`pan-fps: ${panFps.toFixed(1)}`);

  await person.go(`${server.url}/study/${id}/build`);
  await person.onFloor("Lane 1, place 1");
  await driver.sleep(500);
  // A hundred elements, two lanes, are selected by a box and dragged.
  const [a, b] = [await person.onFloor("Lane 3, place 1"), await person.onFloor("Lane 4, place 50")];
  await driver
    .actions()
    .keyDown(Key.SHIFT)
    .move({ x: Math.round(a.x - 30), y: Math.round(a.y - 11), origin: Origin.VIEWPORT })
    .press()
    .move({ x: Math.round(b.x + 30), y: Math.round(b.y + 11), origin: Origin.VIEWPORT })
    .release()
    .keyUp(Key.SHIFT)
    .perform();
  await person.sees("100 selected");
  const chosen = Number(/(\d+) selected/.exec(await person.text("[data-testid=card]"))?.[1]);
  console.log(`drag-elements: ${chosen}`);
  const start = await person.onFloor("Lane 3, place 20");
  await countFrames();
  await sweep("drag", [start.x, start.y], 120);
  const dragFps = await framesPerSecond();
  const dragged = await person.onFloor("Lane 3, place 20");
  if (Math.abs(dragged.x - start.x) + Math.abs(dragged.y - start.y) < 5)
    throw new Error("The elements were not dragged.");
  console.log(`drag-100-fps: ${dragFps.toFixed(1)}`);

  const one = await person.onFloor("Lane 10, place 21");
  await person.clickAt(one.x, one.y);
  await person.setting("Time");
  // Time from a typed character to the next frame, the 95th of a hundred.
  const input = Number(
    await driver.executeAsyncScript(
      `const done = arguments[arguments.length - 1];
       const field = [...document.querySelectorAll("[data-field=time] textarea")][0];
       const set = Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, "value").set;
       const times = [];
       let i = 0;
       const type = () => {
         const start = performance.now();
         set.call(field, "exponential(4 min) + " + (i++ % 60) + " s");
         field.dispatchEvent(new Event("input", { bubbles: true }));
         requestAnimationFrame(() => { const channel = new MessageChannel(); channel.port1.onmessage = () => { times.push(performance.now() - start); if (i < 60) type(); else done(times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)]); }; channel.port2.postMessage(0); });
       };
       type();`,
    ),
  );
  console.log(`card-input-ms: ${input.toFixed(1)}`);
}

/**
 * Scripting time of a frame while about so many entities move: a plan of long walkways, where wanted every second a
 * conveyor, watched at 10 times life.
 */
async function benchWatch(entities: number, belts = false): Promise<void> {
  const rows = entities / 50;
  const between = `${250 / entities} s`;
  const elements = [
    { kind: "arrivals", id: "in", name: "In", at: [0, 20], entityType: "t", between, wayOut: "in turn" },
    { kind: "departures", id: "out", name: "Out", at: [200, 20] },
  ] as object[];
  const links: object[] = [];
  for (let i = 0; i < rows; i++) {
    elements.push({
      kind: "station",
      id: `s${i}`,
      name: `Station ${i}`,
      at: [100, i * 5],
      capacity: "4",
      time: "uniform(1 s, 5 s)",
    });
    const isBelt = belts && i % 2 === 1;
    links.push(
      isBelt
        ? { id: `a${i}`, from: "in", to: `s${i}`, kind: "conveyor", length: "160 m", beltSpeed: "1.3 m/s" }
        : { id: `a${i}`, from: "in", to: `s${i}`, kind: "walkway", length: "160 m" },
      { id: `b${i}`, from: `s${i}`, to: "out", kind: "walkway", length: "160 m" },
    );
  }
  const id = await store({
    format: "busy-harbor-study",
    version: 1,
    name: "Many under way",
    designs: [{ id: "d", name: "Base", entityTypes: [{ id: "t", name: "Walker" }], elements, links }],
  });
  await person.go(`${server.url}/study/${id}/watch`);
  const seconds = async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-seconds"));
  await driver.wait(async () => (await seconds()) > 300, 60_000);
  await driver.sleep(5000);
  const cost = Number(await driver.executeScript("return document.querySelector('[data-testid=frame-cost]').cost()"));
  const moving = Number(/Walker (\d+)/.exec(await person.text("[aria-label=Instruments]"))?.[1]);
  console.log(`watch-${entities}-entities: ${moving}`);
  console.log(`watch-${entities}-script-ms: ${cost.toFixed(2)}`);
  await countFrames();
  await driver.sleep(4000);
  console.log(`watch-${entities}-fps: ${(await framesPerSecond()).toFixed(1)}`);
}

/** A grid of 100,000 rows, scrolled as a wheel does, a few rows a frame. */
async function benchGrid(): Promise<void> {
  const page = await serveManyRows();
  try {
    await person.go(page.url);
    await person.find("[data-row]");
    await driver.sleep(500);
    await countFrames();
    await driver.executeAsyncScript(
      `const done = arguments[0];
       const grid = document.querySelector("[role=grid]");
       let i = 0;
       const step = () => {
         grid.scrollTop += i % 40 === 39 ? 100_000 : 84;
         if (++i < 240) requestAnimationFrame(step);
         else done();
       };
       requestAnimationFrame(step);`,
    );
    const fps = await framesPerSecond();
    const first = Number(
      await driver.executeScript("return document.querySelectorAll('[data-row]')[12].textContent.match(/\\d+/)[0]"),
    );
    if (first < 20_000) throw new Error("The grid did not scroll.");
    console.log(`grid-100k-scroll-fps: ${fps.toFixed(1)}`);
  } finally {
    await page.close();
  }
}

/** From a click on a station to its whole card on screen, the median of nine. */
async function benchCard(): Promise<void> {
  const id = await store(fullStations(10));
  await person.go(`${server.url}/study/${id}/build`);
  const first = await person.onFloor("Berth 1");
  await person.clickAt(first.x, first.y);
  await person.setting("Time");
  const times: number[] = [];
  for (let i = 2; i <= 10; i++) {
    const name = `Berth ${i}`;
    const { x, y } = await person.onFloor(name);
    times.push(
      Number(
        await driver.executeAsyncScript(
          `const [name, x, y, done] = arguments;
           const stage = document.querySelector("[data-testid=floor] canvas");
           const send = (type, buttons) => stage.dispatchEvent(new MouseEvent(type, { bubbles: true, cancelable: true, view: window, clientX: x, clientY: y, button: 0, buttons }));
           const start = performance.now();
           stage.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true, pointerType: "mouse", clientX: x, clientY: y }));
           send("mousedown", 1);
           send("mouseup", 0);
           const look = () => {
             if (document.querySelector("aside [data-field=name] textarea, aside [data-field=name] input")?.value === name) requestAnimationFrame(() => done(performance.now() - start));
             else requestAnimationFrame(look);
           };
           requestAnimationFrame(look);`,
          name,
          x,
          y,
        ),
      ),
    );
  }
  const fields = (await driver.findElements(By.css("[data-testid=card] textarea.mono"))).length;
  console.log(`card-fields: ${fields}`);
  console.log(`open-card-ms: ${times.sort((a, b) => a - b)[4].toFixed(0)}`);
}

/** An experiment of a hundred scenarios: from a value typed into a cell until it is drawn, and its row with it. */
async function benchExperiment(): Promise<void> {
  const study = JSON.parse(readFileSync("demo/foot-passengers.json", "utf8")) as {
    designs: { id: string }[];
    experiments: { id: string; scenarios: object[] }[];
  };
  const [experiment] = study.experiments;
  experiment.scenarios = Array.from({ length: 100 }, (_, i) => ({
    id: `s${i}`,
    design: study.designs[0].id,
    values: { desks: String(2 + (i % 10)), machines: String(1 + Math.floor(i / 10)) },
  }));
  const id = await store(study);
  const body = JSON.stringify({ plan: experiment.id, scenarios: experiment.scenarios.map((_, i) => `s${i}`) });
  const headers = { "content-type": "application/json" };
  await fetch(`${server.url}/api/studies/${id}/experiments`, { method: "POST", headers, body });
  await person.go(`${server.url}/study/${id}/compare?experiment=${experiment.id}`);
  await person.sees("Up to date");
  const edit = Number(
    await driver.executeAsyncScript(
      `const done = arguments[arguments.length - 1];
       const grid = document.querySelector("[data-testid=scenarios]");
       const key = (target, key) => target.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
       const times = [];
       let i = 0;
       const once = () => {
         grid.focus();
         const start = performance.now();
         const paste = new DataTransfer();
         paste.setData("text/plain", String(11 + (i % 7)));
         grid.dispatchEvent(new ClipboardEvent("paste", { clipboardData: paste, bubbles: true, cancelable: true }));
         requestAnimationFrame(() => { const channel = new MessageChannel(); channel.port1.onmessage = () => { times.push(performance.now() - start); i++; if (i < 30) setTimeout(once, 30); else done(times.sort((a, b) => a - b)[Math.floor(times.length * 0.9)]); }; channel.port2.postMessage(0); });
       };
       key(grid, "ArrowRight");
       setTimeout(() => { key(grid, "ArrowRight"); setTimeout(once, 100); }, 100);`,
    ),
  );
  const changed = await person.text('[data-testid=scenarios] [aria-rowindex="2"]');
  if (!changed.includes("out of date")) throw new Error("The edits were not made.");
  console.log(`grid-100-scenarios-edit-ms: ${edit.toFixed(0)}`);
}

/** A thousand stations side by side, of each of which twenty figures are told. */
const wideStudy = (): object => ({
  format: "busy-harbor-study",
  version: 1,
  name: "Wide",
  run: { length: "2 h" },
  designs: [
    {
      id: "d",
      name: "Berths",
      entityTypes: [{ id: "t", name: "Boat" }],
      elements: [
        { kind: "arrivals", id: "in", name: "In", at: [0, 0], entityType: "t", between: "1 min" },
        { kind: "departures", id: "out", name: "Out", at: [90, 0] },
        ...Array.from({ length: 1000 }, (_, i) => ({
          kind: "station",
          id: `s${i}`,
          name: `Berth ${i + 1}`,
          at: [10 + (i % 20) * 4, 6 * Math.floor(i / 20)],
          time: "exponential(1 min)",
        })),
      ],
      links: Array.from({ length: 1000 }, (_, i) => [
        { id: `a${i}`, from: "in", to: `s${i}` },
        { id: `b${i}`, from: `s${i}`, to: "out" },
      ]).flat(),
    },
  ],
});

/** Twenty thousand measures of a run: from the click on Measure until its table is drawn. */
async function benchExplorer(): Promise<void> {
  const id = await store(wideStudy());
  const headers = { "content-type": "application/json" };
  const body = JSON.stringify({ designId: "d", settings: { replications: 10 } });
  const made = await fetch(`${server.url}/api/studies/${id}/runs`, { method: "POST", headers, body });
  const { id: run } = (await made.json()) as { id: string };
  for (let state = "queued", tried = 0; state !== "done"; tried++, await driver.sleep(200)) {
    if (tried > 300) throw new Error("The run took more than a minute.");
    ({ state } = (await (await fetch(`${server.url}/api/runs/${run}`)).json()) as { state: string });
    if (state === "failed") throw new Error("The run failed.");
  }
  const measures = ((await (await fetch(`${server.url}/api/runs/${run}/measures`)).json()) as unknown[]).length;
  await person.go(`${server.url}/study/${id}/frame`);
  await person.find("#question");
  await driver.sleep(2000);
  const open = Number(
    await driver.executeAsyncScript(
      `const done = arguments[arguments.length - 1];
       const start = performance.now();
       [...document.querySelectorAll("a")].find((a) => a.textContent === "Measure").click();
       const look = () => document.querySelector("main [role=row][aria-rowindex='3']") ? done(performance.now() - start) : requestAnimationFrame(look);
       look();`,
    ),
  );
  console.log(`explorer-measures: ${measures}`);
  console.log(`explorer-20k-open-ms: ${open.toFixed(0)}`);
}

try {
  await benchExperiment();
  await benchExplorer();
  await benchPlan();
  await benchCard();
  await benchGrid();
  await benchDrawing();
  await benchWatch(500);
  await benchWatch(2000, true);
} finally {
  await person.close();
  await server.stop();
}
