import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { By } from "selenium-webdriver";
import { meanShown } from "./support/figures.ts";
import { useStage } from "./support/stage.ts";

const stage = useStage();

test("a run is of antithetic pairs, and each departure is a row of a file that is saved", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.click("Measure");
  await person.choose("Type", "antithetic pairs");
  await person.fill("Pairs", "12");
  await person.driver.findElement(By.xpath("//label[contains(., 'Write each departure to a file')]//button")).click();
  await (await person.find("[data-testid=run]")).click();
  await person.sees("12 of 12 antithetic pairs of replications of 70 min", 30_000);
  await person.sees("12 pairs");
  const departed = Number(await meanShown(person, "Commuter", "Departed"));

  await person.click("Observations");
  const saved = () => readdirSync(person.downloads).find((name) => name.endsWith("observations.csv"));
  await person.driver.wait(async () => saved() !== undefined, 10_000, "No observations were saved");
  const [head, ...rows] = readFileSync(join(person.downloads, saved()!), "utf8").trimEnd().split("\r\n");
  expect(head).toMatch(/^Replication,Left at \(s\),By,Type,Time in system \(s\)/);
  // Both of each pair are there: the mean of a pair is over two.
  const commuters = rows.filter((row) => row.split(",")[3] === "Commuter").length;
  expect(commuters / 24).toBeCloseTo(departed, 1);
  expect(await person.errors()).toEqual([]);
});
