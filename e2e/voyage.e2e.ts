import { mkdtempSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { tmpdir } from "node:os";
import { Key } from "selenium-webdriver";
import { useStage } from "./support/stage.ts";

/** The first voyage: one question answered from an empty page to a defended comparison. */
describe("the whole voyage, as a person would", () => {
  const stage = useStage();

  const place = async (symbol: string, x: number, y: number) => {
    await stage.person.click(symbol);
    await stage.person.clickAt(x, y);
  };

  /** Drags from the handle at an element's right edge to another element. */
  const link = async (from: string, to: string) => {
    const a = await stage.person.onFloor(from);
    const b = await stage.person.onFloor(to);
    await stage.person.driver
      .actions()
      .move({ x: Math.round(a.x), y: Math.round(a.y) })
      .perform();
    await stage.person.drag([a.x + a.width / 2 + 8, a.y], [b.x, b.y]);
    await stage.person.sees(`${from} linked to ${to}.`);
  };

  const run = async () => {
    await (await stage.person.find("[data-testid=run]")).click();
    await stage.person.driver.wait(
      async () => (await (await stage.person.find("[data-testid=run-words]")).getAttribute("data-state")) === "done",
      60_000,
      "The run never ended",
    );
    await stage.person.sees("20 of 20 replications");
  };

  const meanOf = async (measure: string) => {
    const row = await stage.person.find(`[data-row$="${measure}"] [aria-colindex="2"]`);
    return row.getText();
  };

  test("home opens on the demo in motion", async () => {
    await stage.person.go(stage.server.url);
    await stage.person.sees("Foot passengers for the 9:10");
    const clock = () => stage.person.text("[aria-label='The latest study in motion']");
    await stage.person.sees("30 times faster than life");
    const before = await clock();
    await stage.person.driver.sleep(1500);
    expect(await clock()).not.toBe(before);
  });

  test("a new study: place, link and set times with units", async () => {
    await stage.person.click("New study");
    await stage.person.sees("Begin with Arrivals");
    await place("Arrivals", 150, 300);
    await place("Station", 420, 300);
    await place("Departures", 700, 300);
    await link("Arrivals", "Station");
    await link("Station", "Departures");

    const arrivals = await stage.person.onFloor("Arrivals");
    await stage.person.clickAt(arrivals.x, arrivals.y);
    await stage.person.fill("Time between", "12/h");
    await stage.person.sees("exponential(5 min) for random spacing");
    await stage.person.fill("Time between", "exponential(75 s)");

    const station = await stage.person.onFloor("Station");
    await stage.person.clickAt(station.x, station.y);
    await stage.person.fill("Time", "60");
    await stage.person.sees("Add a unit: 60 s, min or h.");
    await stage.person.fill("Time", "exponential(60 s)");
    await stage.person.sees("mean 1 min");
    await stage.person.fill("Name", "Ticket desk");
    expect(await stage.person.text("[data-testid=read-back]")).toContain(
      "Takes entities from Arrivals, first come first served. 1 at once, exponential(60 s) each.",
    );
  });

  test("undo back to empty and redo to the end give the same document", async () => {
    await stage.person.sees("Saved");
    const id = (await stage.person.driver.getCurrentUrl()).split("/").at(-2)!;
    const stored = async () => {
      await stage.person.driver.wait(
        async () => (await stage.person.text("[data-testid=save-state]")).startsWith("Saved "),
        10_000,
        "Never saved",
      );
      const { study } = (await (await fetch(`${stage.server.url}/api/studies/${id}`)).json()) as {
        study: { designs: { elements: unknown[] }[] };
      };
      return study;
    };
    const end = await stored();
    expect(end.designs[0].elements).toHaveLength(3);
    await stage.person.clickAt(300, 560);
    let steps = 0;
    for (; steps < 60; steps++) {
      await stage.person.chord(Key.CONTROL, "z");
      if ((await stage.person.text("[data-sonner-toaster]")).includes("Nothing to undo")) break;
    }
    expect(steps).toBeGreaterThan(5);
    expect((await stored()).designs[0].elements).toHaveLength(0);
    for (let i = 0; i < steps; i++) await stage.person.chord(Key.CONTROL, "y");
    expect(await stored()).toEqual(end);
  });

  test("watch it run, pause, and step one event", async () => {
    await stage.person.click("Watch");
    const clock = () => stage.person.find("[data-testid=clock]");
    const seconds = async () => Number(await (await clock()).getAttribute("data-seconds"));
    await stage.person.driver.wait(async () => (await seconds()) > 30, 20_000, "The clock never ran");
    await (await stage.person.find("[data-testid=play]")).click();
    await stage.person.driver.sleep(400);
    const at = Number(await (await clock()).getAttribute("data-events"));
    await stage.person.click("One event");
    await stage.person.driver.wait(
      async () => Number(await (await clock()).getAttribute("data-events")) === at + 1,
      5000,
      "One event was not one event",
    );
    const faster = await stage.person.find("[role=slider]");
    await faster.sendKeys(Key.END);
    await stage.person.sees("as fast as it goes");
    await (await stage.person.find("[data-testid=play]")).click();
    await stage.person.sees("The replication has ended.", 30_000);
  });

  let first = "";
  test("run 20 replications and read the intervals", async () => {
    await run();
    first = await meanOf("/timeInSystem.mean");
    expect(Number(first)).toBeGreaterThan(2);
    expect(await stage.person.text("[data-testid=chosen-mean]")).toContain("±");
  });

  test("copy the design, change it, and compare", async () => {
    await stage.person.click("Build");
    await (await stage.person.find("[data-testid=design-switcher]")).click();
    await stage.person.click("Copy this design");
    await stage.person.sees("Changes now go to the copy");
    const desk = await stage.person.onFloor("Ticket desk");
    await stage.person.clickAt(desk.x, desk.y);
    await stage.person.fill("Capacity", "2");
    await stage.person.click("Compare");
    await (await stage.person.find("[data-testid=run-missing]")).click();
    const verdict = async () => stage.person.text("[data-measure$='/timeInSystem.mean'] [data-verdict]");
    await stage.person.driver.wait(
      async () => (await verdict().catch(() => "")).includes("shorter at 95 %"),
      40_000,
      "No verdict",
    );
    expect(await verdict()).toMatch(/^[\d.]+ min to [\d.]+ min shorter at 95 %/);
  });

  test("export the file, open it again: same numbers", async () => {
    await stage.person.click("All studies");
    await stage.person.click("Export New study");
    await stage.person.driver.wait(
      () => readdirSync(stage.person.downloads).some((name) => name.endsWith(".json")),
      10_000,
      "No file came",
    );
    const file = join(
      stage.person.downloads,
      readdirSync(stage.person.downloads).find((name) => name.endsWith(".json"))!,
    );
    expect(JSON.parse(readFileSync(file, "utf8"))).toMatchObject({
      format: "busy-harbor-study",
      version: 1,
      name: "New study",
    });
    await (await stage.person.find("input[type=file]")).sendKeys(file);
    await stage.person.driver.wait(
      async () => (await stage.person.driver.getCurrentUrl()).endsWith("/build"),
      10_000,
      "The file did not open",
    );
    await run();
    expect(await meanOf("/timeInSystem.mean")).toBe(first);
  });

  test("a foreign and a broken file are refused with a reason, and nothing is lost", async () => {
    await stage.person.click("All studies");
    const broken = join(mkdtempSync(join(tmpdir(), "harbor-files-")), "broken.json");
    const { writeFileSync } = await import("node:fs");
    writeFileSync(broken, '{"format": "busy-harbor-study", "version": 1, "name": ');
    await (await stage.person.find("input[type=file]")).sendKeys(broken);
    await stage.person.sees("it is not JSON text");
    writeFileSync(broken, '{"hello": 1}');
    await (await stage.person.find("input[type=file]")).sendKeys(broken);
    await stage.person.sees('its "format" is not "busy-harbor-study"');
    writeFileSync(broken, '{"format": "busy-harbor-study", "version": 99, "name": "x", "designs": []}');
    await (await stage.person.find("input[type=file]")).sendKeys(broken);
    await stage.person.sees("written by a newer Busy Harbor");
    await stage.person.sees("Foot passengers for the 9:10");
  });

  test("delete a study and bring it back", async () => {
    await stage.person.click("Delete Foot passengers for the 9:10");
    await stage.person.sees("Foot passengers for the 9:10 deleted.");
    await stage.person.click("Undo");
    await stage.person.byWords("Foot passengers for the 9:10");
  });

  test("a request that fails where nothing else says so is told, and nothing goes", async () => {
    await stage.person.driver.executeScript(
      `const real = window.fetch;
       window.fetch = (url, init) => init?.method === "DELETE"
         ? Promise.resolve(new Response(JSON.stringify({ type: "about:blank", title: "The disk is full.", status: 507 }), { status: 507, headers: { "content-type": "application/problem+json" } }))
         : real(url, init);`,
    );
    await stage.person.click("Delete Foot passengers for the 9:10");
    await stage.person.sees("The disk is full.");
    await stage.person.byWords("Foot passengers for the 9:10");
    await stage.person.driver.navigate().refresh();
    await stage.person.byWords("Foot passengers for the 9:10");
  });

  test("the browser logged no error of the program", async () => {
    const own = (await stage.person.errors()).filter((e) => !/status of 4(09|22|10)/.test(e));
    expect(own).toEqual([]);
  });
});
