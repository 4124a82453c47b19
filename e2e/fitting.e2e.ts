import { By } from "selenium-webdriver";
import { observedDesk } from "../web/test/observed.ts";
import { useStage } from "./support/stage.ts";
import { storeStudy } from "./support/storeStudy.ts";

const stage = useStage();

test("observed times are fitted, the best is used at the desk, and the card keeps where it came from", async () => {
  const { person } = stage;
  const id = await storeStudy(stage.server, observedDesk());
  await person.go(`${stage.server.url}/study/${id}/build/tables?table=seen`);
  await (await person.find("[data-testid=table-grid]")).click();
  await person.click("Fit a distribution");
  await person.sees("300 values, mean");
  // The best by likelihood stands first and is chosen; all p-values come, those of the wrong ones small.
  await person.driver.wait(
    async () => !(await person.text("[data-testid=fits]")).includes("…"),
    60_000,
    "The p-values never came",
  );
  const told = (await person.text("[data-testid=fits]")).replace(/\s+/g, " ");
  expect(told).toMatch(/χ² p Weibull 0 1\.00 1\.00 1\.00 Gamma/);
  expect(told).toMatch(/Exponential \d+ < 0\.01 < 0\.01 < 0\.01/);
  expect(await person.text("[data-testid=fit-checks]")).toContain("Each value tells of the next");
  expect(await person.text("[data-testid=fit-text]")).toMatch(
    /^weibull\(1\.[78]\d*, 6(\.0\d*)? min\)|^weibull\(1\.[78]\d*, 5\.9\d* min\)/,
  );
  for (const part of ["Quantiles", "Shares", "Neighbours", "Histogram"]) {
    await person.click(part);
    const marks = async () =>
      (
        await person.driver.findElements(
          By.css("[data-testid=fit] svg circle, [data-testid=fit] svg path.recharts-area-area"),
        )
      ).length;
    await person.driver.wait(async () => (await marks()) > 0, 5000, `Nothing is drawn for ${part}`);
  }
  await person.chooseIn(await person.find("[data-testid=fit] [aria-label='Use it for']"), "Desk: time");
  await person.click("Use it");
  await person.sees("Desk: time is weibull(");
  await person.click("Floor");
  const { x, y } = await person.onFloor("Desk");
  await person.clickAt(x, y);
  expect(await (await person.setting("Time")).getAttribute("value")).toMatch(/^weibull\(/);
  await person.sees("fitted to 300 values of Seen, Time");
  expect(await person.errors()).toEqual([]);
});
