import { By } from "selenium-webdriver";
import { useStage } from "./support/stage.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

const desk = (id: string, name: string, capacity: string, more: object = {}, time = "exponential(4 min)") => ({
  id,
  name,
  entityTypes: [{ id: "t1", name: "Visitor" }],
  elements: [
    { id: "in", kind: "arrivals", name: "Door", at: [0, 0], entityType: "t1", between: "exponential(3 min)" },
    { id: "s", kind: "station", name: "Desk", at: [14, 0], time, capacity },
    { id: "out", kind: "departures", name: "Street", at: [28, 0] },
  ],
  links: [
    { id: "l1", from: "in", to: "s" },
    { id: "l2", from: "s", to: "out" },
  ],
  ...more,
});

const STUDY = {
  format: "busy-harbor-study",
  version: 1,
  name: "Customs desk",
  run: { length: "10 h", replications: 20 },
  designs: [
    desk("d1", "Two clerks", "2"),
    desk("d2", "Three clerks", "3", { copiedFrom: "d1" }),
    desk("d3", "Six clerks", "6", { copiedFrom: "d1" }),
  ],
};

const saved = async (id: string) => {
  const { person, server } = stage;
  await person.sees("Saved");
  return ((await (await fetch(`${server.url}/api/studies/${id}`)).json()) as { study: Record<string, unknown> }).study;
};

test("what decides is said in Frame, and leads Measure and Compare", async () => {
  const { person, server } = stage;
  const id = await storeStudy(server, STUDY);
  await person.go(`${server.url}/study/${id}/frame`);
  const write = async (css: string, text: string) => (await person.find(css)).sendKeys(text);
  await write("#question", "Is a third clerk worth the wage?");
  await write("textarea[placeholder^='What the model has']", "The hall and its desk");
  await person.click("Assumption");
  await write("[aria-label='Assumption 1']", "Visitors come at random");
  await (await person.find("[aria-label='State of assumption 1']")).click();
  await (await person.driver.findElement(By.xpath("//*[@role='option'][contains(., 'confirmed')]"))).click();
  await write("[aria-label='Who said so of assumption 1']", "Harbour master");
  await person.sees("none open");

  await (await person.find("[aria-label='Add a deciding measure']")).click();
  await (await person.find("[data-testid=choices] input")).sendKeys("time in system, mean");
  await person.driver.sleep(300);
  await person.press("\uE007");
  const row = "[data-deciding='t1/timeInSystem.mean']";
  await person.find(row);
  await write(`${row} [aria-label^='Target']`, "5 kg");
  await person.sees("Target: This is");
  await (await person.find(`${row} [aria-label^='Target']`)).clear();
  await write(`${row} [aria-label^='Target']`, "6 min");
  await write(`${row} [aria-label^='Smallest']`, "1 min");
  expect((await saved(id)).frame).toMatchObject({
    inside: "The hall and its desk",
    assumptions: [{ text: "Visitors come at random", state: "confirmed", by: "Harbour master" }],
    deciding: [{ measure: "t1/timeInSystem.mean", better: "less", target: "6 min", matters: "1 min" }],
  });

  // The design in words, marked where it differs.
  expect(await person.text("[data-testid=in-words]")).toContain("Takes entities from Door");
  await person.click("Measure");

  await (await person.find("[data-testid=run]")).click();
  await person.sees("20 of 20 replications", 60_000);
  const figure = await person.text("[data-testid=deciding]");
  expect(figure).toContain("at most 6 min");
  expect(await (await person.find("[data-testid=deciding] [data-verdict]")).getAttribute("data-verdict")).toMatch(
    /met|missed|open/,
  );
  await person.sees("Busiest: Desk");

  // A run is given a name, which is taken back and given again.
  await write("[aria-label='Name of the run']", "First look");
  await person.press("\uE004");
  await person.sees("The name of the run is kept.");
  // The keys are in the note now, and stay there.
  const at = await person.driver.switchTo().activeElement().getAttribute("aria-label");
  expect(at).toBe("Note beside the run");
  await person.driver.wait(
    async () => (await person.text("[data-testid=run-history]")).includes("Run 1 · First look"),
    5000,
    "The history does not name it",
  );
  await person.click("Undo");
  await person.driver.wait(
    async () => (await person.text("[data-testid=run-history]")).includes("Run 1 · Two clerks"),
    5000,
    "The name was not taken back",
  );

  await person.click("Compare");
  await (await person.find("#compare-d3")).click();
  await (await person.find("[data-testid=run-missing]")).click();
  await person.find("[data-testid=all-together]", 60_000);
  const together = await person.text("[data-testid=all-together]");
  expect(together).toContain("Visitor: Time in system, mean, min");
  expect(together).toMatch(/Analysis of variance with replications as blocks: F\(2, 38\) = /);
  // The order is that of the means, the best first, and two clerks share no letter with the others.
  expect(together).toMatch(/Six clerks .* a .*\nThree clerks .*\nTwo clerks .* c .* no/);
  expect(await person.text("[data-testid=winners]")).toMatch(/with 95 % confidence/);
  await person.sees("enough to matter");
  expect(await person.errors()).toEqual([]);
});

test("a warm-up is suggested from how levels settle, and taken with a click", async () => {
  const { person, server } = stage;
  // An empty start of a desk that is nearly always busy, seen over hundreds of times its service.
  const study = {
    ...STUDY,
    name: "Long desk",
    run: { length: "40 d", replications: 5 },
    designs: [desk("d1", "One clerk", "1", {}, "exponential(2.7 min)")],
  };
  const id = await storeStudy(server, study);
  await person.go(`${server.url}/study/${id}/measure`);
  await person.click("See how it settles …");
  await person.find("[data-testid=suggestion]", 60_000);
  await person.sees("Visitor: In system, average");
  const said = /suggests a warm-up of ([\d.]+ \w+)\./.exec(await person.text("[data-testid=suggestion]"))?.[1];
  expect(said).toBeDefined();
  expect(await person.driver.findElements(By.css("[data-testid=warm-up-dialog] .recharts-line"))).toHaveLength(2);
  await person.click(`Take ${said}`);
  await person.sees(`The warm-up is ${said} now.`);
  expect(((await saved(id)).run as { warmUp: string }).warmUp).toBe(said);
  await person.chord("\uE009", "z");
  await person.driver.sleep(300);
  expect(((await saved(id)).run as { warmUp: string }).warmUp).toBe("0 h");
  expect(await person.errors()).toEqual([]);
});
