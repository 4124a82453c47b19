import { Key } from "selenium-webdriver";
import { Person } from "./support/browser.ts";
import { type TestServer, startServer } from "../server/test/startServer.ts";

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

interface Box {
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly right: number;
  readonly bottom: number;
}

const PARTS = {
  dock: "[data-testid=dock]",
  card: "[data-testid=card]",
  "view control": "[data-covers=bottom]",
  minimap: "[data-testid=minimap]",
  ledger: "[data-testid=ledger]",
};

/** Where what stands on or beside the floor is, as far as it is there. */
async function boxes({ driver }: Person): Promise<Box[]> {
  return driver.executeScript(
    `return Object.entries(arguments[0]).flatMap(([name, css]) => {
       const found = document.querySelector(css);
       if (!found) return [];
       const { x, y, right, bottom } = found.getBoundingClientRect();
       return [{ name, x, y, right, bottom }];
     });`,
    PARTS,
  );
}

const overlap = (a: Box, b: Box) => a.x < b.right && b.x < a.right && a.y < b.bottom && b.y < a.bottom;

async function fits(person: Person, width: number, height: number): Promise<void> {
  const found = await boxes(person);
  for (const [i, one] of found.entries()) {
    expect([one.name, one.x >= 0 && one.right <= width && one.y >= 0 && one.bottom <= height]).toEqual([
      one.name,
      true,
    ]);
    for (const other of found.slice(i + 1)) expect([one.name, other.name, overlap(one, other)]).toContain(false);
  }
}

test.each([
  [1024, 700],
  [1280, 800],
  [2560, 1440],
])(
  "at %i by %i nothing on the floor covers anything else, with the ledger too, and all is fitted beside it",
  async (width, height) => {
    const person = await Person.open(width, height);
    try {
      await person.go(server.url);
      await person.click("Foot passengers for the 9:10");
      await person.onFloor("Ticket desks");
      await person.driver.sleep(500);
      await fits(person, width, height);
      const shown = await boxes(person);
      expect(shown.map((b) => b.name)).toEqual(expect.arrayContaining(["dock", "card", "view control"]));
      // Every element stands where nothing covers it.
      for (const name of ["Town gate", "Coach stop", "Ticket desks", "Ticket machine", "Aboard"]) {
        const { x, y, width: w, height: h } = await person.onFloor(name);
        const symbol: Box = { name, x: x - w / 2, y: y - h / 2, right: x + w / 2, bottom: y + h / 2 };
        for (const part of shown) expect([name, part.name, overlap(symbol, part)]).toContain(false);
      }
      await (await person.find("[data-testid=floor]")).sendKeys("t");
      await person.find("[data-testid=ledger]");
      await person.driver.sleep(300);
      await fits(person, width, height);
      expect((await boxes(person)).map((b) => b.name)).toEqual(expect.arrayContaining(["dock", "card", "ledger"]));
      await (await person.find("[data-testid=floor]")).sendKeys("t");
      // Zoomed in, the whole plan is shown in small, and covers nothing either.
      for (let i = 0; i < 8; i++) await (await person.find("[data-testid=floor]")).sendKeys("+");
      await person.find("[data-testid=minimap]");
      await fits(person, width, height);
    } finally {
      await person.close();
    }
  },
);

test("a group of the dock opens by pointer and by keyboard, and what is in it is placed", async () => {
  const person = await Person.open(1024, 700);
  try {
    await person.go(server.url);
    await person.click("New study");
    await person.sees("Begin with Arrivals");
    const flow = await person.find("[data-testid=dock] [role=group][aria-label=Flow] button");
    await person.driver.actions().move({ origin: flow }).perform();
    await person.sees("Departures");
    await person.click("Station");
    await person.clickAt(300, 300);
    await person.onFloor("Station");
    await (await person.find("[data-testid=dock] [role=group][aria-label=Resources] button")).sendKeys(Key.ENTER);
    await person.sees("Equipment");
    await person.press(Key.ENTER);
    await person.onFloor("Crew");
    expect(await person.errors()).toEqual([]);
  } finally {
    await person.close();
  }
});
