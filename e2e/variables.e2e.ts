import { By, Key } from "selenium-webdriver";
import { useStage } from "./support/stage.ts";

const stage = useStage();

const cell = async (row: number, column: number) => {
  const cells = await (
    await stage.person.find("[data-testid=variables-grid]")
  ).findElements(By.css(`[data-row]:nth-of-type(${row}) [aria-colindex="${column}"]`));
  return cells[0];
};
/** Writes into a cell as a person does: goes there, types, and is done. */
const write = async (row: number, column: number, text: string) => {
  const { person } = stage;
  await (await cell(row, column)).click();
  await person.press(Key.ENTER);
  await person.driver.sleep(250);
  await person.chord(Key.CONTROL, "a");
  await person.press(text || Key.BACK_SPACE);
  await person.driver.sleep(250);
  await person.press(Key.TAB);
};

const toVariables = async () => {
  await stage.person.click("Tables");
  await (await stage.person.find("[data-testid=show-variables]")).click();
  await stage.person.find("[data-testid=variables-grid]");
};

test("a variable is made, read by a station, given another value in one design, and measured", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await toVariables();
  await person.sees("No variables. One is a value of the system as a whole");
  await person.driver.findElement(By.xpath("//main//button[normalize-space(.)='Variable']")).click();
  await write(1, 1, "Desk time");
  await write(1, 2, "2 min");
  await person.driver.wait(
    async () => (await (await cell(1, 5)).getText()) === "a time",
    5000,
    "It is not known as a time",
  );

  // The station reads it: half of it, by the name that completion offers.
  await person.click("Floor");
  const desks = await person.onFloor("Ticket desks");
  await person.clickAt(desks.x, desks.y);
  await person.fill("Time", "`Desk time` / 2");
  await person.sees("Saved");
  await toVariables();
  await (await cell(1, 5)).click();
  await person.sees("Ticket desks, time");

  // Another name reaches the station; this design begins with another value, and measures it.
  await write(1, 1, "Service");
  await person.sees("The new name is written in one place too.");
  await write(1, 3, "3 min");
  await (await cell(1, 5)).click();
  await person.click("Measure over time");
  await person.sees("Service over time is among the measures of One shared line now.");
  expect(await (await cell(1, 6)).getText()).toBe("over time");
  await person.click("Ticket desks, time");
  await person.setting("Time");
  const time = await person.text("[data-testid=card]");
  expect(time).toContain("Service / 2");
  expect(await person.errors()).toEqual([]);
});

test("a first value that cannot be read is told in its cell, and the problem leads there", async () => {
  const { person } = stage;
  await toVariables();
  await write(1, 2, "2 sloops");
  await write(1, 3, "");
  await person.driver.wait(
    async () => (await (await cell(1, 2)).getAttribute("aria-invalid")) === "true",
    5000,
    "The slip is not marked",
  );
  await person.click("Floor");
  await person.onFloor("Ticket desks");
  await person.press(Key.ESCAPE);
  await person.sees('"sloops" is not a unit');
  await person.driver.findElement(By.xpath("//button[contains(., 'sloops')]")).click();
  await person.find("[data-testid=variables-grid]");
  await person.chord(Key.CONTROL, "z");
  await person.chord(Key.CONTROL, "z");
  await person.driver.wait(
    async () => (await (await cell(1, 3)).getText()) === "3 min",
    5000,
    "Undo does not give the value back",
  );
});
