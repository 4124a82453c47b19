import { By } from "selenium-webdriver";
import { meanShown } from "./support/figures.ts";
import { newStudy, useStage } from "./support/stage.ts";

const stage = useStage();

const STATIONS = ["A", "B", "C", "D", "E", "F", "G", "H", "I"];
/** Where each kind goes, and for how many minutes; places are come to twice. */
const KINDS: Readonly<Record<string, string>> = {
  Dinghy: "A3 B5 C2",
  Cutter: "B4 D7 A1 E2 F6 G3 H8 I2 C5 D4 B9",
  Yawl: "I1 H2 I3",
  Punt: "E10",
};
const steps = Object.entries(KINDS).flatMap(([kind, route]) =>
  route.split(" ").map((step) => ({ kind, at: step[0], minutes: Number(step.slice(1)) })),
);
const block = (lines: readonly (readonly (string | number)[])[]) => lines.map((line) => line.join("\t")).join("\n");

/** Pastes where the focus is, as a person does who has copied a block elsewhere. */
const paste = (text: string) =>
  stage.person.driver.executeScript(
    `const data = new DataTransfer();
     data.setData("text/plain", arguments[0]);
     document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));`,
    text,
  );
/** Pastes a block into a tab of the ledger, looks at what it would do, and puts it in. */
async function pasteRows(tab: string, text: string, told: string): Promise<void> {
  const { person } = stage;
  await person.click(tab);
  const grid = await person.find("[data-testid=ledger-grid]");
  await person.driver.executeScript("arguments[0].focus()", grid);
  await paste(text);
  await person.sees(told);
  // What only changes rows that are there goes in at once.
  if (told.includes("changed")) return;
  expect(await person.text("[data-testid=paste-preview]")).not.toContain("remark");
  await person.click("Put in");
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css("[data-testid=paste-preview]"))).length === 0,
    5000,
    "The block was not put in",
  );
}

test("a job shop of nine stations and four kinds is built from nothing, and takes each kind its time to the second", async () => {
  const { person } = stage;
  await newStudy(stage);
  await person.press("t");
  await person.find("[data-testid=ledger-grid]");
  await pasteRows(
    "Entity types",
    block([["Name", "Look"], ...Object.keys(KINDS).map((kind) => [kind, "boat"])]),
    "4 rows added",
  );
  await pasteRows("Stations", block([["Name", "Time"], ...STATIONS.map((name) => [name, "1 min"])]), "9 rows added");
  await pasteRows(
    "Arrivals",
    block([
      ["Name", "Entity type", "Time between", "First arrival"],
      ...Object.keys(KINDS).map((kind, i) => [`${kind} comes`, kind, "100 h", `${i * 4 + 1} h`]),
    ]),
    "4 rows added",
  );
  await pasteRows(
    "Departures",
    block([
      ["Name", "Across"],
      ["Out", 40],
    ]),
    "1 row added",
  );

  // The route is pasted into an empty table: what its columns hold is guessed from the names that there are.
  await person.click("Tables");
  await (
    await (await person.find("aside[aria-label=Tables]")).findElement(By.xpath(".//button[normalize-space(.)='Table']"))
  ).click();
  await person.write(await person.find("[aria-label='Name of the table']"), "Routes");
  await (await person.find("[data-testid=table-grid]")).click();
  await paste(block([["kind", "next", "time (min)"], ...steps.map(({ kind, at, minutes }) => [kind, at, minutes])]));
  await person.sees(`${steps.length} rows of 3 columns`);
  await person.sees("new: an entity type");
  await person.sees("new: an element");
  await person.click("Take in");
  await person.driver.findElement(By.xpath("//label[contains(., 'It is a route')]//button")).click();
  await person.sees("Choose “along its route” as the way out");

  // Stations read it, and send on by it; all are linked.
  await person.click("Floor");
  await person.find("[data-testid=ledger-grid]");
  const going = (names: string[]) => names.map((name) => [name, "route"]);
  await pasteRows(
    "Stations",
    block([["Name", "Way out", "Time"], ...going(STATIONS).map((row) => [...row, "entity.route.time"])]),
    "9 rows changed",
  );
  await pasteRows(
    "Arrivals",
    block([["Name", "Way out"], ...going(Object.keys(KINDS).map((kind) => `${kind} comes`))]),
    "4 rows changed",
  );
  const places = [...STATIONS, "Out"];
  const links = [...Object.keys(KINDS).map((kind) => `${kind} comes`), ...STATIONS].flatMap((from) =>
    places.filter((to) => to !== from).map((to) => [from, to]),
  );
  await pasteRows("Links", block([["From", "To"], ...links]), `${links.length} rows added`);

  await person.press("t");
  await person.click("Measure");
  await person.fill("Length", "24 h");
  await person.fill("Replications", "1");
  await (await person.find("[data-testid=run]")).click();
  await person.sees("1 of 1 replications of 24 h", 30_000);
  for (const kind of Object.keys(KINDS)) {
    const minutes = steps.filter((step) => step.kind === kind).reduce((sum, step) => sum + step.minutes, 0);
    expect(await meanShown(person, kind, "Time in system, mean")).toBe(String(minutes));
    expect(await meanShown(person, kind, "Departed")).toBe("1");
  }
  expect(await person.errors()).toEqual([]);
}, 240_000);
