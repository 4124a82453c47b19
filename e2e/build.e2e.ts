import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { join } from "node:path";
import { By, Key } from "selenium-webdriver";
import { dropFile } from "./support/drop.ts";
import { meanShown } from "./support/figures.ts";
import { newStudy, useStage } from "./support/stage.ts";
import { weighedCrates } from "./support/weighedCrates.ts";

const stage = useStage();

/** The open study as the server has it, once everything is saved. */
async function saved(): Promise<{
  designs: {
    name: string;
    elements: { name: string; kind: string; at: [number, number]; locked: boolean }[];
    links: object[];
  }[];
}> {
  const { driver } = stage.person;
  await driver.wait(
    async () => (await stage.person.text("[data-testid=save-state]")).startsWith("Saved"),
    10_000,
    "The study was not saved",
  );
  const id = /study\/([^/]+)/.exec(await driver.getCurrentUrl())![1];
  return (
    (await (await fetch(`${stage.server.url}/api/studies/${id}`)).json()) as {
      study: Awaited<ReturnType<typeof saved>>;
    }
  ).study;
}

const pasteInto = (css: string, text: string) =>
  stage.person.driver.executeScript(
    "const data = new DataTransfer(); data.setData('text/plain', arguments[1]); document.querySelector(arguments[0]).dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))",
    css,
    text,
  );

test("a model of twelve elements is built by keyboard alone, undone to nothing and redone to the same", async () => {
  const { person } = stage;
  await newStudy(stage);
  const wanted = [
    "Arrivals",
    ...Array.from({ length: 5 }, (_, i) => [`Queue${i ? ` ${i + 1}` : ""}`, `Station${i ? ` ${i + 1}` : ""}`]).flat(),
    "Departures",
  ];
  for (const [i, name] of wanted.entries()) {
    // Quick-add places at the pointer; the palette's way of adding is used for every other one.
    if (i % 2 === 0) await person.press("a", name.replace(/ \d+$/, ""), Key.ENTER);
    else {
      await person.chord(Key.CONTROL, "k");
      await person.sees("Give up dragging");
      await person.press(`add ${name.replace(/ \d+$/, "").toLowerCase()}`, Key.ENTER);
    }
    await person.onFloor(name);
    for (let step = 0; step < i % 4; step++) await person.chord(Key.SHIFT, Key.ARROW_RIGHT);
    for (let step = 0; step < Math.floor(i / 4); step++) await person.chord(Key.SHIFT, Key.ARROW_DOWN);
  }
  for (let i = 0; i + 1 < wanted.length; i++) {
    await person.chord(Key.CONTROL, "f");
    await person.find("input[placeholder^='Find an element']");
    await person.press(wanted[i], Key.ENTER);
    await person.driver.wait(
      async () => (await person.text("[data-testid=card] h2")) === wanted[i],
      5000,
      `${wanted[i]} was not found`,
    );
    await person.press("l", wanted[i + 1], Key.ENTER);
    await person.sees(`${wanted[i]} linked to ${wanted[i + 1]}.`);
  }
  const built = await saved();
  expect(built.designs[0].elements.map((e) => e.name)).toEqual(wanted);
  expect(built.designs[0].links).toHaveLength(11);
  expect(new Set(built.designs[0].elements.map((e) => String(e.at))).size).toBe(12);

  const undo = await person.find("[aria-label^='Undo']");
  let steps = 0;
  while (await undo.isEnabled()) {
    await person.chord(Key.CONTROL, "z");
    steps += 1;
    if (steps > 200) throw new Error("Undo has no end");
  }
  await person.sees("Begin with Arrivals");
  expect((await saved()).designs[0].elements).toEqual([]);
  for (let i = 0; i < steps; i++) await person.chord(Key.CONTROL, "y");
  await person.onFloor("Departures");
  expect(await saved()).toEqual(built);
}, 120_000);

test("fifty stations come from a spreadsheet's block: looked at first, put in, filled down, and taken back in one step", async () => {
  const { person } = stage;
  await newStudy(stage);
  await person.press("t");
  await person.find("[data-testid=ledger-grid]");
  await person.click("Stations");
  const block = [
    "Name\tCapacity\tTime",
    ...Array.from(
      { length: 50 },
      (_, i) => `Berth ${i + 1}\t${(i % 3) + 1}\t${i === 7 ? "5 m" : "uniform(2 min, 4 min)"}`,
    ),
  ].join("\n");
  await pasteInto("[data-testid=ledger-grid]", block);
  await person.sees("50 rows added with 1 remark");
  expect(await person.text("[data-testid=paste-preview]")).toMatch(/Berth 8: .*time is wanted/);
  expect(await person.driver.findElements(By.css("[data-element]"))).toHaveLength(0);
  await person.click("Put in");
  await person.onFloor("Berth 50");
  expect((await saved()).designs[0].elements).toHaveLength(50);

  // The first capacity is typed over and filled down over the next two, by keyboard.
  const grid = await person.find("[data-testid=ledger-grid]");
  await person.driver.executeScript("arguments[0].focus()", grid);
  await grid.sendKeys(Key.chord(Key.CONTROL, Key.HOME));
  await person.press(Key.ARROW_RIGHT, "9", Key.ENTER, Key.ARROW_UP);
  await person.chord(Key.SHIFT, Key.ARROW_DOWN);
  await person.chord(Key.SHIFT, Key.ARROW_DOWN);
  await person.chord(Key.CONTROL, "d");
  await person.sees("Filled down 2 rows.");
  const capacities = ((await saved()).designs[0].elements as unknown as { capacity: string }[])
    .slice(0, 4)
    .map((e) => e.capacity);
  expect(capacities).toEqual(["9", "9", "9", "1"]);

  for (let i = 0; i < 3; i++) await person.chord(Key.CONTROL, "z");
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css("[data-element]"))).length === 0,
    5000,
    "The rows were not taken back",
  );
});

test("elements are copied to another study with their links, arranged, locked, and deleted with the link led on", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  const desks = await person.onFloor("Ticket desks");
  await person.clickAt(desks.x, desks.y);
  const line = await person.onFloor("Ticket line");
  await person.driver.actions().keyDown(Key.SHIFT).perform();
  await person.clickAt(line.x, line.y);
  await person.driver.actions().keyUp(Key.SHIFT).perform();
  await person.sees("2 selected");
  await person.chord(Key.CONTROL, "c");
  await person.sees("2 elements copied.");

  await newStudy(stage);
  await person.chord(Key.CONTROL, "v");
  await person.sees("2 elements and 1 link pasted.");
  await person.click("Line up in a row");
  const row = (await saved()).designs[0].elements;
  expect(row.map((e) => e.name)).toEqual(["Ticket line", "Ticket desks"]);
  expect(row[0].at[1]).toBe(row[1].at[1]);

  await person.chord(Key.CONTROL, "k");
  await person.press("lock in place", Key.ENTER);
  await person.sees("2 elements locked");
  await (await person.find("[data-testid=floor]")).sendKeys(Key.DELETE);
  await person.sees("2 are locked and stayed.");
  expect((await saved()).designs[0].elements).toHaveLength(2);
});

test("Escape in the middle of a drag puts everything back", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  const before = await person.onFloor("Ticket machine");
  const at = (dx: number) => ({ x: Math.round(before.x + dx), y: Math.round(before.y), duration: 50 });
  await person.driver.actions().move(at(0)).press().move(at(40)).move(at(80)).perform();
  await person.driver.wait(
    async () => (await person.onFloor("Ticket machine")).x > before.x + 50,
    5000,
    "It was not dragged",
  );
  await person.driver.actions().sendKeys(Key.ESCAPE).perform();
  await person.driver.wait(
    async () => Math.abs((await person.onFloor("Ticket machine")).x - before.x) < 1,
    5000,
    "It was not put back",
  );
  await person.driver.actions().move(at(120)).release().perform();
  expect(Math.abs((await person.onFloor("Ticket machine")).x - before.x)).toBeLessThan(1);
});

test("the context menu offers what can be done to what lies under the pointer; ? shows the keys", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  const gangway = await person.onFloor("Gangway");
  await person.driver
    .actions()
    .move({ x: Math.round(gangway.x), y: Math.round(gangway.y) })
    .contextClick()
    .perform();
  await person.byWords("Lock in place");
  expect(await person.driver.findElements(By.xpath("//*[@role='menuitem'][starts-with(., 'Unlock')]"))).toHaveLength(0);
  await person.click("Duplicate");
  await person.onFloor("Gangway 2");
  await person.sees("1 element duplicated.");
  await person.chord(Key.CONTROL, "z");
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css("[data-element='Gangway 2']"))).length === 0,
    5000,
    "The copy was not taken back",
  );
  await person.press("?");
  await person.sees("select by a box");
  expect(await person.text("[role=dialog]")).toMatch(/Duplicate\s+Ctrl\s+D/);
  await person.press(Key.ESCAPE);
});

test("a difference between designs is told in a sentence, marked on the card, and taken over", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.chord(Key.CONTROL, "k");
  await person.press("copy this design", Key.ENTER);
  await person.sees("One shared line, copy");
  // By its name: the floor may still be finding its place.
  await person.onFloor("Ticket desks");
  await person.chord(Key.CONTROL, "f");
  await person.find("input[placeholder^='Find an element']");
  await person.press("Ticket desks", Key.ENTER);
  await person.fill("Capacity", "4");
  await person.find("[aria-label='was 3']");
  await person.press(Key.TAB);
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await person.sees("Ticket desks: capacity 3 becomes 4.");
  await person.click("take over");
  await person.sees("In nothing that is run or drawn.");
  const [original] = (await saved()).designs as unknown as { elements: { name: string; capacity?: string }[] }[];
  expect(original.elements.find((e) => e.name === "Ticket desks")?.capacity).toBe("4");
});

test.each(["chart", "night"])(
  "assistive technology finds no serious fault in any view, and the contrast holds, in the colours of %s",
  async (theme) => {
    const { person } = stage;
    const axe = readFileSync(createRequire(join(process.cwd(), "package.json")).resolve("axe-core/axe.min.js"), "utf8");
    const check = async (view: string) => {
      await person.driver.executeScript(axe);
      const found = (await person.driver.executeAsyncScript(
        "const done = arguments[0]; axe.run().then((r) => done(r.passes.length < 10 ? ['hardly anything was checked'] : r.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.target + ' ' + n.any.concat(n.all).map((a) => a.message).join(' ')).join(' | '))))",
      )) as string[];
      expect([view, ...found]).toEqual([view]);
    };
    await person.go(stage.server.url);
    await person.driver.executeScript("localStorage.setItem('busy-harbor-theme', arguments[0])", theme);
    await person.go(stage.server.url);
    await person.sees("Foot passengers");
    await check("home");
    await person.click("Foot passengers for the 9:10");
    const desks = await person.onFloor("Ticket desks");
    await check("design card");
    await person.click("Frame");
    await person.find("[data-testid=in-words]");
    await check("frame");
    await person.click("Build");
    await person.onFloor("Ticket desks");
    await person.clickAt(desks.x, desks.y);
    await person.sees("Takes entities from");
    await check("element card");
    await person.press(Key.ESCAPE);
    await person.click("Waiting for a desk");
    await check("display card");
    await person.click("All displays");
    await dropFile(
      person,
      "Ticket hall.dxf",
      readFileSync(join(__dirname, "..", "web", "test", "drawings", "hall-2000-inches.dxf")),
    );
    await person.sees("Ticket hall added.");
    await check("drawing card");
    await person.click("All drawings");
    await check("list of drawings");
    await person.chord(Key.CONTROL, "z");
    await person.press("t");
    await person.find("[data-testid=ledger-grid]");
    await check("ledger");
    await person.press("t");
    await person.chord(Key.CONTROL, "k");
    await person.sees("Give up dragging");
    await check("commands");
    await person.press(Key.ESCAPE);
    await person.go(stage.server.url);
    await person.click("Container workshop");
    const stands = await person.onFloor("Repair stands");
    await person.clickAt(stands.x, stands.y);
    await person.sees("For work it needs 1 of Fitters.");
    for (const title of await person.driver.findElements(By.css("aside h3 button[aria-expanded=false]")))
      await title.click();
    await check("station card, all of it");
    const fitters = await person.onFloor("Fitters");
    await person.clickAt(fitters.x, fitters.y);
    await person.sees("3 members.");
    await check("crew card");
    await person.click("Calendars");
    await person.sees("Dates with other hours".toUpperCase());
    await check("calendars");
    const reply = await fetch(`${stage.server.url}/api/studies`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ study: weighedCrates() }),
    });
    const logic = ((await reply.json()) as { id: string }).id;
    await person.go(`${stage.server.url}/study/${logic}/build/procedures`);
    await person.sees("Otherwise");
    await check("rule");
    await (await person.driver.findElements(By.css("[data-step]")))[0].sendKeys(Key.ENTER);
    await person.find("[data-testid=step-chooser]");
    await check("choice of a step");
    await person.press(Key.ESCAPE);
    await person.click("Weigh");
    await person.sees("Where used".toUpperCase());
    await check("procedure");
    await person.go(stage.server.url);
    await person.click("Chandlery store");
    const shelves = await person.onFloor("Shelves");
    await person.clickAt(shelves.x, shelves.y);
    await person.sees("each; who finds too little goes without");
    for (const title of await person.driver.findElements(By.css("aside h3 button[aria-expanded=false]")))
      await title.click();
    await check("stock card, all of it");
    await person.go(stage.server.url);
    await person.click("Container workshop");
    await person.onFloor("Repair stands");
    await (await person.find("[data-testid=run]")).click();
    await person.sees("20 of 20 replications", 60_000);
    await check("shares of time");
    for (const stageName of ["Frame", "Watch", "Check", "Measure", "Compare", "Tell"]) {
      await person.click(stageName);
      await person.driver.sleep(500);
      await check(stageName);
    }
  },
  120_000,
);

test("a renamed element is renamed in the expressions that read it, from the card and from the ledger", async () => {
  const { person } = stage;
  await newStudy(stage);
  for (const kind of ["Arrivals", "Station"]) {
    await person.press("a", kind, Key.ENTER);
    await person.onFloor(kind);
  }
  const elements = async () => (await saved()).designs[0].elements as unknown as { name: string; between?: string }[];
  const find = async (name: string) => {
    await person.chord(Key.CONTROL, "f");
    await person.find("input[placeholder^='Find an element']");
    await person.press(name, Key.ENTER);
    await person.driver.wait(async () => (await person.text("[data-testid=card] h2")) === name, 5000);
  };
  await find("Arrivals");
  await person.fill("Time between", "10 s + Station.busy * 1 s");
  await find("Station");
  await person.fill("Name", "Main desk");
  await person.press(Key.TAB);
  await person.sees("Station is now Main desk in one place too.");
  expect((await elements())[0].between).toBe("10 s + `Main desk`.busy * 1 s");
  await (await person.find("[data-testid=floor]")).click();
  await person.press("t");
  await person.find("[data-testid=ledger-grid]");
  await (await person.driver.findElement(By.xpath("//*[@role='tab'][starts-with(., 'Stations')]"))).click();
  const cell = await person.driver.findElement(
    By.xpath("//*[@data-testid='ledger-grid']//*[@role='gridcell'][normalize-space(.)='Main desk']"),
  );
  await cell.click();
  await person.press("Counter", Key.ENTER);
  await person.driver.wait(
    async () => (await elements())[0].between === "10 s + Counter.busy * 1 s",
    8000,
    "The ledger's rename did not reach the expression",
  );
  await person.press("t");
});

test("a station's line gets an order and a patience, and those turned away a way of their own; the results tell", async () => {
  const { person } = stage;
  await newStudy(stage);
  for (const [i, kind] of ["Arrivals", "Station", "Departures", "Departures"].entries()) {
    await person.driver
      .actions()
      .move({ x: 300 + 150 * i, y: i === 3 ? 480 : 320 })
      .perform();
    await person.press("a", kind, Key.ENTER);
    await person.onFloor(i === 3 ? "Departures 2" : kind);
  }
  const linkTo = async (from: string, to: string) => {
    await person.chord(Key.CONTROL, "f");
    await person.find("input[placeholder^='Find an element']");
    await person.press(from, Key.ENTER);
    await person.driver.wait(async () => (await person.text("[data-testid=card] h2")) === from, 5000);
    await person.press("l", to, Key.ENTER);
    await person.sees(`${from} linked to ${to}.`);
  };
  await linkTo("Arrivals", "Station");
  await linkTo("Station", "Departures");
  await linkTo("Station", "Departures 2");
  await person.choose("Takes", "those turned away");
  await person.sees("No one is turned away at Station");
  const at = await person.onFloor("Station");
  await person.clickAt(at.x, at.y);
  await person.driver
    .findElement(By.xpath("//aside//h3/button[normalize-space(.)='Order and patience of its line']"))
    .click();
  await person.choose("Next is", "who came last");
  await person.fill("Patience", "3 min");
  await person.sees("Who has waited 3 min gives up. Those turned away go to Departures 2.");
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await person.sees("No problems: this design can run.");
  await (await person.find("[data-testid=run]")).click();
  await person.sees("20 of 20 replications", 60_000);
  expect(Number(await meanShown(person, "Station", "Gave up waiting"))).toBeGreaterThan(0);
  expect(await person.errors()).toEqual([]);
});
