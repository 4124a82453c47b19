import { By } from "selenium-webdriver";
import { newStudy, useStage } from "./support/stage.ts";

const stage = useStage();

interface Stored {
  readonly revision: number;
  readonly study: { run: Record<string, unknown>; calendars: { exceptions: unknown[]; firstWeek: string }[] };
}

const studyId = async () => /study\/([^/]+)/.exec(await stage.person.driver.getCurrentUrl())![1];
const stored = async (id: string) => (await (await fetch(`${stage.server.url}/api/studies/${id}`)).json()) as Stored;

test("two tabs of one study: who saves second is told, sees the differences, and both versions can be kept", async () => {
  const { person, server } = stage;
  const { driver } = person;
  await newStudy(stage);
  await person.press("a", "Station", "\uE007");
  await person.onFloor("Station");
  await person.sees("Saved");
  const id = await studyId();
  const first = await driver.getWindowHandle();
  await driver.switchTo().newWindow("tab");
  await person.go(`${server.url}/study/${id}/build`);
  await person.onFloor("Station");
  await (await person.find("[data-testid=floor]")).click();
  await person.press("a", "Queue", "\uE007");
  await person.onFloor("Queue");
  await driver.wait(async () => (await stored(id)).revision >= 3, 10_000, "The second tab never saved");
  await driver.switchTo().window(first);
  await (await person.find("[data-testid=floor]")).click();
  await person.press("a", "Dwell", "\uE007");
  await person.sees("This study was changed elsewhere");
  await person.click("Show the differences");
  const differences = await person.text("[data-testid=conflict-differences]");
  expect(differences).toMatch(/Dwell is added/);
  expect(differences).toMatch(/Queue is not there|Queue is removed/);
  await person.click("Keep both");
  await person.onFloor("Queue");
  await person.sees("Saved");
  expect(await driver.findElements(By.css('[data-element="Dwell"]'))).toHaveLength(0);
  const list = (await (await fetch(`${server.url}/api/studies`)).json()) as { id: string; name: string }[];
  const mine = list.find((s) => s.name.endsWith("(mine)"))!;
  await person.go(`${server.url}/study/${mine.id}/build`);
  await person.onFloor("Dwell");
  // The refused save is the only request that failed.
  expect((await person.errors()).filter((e) => !e.includes("409"))).toEqual([]);
});

test("dates that do not exist break no page, and are said where they stand", async () => {
  const { person, server } = stage;
  const list = (await (await fetch(`${server.url}/api/studies`)).json()) as { id: string; name: string }[];
  const { id } = list.find((s) => s.name === "Container workshop")!;
  const { revision, study } = await stored(id);
  study.run = { ...study.run, start: "2026-13-01T08:00", ends: "date", endDate: "2026-02-30T08:00" };
  study.calendars[0].exceptions = [{ date: "2026-04-31", note: "", rows: [] }];
  study.calendars[0].firstWeek = "2026-00-10";
  expect(
    (
      await fetch(`${server.url}/api/studies/${id}`, {
        method: "PUT",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ revision, study }),
      })
    ).status,
  ).toBe(200);
  for (const [page, words] of [
    ["build", "There is no 2026-13-01 08:00"],
    ["build/calendars", "there is no 2026-04-31"],
    ["watch", "Measure"],
    ["measure", "There is no 2026-13-01 08:00"],
    ["compare", "Measure"],
  ] as const) {
    await person.go(`${server.url}/study/${id}/${page}`);
    await person.sees(words);
    expect(await person.text("body")).not.toContain("This page broke");
  }
  expect(await person.errors()).toEqual([]);
});
