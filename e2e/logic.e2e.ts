import { By, Key } from "selenium-webdriver";
import { useStage } from "./support/stage.ts";

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
  const reply = await fetch(`${server.url}/api/studies`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ study: STUDY }),
  });
  const { id } = (await reply.json()) as { id: string };
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
      return `${level} ${await line.getAttribute("aria-label")}: ${texts.join(" | ")}`;
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
