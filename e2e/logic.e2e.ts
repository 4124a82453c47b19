import { By, Key } from "selenium-webdriver";
import { meanShown } from "./support/figures.ts";
import { newStudy, useStage } from "./support/stage.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const STUDY = {
  format: "busy-harbor-study",
  version: 1,
  name: "Tea warehouse",
  run: { length: "10 d", replications: 5 },
  variables: [
    { id: "v1", name: "Heavy", value: "0" },
    { id: "v2", name: "Longest", value: "0 min" },
  ],
  designs: [
    {
      id: "d1",
      name: "As it is",
      entityTypes: [
        {
          id: "t1",
          name: "Crate",
          attributes: [
            { name: "weight", value: "uniform(80 kg, 240 kg)" },
            { name: "checked", value: "no" },
          ],
        },
      ],
      elements: [
        { id: "in", kind: "arrivals", name: "Lorry", at: [0, 0], entityType: "t1", between: "exponential(12 min)" },
        { id: "s", kind: "station", name: "Scales", at: [28, 0], time: "triangular(4 min, 8 min, 14 min)" },
        { id: "out", kind: "departures", name: "Store", at: [42, 0] },
        { id: "crew", kind: "crew", name: "Porters", at: [28, 10], count: "2" },
      ],
      links: [
        { id: "l1", from: "in", to: "s" },
        { id: "l2", from: "s", to: "out" },
      ],
      measures: [{ id: "m1", kind: "recorded", name: "Weight of the heavy" }],
    },
  ],
};

async function openProcedures(): Promise<void> {
  const { person, server } = stage;
  const id = await storeStudy(server, STUDY);
  await person.go(`${server.url}/study/${id}/build/procedures`);
  await person.sees("A rule says what is done when something happens");
}

const pause = () => stage.person.driver.sleep(300);
/** Types into the field that has the keys, as a person does who has just come there. */
const type = async (text: string, ...then: string[]) => {
  await pause();
  await stage.person.chord(Key.CONTROL, "a");
  await stage.person.press(text);
  await pause();
  // Escape puts an offer of names away, where one is open.
  for (const key of then) {
    await stage.person.press(key);
    await pause();
  }
};
/** Chooses a step by typing part of what it is called. */
const step = async (words: string) => {
  await stage.person.find("[data-testid=step-chooser]");
  await stage.person.press(words);
  await pause();
  await stage.person.press(Key.ENTER);
  await pause();
};
const lines = async () => {
  const found = await stage.person.driver.findElements(By.css("[data-step]"));
  return Promise.all(
    found.map(async (line) => {
      const level = Number(await line.getAttribute("aria-level"));
      const fields = await line.findElements(By.css("textarea, input:not([type=checkbox]), .cm-content"));
      const texts = await Promise.all(
        fields.map(async (f) => ((await f.getTagName()) === "div" ? f.getText() : f.getAttribute("value"))),
      );
      return `${level} ${await line.getAttribute("data-kind")}: ${texts.join(" | ")}`;
    }),
  );
};

test("by the keys alone: a branch with three assignments at the start of work, run, and its measure found", async () => {
  const { person } = stage;
  await openProcedures();
  await person.command("Add a rule: another rule");
  await person.sees("An entity comes in");
  await person.choose("When", "work starts on an entity, or the first of a batch");
  // The button that adds a step takes "/" too.
  await person.driver.executeScript(
    "[...document.querySelectorAll('main button')].find((b) => b.textContent.includes('Step')).focus()",
  );
  await person.press("/");
  await step("if");
  await type("entity.weight > 200 kg", Key.ESCAPE, Key.ENTER);
  await step("set");
  await type("Heavy", Key.TAB);
  await type("Heavy + 1", Key.TAB);
  await person.press(Key.ENTER); // another value
  await type("Longest", Key.TAB);
  await type("max(Longest, entity.age)", Key.TAB, Key.TAB);
  await person.press(Key.ENTER);
  await type("entity.checked", Key.TAB);
  await type("yes", Key.ESCAPE, Key.ENTER);
  await step("record");
  await type("entity.weight", Key.ESCAPE);
  await person.press(Key.ESCAPE);
  await person.sees("Saved");
  expect(await lines()).toEqual([
    "1 If: entity.weight > 200 kg",
    "2 Set: Heavy | Heavy + 1 | Longest | max(Longest, entity.age) | entity.checked | yes",
    "2 Record in a measure: entity.weight",
  ]);
  expect(await person.driver.findElements(By.css("main .text-buoy-deep"))).toHaveLength(0);

  // Out of the branch and in again, up and down; what was done is undone.
  await person.chord(Key.SHIFT, Key.TAB);
  await pause();
  expect((await lines()).map((line) => line.slice(0, 8))).toEqual(["1 If: en", "2 Set: H", "1 Record"]);
  await person.press(Key.TAB);
  await pause();
  await person.chord(Key.ALT, Key.ARROW_UP);
  await pause();
  expect((await lines()).map((line) => line.slice(0, 8))).toEqual(["1 If: en", "2 Record", "2 Set: H"]);
  await person.chord(Key.CONTROL, "z");
  await pause();
  expect((await lines()).map((line) => line.slice(0, 8))).toEqual(["1 If: en", "2 Set: H", "2 Record"]);

  await person.click("Run 5");
  await person.sees("Weight of the heavy");
  expect(await person.errors()).toEqual([]);
});

/** The study as it is saved. */
const saved = async () => {
  const { person, server } = stage;
  await person.sees("Saved");
  const id = /study\/([^/]+)/.exec(await person.driver.getCurrentUrl())![1];
  const reply = await fetch(`${server.url}/api/studies/${id}`);
  return (
    (await reply.json()) as { study: { designs: { rules?: { steps: { do: string }[] }[]; displays: object[] }[] } }
  ).study.designs[0];
};

test("colour by case, without an expression typed: seen while watching, with its meaning", async () => {
  const { person } = stage;
  await openProcedures();
  await person.click("Rule");
  await (
    await person.find("[data-testid=ready-made]")
  )
    .findElement(By.xpath(".//*[contains(., 'Colour by case')]"))
    .click();
  await person.sees("Colour the entity");
  expect((await saved()).rules![0].steps.map((s) => s.do)).toEqual(["if", "else"]);
  expect((await lines())[0]).toBe("1 If: entity.checked");
  await person.click("Watch");
  await person.find("[aria-label='Colours that steps give']");
  expect(await person.text("[aria-label='Colours that steps give']")).toBe("checked\nothers");
  for (let i = 0; i < 4; i++) await person.press("]");
  await person.driver.wait(
    async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-events")) > 3,
    15_000,
    "Nothing moved",
  );
  expect(await person.errors()).toEqual([]);
});

test("a step stops the watch and tells what is called by names there; the log has its lines", async () => {
  const { person } = stage;
  await openProcedures();
  await person.command("Add a rule: note in the log");
  await person.sees("An entity comes in");
  const first = (await person.driver.findElements(By.css("[data-step]")))[0];
  await first.sendKeys(Key.ENTER);
  await step("call a value");
  await type("seen", Key.TAB);
  await type("clock", Key.ESCAPE, Key.ENTER);
  await step("wait for a time");
  await type("2 min", Key.ESCAPE);
  await person.press(Key.ESCAPE, Key.F9);
  await pause();
  await person.sees("Saved");
  await person.click("Watch");
  await person.find("[data-testid=clock]");
  for (let i = 0; i < 4; i++) await person.press("]");
  await person.find("[data-testid=reached]");
  const told = await person.text("[data-testid=reached]");
  expect(told).toContain("Wait 2 min");
  expect(told).toMatch(/seen = \S+/);
  expect(await person.text("section[aria-label=Steps]")).toContain("came in (entity 1)");
  expect(await person.text("[data-testid=play]")).toBe("Play");
});

test("steps pasted as text act, are lit where the watch stops, and their rows are saved beside the results", async () => {
  const { person, server } = stage;
  await openProcedures();
  await person.command("Add a rule: another rule");
  await person.sees("An entity comes in");
  await person.choose("When", "an entity joins the line");
  const paste = (text: string) =>
    person.driver.executeScript(
      "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); document.querySelector('[data-testid=steps]').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))",
      text,
    );
  await paste("Sing a song");
  await person.sees("Line 1 is no step that can be read: Sing a song");
  await paste(
    [
      "Find the one with the most of heaviest.weight in the line of Scales, calling it heaviest",
      "Otherwise",
      "    End here",
      "Put heaviest before all others in its line  // the heavy first",
      "Write a row into Overtaken: weight = heaviest.weight; line = Scales.queue.length",
    ].join("\n"),
  );
  await pause();
  expect(await lines()).toEqual([
    "1 Find in a line: heaviest.weight | Scales | heaviest",
    "1 Otherwise: ",
    "2 End here: ",
    "1 Change the place in line: heaviest | the heavy first",
    "1 Write a row: Overtaken | weight | heaviest.weight | line | Scales.queue.length",
  ]);
  await person.press(Key.F9);
  await person.sees("Saved");
  expect(await person.driver.findElements(By.css("main .text-buoy-deep"))).toHaveLength(0);

  await person.click("Watch");
  await person.find("[data-testid=clock]");
  for (let i = 0; i < 6; i++) await person.press("]");
  await person.find("[data-testid=reached]");
  expect(await person.text("[data-testid=reached] [aria-current=step]")).toMatch(/^Write a row into Overtaken/);
  expect(await person.text("[data-testid=reached]")).toContain("Put heaviest before all others in its line");

  await person.click("Measure");
  await (await person.find("[data-testid=run]")).click();
  await person.sees("5 of 5 replications", 60_000);
  const link = (await (await person.find("main a[href$='/rows/0.csv']")).getAttribute("href")) ?? "";
  expect(link.startsWith(server.url)).toBe(true);
  const [head, ...rows] = (await (await fetch(link)).text()).trimEnd().split("\r\n");
  expect(head).toBe("Replication,Written at (s),weight (kg),line");
  expect(new Set(rows.map((row) => row.split(",")[0]))).toEqual(new Set(["1", "2", "3", "4", "5"]));
  expect(await person.errors()).toEqual([]);
});

test("a stock point reviewed time and again, from an empty study: its curves are drawn and its figures read", async () => {
  const { person } = stage;
  await newStudy(stage);
  for (const [i, kind] of ["Arrivals", "Stock point", "Departures"].entries()) {
    await person.driver
      .actions()
      .move({ x: 260 + 180 * i, y: 300 })
      .perform();
    await person.press("a", kind, Key.ENTER);
    await person.onFloor(kind);
  }
  const goTo = async (name: string) => {
    await person.chord(Key.CONTROL, "f");
    await person.find("input[placeholder^='Find an element']");
    await person.press(name, Key.ENTER);
    await person.driver.wait(async () => (await person.text("[data-testid=card] h2")) === name, 5000);
  };
  for (const [from, to] of [
    ["Arrivals", "Stock point"],
    ["Stock point", "Departures"],
  ]) {
    await goTo(from);
    await person.press("l", to, Key.ENTER);
    await person.sees(`${from} linked to ${to}.`);
  }
  await goTo("Arrivals");
  await person.fill("Time between", "exponential(8 h)");
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await goTo("Stock point");
  await person.fill("On hand at the start", "32");
  await person.choose("Orders", "up to a level, at reviews that find the position below it");
  await person.fill("Up to", "32");
  await person.fill("Reviewed every", "5 d");
  await person.fill("Lead time", "4 d");
  await person.sees("reviewed every 5 d; they come after 4 d");
  await person.click("Chart it on the floor");
  expect((await saved()).displays).toHaveLength(1);
  await person.click("Watch");
  for (const words of ["On hand", "On order", "Position"]) await person.sees(words);
  await person.driver.wait(
    async () =>
      (await person.driver.findElements(By.css(".recharts-line, .recharts-area, .recharts-curve"))).length >= 3,
    15_000,
    "The three curves are not drawn",
  );
  await (await person.find("[data-testid=run]")).click();
  await person.sees("20 of 20 replications", 60_000);
  expect(Number(await meanShown(person, "Stock point", "Fill rate"))).toBeGreaterThan(0.5);
  expect(await person.errors()).toEqual([]);
});
