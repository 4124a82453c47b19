import { tmpdir } from "node:os";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { By, Key } from "selenium-webdriver";
import { dropFile } from "./support/drop.ts";
import { useStage } from "./support/stage.ts";

const stage = useStage();

const display = (label: string) => stage.person.find(`[data-testid=displays] li[aria-label^='${label}']`);

test("a display is added, told what to show, moved by keys, deleted and brought back", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.command("add display: bar");
  await person.sees("Bar placed.");
  await person.fill("Title", "Busy desks");
  // A slip is told at its place; the design still runs.
  await person.fill("Shows", "TicketDesk.busy");
  await person.sees("Did you mean Ticket desks?");
  await person.fill("Shows", "`Ticket desks`.busy");
  await person.fill("To", "3");
  const bar = await display("Bar Busy desks");
  const before = await bar.getRect();
  await person.driver.executeScript("arguments[0].focus()", bar);
  await person.press(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_DOWN);
  const after = await (await display("Bar Busy desks")).getRect();
  expect(after.x).toBeGreaterThan(before.x + 5);
  expect(after.y).toBeGreaterThan(before.y + 2);
  await person.press(Key.DELETE);
  await person.sees("Display deleted.");
  expect(await person.driver.findElements(By.css("[data-testid=displays] li[aria-label^='Bar']"))).toEqual([]);
  await person.chord(Key.CONTROL, "z");
  await display("Bar Busy desks");
  // People from the side, as many as wait: of more than are drawn the number is told.
  await person.command("add display: people");
  await person.sees("People placed.");
  await person.fill("Title", "Who waits");
  await person.choose("They are", "sitting");
  await person.fill("Drawn at most", "70");
  await person.sees("A whole number from 1 to 60 is wanted.");
  await person.fill("Drawn at most", "2");
  await display("People Who waits");
  await person.press(Key.ESCAPE);
});

test("one card at a time: a display clicked while a drawing's card is open shows its own, and a drawing its own again", async () => {
  const { person } = stage;
  await dropFile(
    person,
    "Ticket hall.dxf",
    readFileSync(join(__dirname, "..", "web", "test", "drawings", "hall-r12.dxf")),
  );
  await person.sees("Ticket hall added.");
  const card = () => person.text("[data-testid=card] header");
  expect(await card()).toContain("Background drawing");
  const gauge = await (await display("Gauge Waiting for a desk")).getRect();
  await person.clickAt(gauge.x + 20, gauge.y + 20);
  expect(await card()).toMatch(/Display\s+Waiting for a desk/);
  await person.press(Key.ESCAPE);
  expect(await card()).toContain("One shared line");
  await person.click("Ticket hall");
  expect(await card()).toContain("Background drawing");
  // A display that reads an element is listed on that element's card, and found from there.
  const line = await person.onFloor("Ticket line");
  await person.clickAt(line.x, line.y);
  await (await person.driver.findElement(By.xpath("//aside//button[.='Waiting for a desk']"))).click();
  expect(await card()).toMatch(/Display\s+Waiting for a desk/);
});

test("a display is moved by the pointer, resized from its corner and turned by its handle, and each is undone", async () => {
  const { person } = stage;
  await person.press(Key.ESCAPE);
  // As it is seen: enlarged and turned.
  const gauge = async () =>
    person.driver.executeScript<{ x: number; y: number; width: number; height: number }>(
      "return arguments[0].getBoundingClientRect().toJSON()",
      await display("Gauge Waiting for a desk"),
    );
  const first = await gauge();
  const middle = (box: { x: number; y: number; width: number; height: number }): [number, number] => [
    Math.round(box.x + box.width / 2),
    Math.round(box.y + box.height / 2),
  ];
  const changes = async (what: string, holds: (box: typeof first) => boolean) =>
    person.driver.wait(async () => holds(await gauge()), 5000, `${what}: ${JSON.stringify([first, await gauge()])}`);
  const near = (a: number, b: number) => Math.abs(a - b) < 3;

  const [x, y] = middle(first);
  await person.drag([x, y], [x - 60, y + 40]);
  await changes("It was not moved", (b) => b.x < first.x - 40 && b.y > first.y + 25 && near(b.width, first.width));
  await person.chord(Key.CONTROL, "z");
  await changes("It was not put back", (b) => near(b.x, first.x) && near(b.y, first.y));

  // It is still at hand: its corners have handles.
  const [right, bottom] = [first.x + first.width, first.y + first.height];
  await person.drag([right, bottom], [right + first.width / 2, bottom + first.height / 2]);
  await changes("It was not resized", (b) => near(b.width, 1.5 * first.width) && near(b.x, first.x));
  expect(Number(await (await person.setting("Size, times")).getAttribute("value"))).toBeCloseTo(1.5, 1);
  await person.chord(Key.CONTROL, "z");
  await changes("It was not made small again", (b) => near(b.width, first.width));

  // A quarter turn to the right catches: what was wide is high.
  await person.drag([x, first.y - 50], [x + first.height / 2 + 50, y]);
  await changes("It was not turned", (b) => near(b.width, first.height) && near(b.height, first.width));
  expect(await (await person.setting("Turned, degrees")).getAttribute("value")).toBe("90");
  await person.chord(Key.CONTROL, "z");
  await changes("It was not turned back", (b) => near(b.width, first.width) && near(b.x, first.x));
});

test("while watching, displays say what the floor and the instruments say", async () => {
  const { person } = stage;
  await person.click("Watch");
  await (await person.find("[role=slider]")).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await person.driver.wait(
    async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-seconds")) > 1500,
    60_000,
  );
  // Paused by its key; the palette has what can be done here, too.
  await person.press(Key.SPACE);
  await person.driver.wait(
    async () => (await person.text("[data-testid=play]")) === "Play",
    5000,
    "The space bar did not pause",
  );
  await person.driver.sleep(300);
  const clock = async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-events"));
  const events = await clock();
  await person.command("one event");
  await person.driver.wait(async () => (await clock()) === events + 1, 5000, "The palette ran no event");
  await person.driver.sleep(200);
  const instruments = await person.text("[aria-label=Instruments]");
  const waiting = await (
    await (await display("Gauge Waiting for a desk")).findElement(By.css("svg"))
  ).getAttribute("aria-label");
  expect(instruments).toContain(`Ticket line ${waiting}`);
  expect(Number(waiting)).toBeGreaterThan(0);
  const people = await (await display("People Who waits")).findElement(By.css("[role=img]"));
  expect(await people.getAttribute("aria-label")).toBe(`${waiting} sitting`);
  const figures = await people.findElements(By.css("[data-figure]"));
  expect(figures).toHaveLength(Math.min(2, Number(waiting)));
  const busy = await (await display("Bar Busy desks")).getText();
  expect(instruments).toMatch(new RegExp(`Ticket desks\\s+${busy.split("\n").find((line) => /^\d+$/.test(line))}\\b`));
  expect(await person.errors()).toEqual([]);
});

test("an element gets a picture of its own by the button, sized and turned, kept with the study, and gives it back", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  const gangway = await person.onFloor("Gangway");
  await person.clickAt(gangway.x, gangway.y);
  await person.sees("Takes entities from");
  await person.driver.findElement(By.xpath("//aside//h3/button[normalize-space(.)='Picture']")).click();
  // A headless browser gives up choosing at once; kept from asking, it waits for the file.
  await (
    person.driver as unknown as { sendDevToolsCommand(name: string, parameters: object): Promise<void> }
  ).sendDevToolsCommand("Page.setInterceptFileChooserDialog", { enabled: true });
  await person.click("Choose a picture");
  const file = join(mkdtempSync(join(tmpdir(), "harbor-picture-")), "bridge.svg");
  writeFileSync(
    file,
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><script>alert(1)</script><rect width="40" height="20" fill="#c05"/></svg>',
  );
  await (await person.find("[data-testid=file-choice]")).sendKeys(file);
  await person.find("aside img[alt=Gangway]");
  await person.fill("Size, slots wide", "4");
  await person.fill("Turned, degrees", "400");
  await person.sees("A number from -360 to 360 is wanted.");
  await person.fill("Turned, degrees", "90");
  // Where the symbol was there is the picture, turned: higher than wide, and red.
  const red = (dx: number, dy: number) =>
    person.driver.executeScript<boolean>(
      "const [x, y] = arguments; for (const canvas of document.querySelectorAll('[data-testid=floor] canvas, canvas')) { const b = canvas.getBoundingClientRect(); const k = canvas.width / b.width; const px = canvas.getContext('2d').getImageData((x - b.left) * k, (y - b.top) * k, 1, 1).data; if (px[0] > 150 && px[1] < 60 && px[3] > 200) return true; } return false;",
      gangway.x + dx,
      gangway.y + dy,
    );
  await person.driver.wait(() => red(0, 14), 5000, "The picture is not on the floor");
  expect(await red(24, 0)).toBe(false);
  await person.driver.wait(async () => (await person.text("[data-testid=save-state]")).startsWith("Saved"), 10_000);
  await person.driver.navigate().refresh();
  await person.onFloor("Gangway");
  await person.driver.wait(() => red(0, 14), 8000, "The picture is not there again");
  await person.clickAt(gangway.x, gangway.y);
  await person.click("Symbol again");
  await person.driver.wait(async () => !(await red(0, 14)), 5000, "The symbol did not come back");
  expect(await person.errors()).toEqual([]);
});
