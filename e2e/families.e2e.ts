import { By, Key } from "selenium-webdriver";
import { familyYard } from "../web/test/familyYard.ts";
import { useStage } from "./support/stage.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

async function openYard(): Promise<string> {
  const id = await storeStudy(stage.server, familyYard());
  await stage.person.go(`${stage.server.url}/study/${id}/build`);
  return id;
}

test("a station becomes a bay for each row of a table, is measured a bay and together, and gets another by a row", async () => {
  const { person } = stage;
  const id = await openYard();
  const { x, y } = await person.onFloor("Bays");
  await person.clickAt(x, y);
  await person.setting("Time");
  await person.click("Family");
  await person.choose("Stands for", "a member for each row");
  await person.sees("3 members: North, South, West");
  // The row of a member is offered where its settings are written.
  await person.fill("Time", "row.");
  await person.sees("Work");
  await person.press("Work", Key.ESCAPE);
  await person.choose("From a column", "Shift calendar");
  await person.driver.wait(
    async () => (await person.text("[data-testid=card]")).includes("Sea"),
    5000,
    "The card did not come to rest",
  );
  expect(await person.text("[data-testid=card]")).not.toContain("cannot");

  // A member is chosen, and moved, as its family.
  const south: [number, number] = [x, y + 103];
  await person.press(Key.ESCAPE);
  await person.clickAt(...south);
  expect(await (await person.setting("Name")).getAttribute("value")).toBe("Bays");

  await person.click("Ledger");
  const ledger = async () => (await person.text("[data-testid=ledger]")).replace(/\s+/g, " ");
  await person.driver.wait(
    async () => (await ledger()).includes("Bays South 1 55 min"),
    8000,
    "No member in the ledger",
  );

  await person.click("Run 5");
  await person.sees("Run 1: One workshop");
  await person.sees("5 of 5 replications", 30_000);
  const shares = await person.text("table");
  expect(shares).toMatch(/Bays\s[\s\S]*Bays North[\s\S]*Bays South[\s\S]*Bays West/);

  await person.go(`${stage.server.url}/study/${id}/build/tables?table=bays`);
  await person.click("Row");
  const grid = await person.find("[data-testid=table-grid]");
  await person.driver.wait(
    async () => (await grid.findElements(By.css("[data-row]"))).length === 4,
    5000,
    "No fourth row",
  );
  await grid.click();
  await person.chord(Key.CONTROL, Key.END);
  await person.press(Key.HOME, "East", Key.TAB, "20", Key.TAB, "1", Key.ENTER);
  await person.click("Floor");
  const again = await person.onFloor("Bays");
  await person.clickAt(again.x, again.y);
  await person.sees("4 members: North, South, West, East");
  expect(await person.errors()).toEqual([]);
});
