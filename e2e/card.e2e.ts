import { By, Key } from "selenium-webdriver";
import { addRow, goTo, linkTo, place, unfold } from "./support/building.ts";
import { findMeasures } from "./support/figures.ts";
import { newStudy, useStage } from "./support/stage.ts";

const stage = useStage();

/** Fills a field in a row of a list on the card. */
async function fillIn(row: string, label: string, value: string): Promise<void> {
  const { person } = stage;
  const field = await person.driver.findElement(
    By.xpath(
      `//aside//div[@role='group'][@aria-label=${JSON.stringify(row)}]//div[@data-field][.//label[normalize-space(.)=${JSON.stringify(label)}]]//*[self::input or self::textarea or @role='textbox']`,
    ),
  );
  await person.write(field, value);
}

test("every part of a station is set on its card, said in its sentence, and told in the results", async () => {
  const { person } = stage;
  await newStudy(stage);
  await place(person, "Arrivals", 250, 330);
  await place(person, "Queue", 350, 330);
  await place(person, "Station", 480, 330);
  await place(person, "Departures", 650, 330);
  await place(person, "Departures", 650, 450, "Departures 2");
  await place(person, "Crew", 450, 480);
  await place(person, "Equipment", 350, 480);
  for (const [from, to] of [
    ["Arrivals", "Queue"],
    ["Queue", "Station"],
    ["Station", "Departures"],
    ["Station", "Departures 2"],
  ])
    await linkTo(person, from, to);
  await person.choose("Takes", "those scrapped");
  await person.sees("No one is scrapped at Station");
  await linkTo(person, "Equipment", "Station", "Work at Station needs one of Equipment.");

  await goTo(person, "Queue");
  await unfold(person, "Order and patience of its line");
  await person.choose("Next is", "the largest");
  await person.sees("Compared by is empty");
  await person.fill("Compared by", "entity.age");
  await person.fill("Patience", "3 h");
  await person.sees("largest first by entity.age");

  await goTo(person, "Station");
  await unfold(person, "Setup and teardown");
  await person.choose("Set up", "on a change");
  await person.fill("Change of", "entity.type");
  await person.fill("Setup", "2 min");
  await addRow(person, "Changeover");
  await fillIn("changeover 1", "From", "Customer");
  await fillIn("changeover 1", "To", "3");
  await person.sees("this is another kind of value than what the changeover goes by");
  await fillIn("changeover 1", "To", "Customer");
  await person.fill("Teardown", "30 s");
  await person.sees("with 1 changeover time of its own. For work it needs 1 of Equipment. Tearing down takes 30 s.");
  await unfold(person, "Batches");
  await person.fill("Start with at least", "2");
  await person.fill("At most", "1");
  await person.sees("a batch of at most 1 never reaches the 2 with which work may start");
  await person.fill("At most", "4");
  await person.fill("After at most", "15 min");
  await person.sees("Work starts with 2 to 4 together, or with fewer after 15 min.");
  await unfold(person, "Rework");
  await person.fill("Again", "150 %");
  await person.sees("a chance lies between 0 and 100 %");
  await person.fill("Again", "10 %");
  await unfold(person, "Breakdowns");
  await addRow(person, "Breakdown");
  await fillIn("breakdown 1", "Time to the next", "exponential(2 h)");
  await fillIn("breakdown 1", "Time to repair", "10 min");
  const repairers = await person.find("[role=group][aria-label='breakdown 1'] [data-field$=anyOf] [role=combobox]");
  await person.chooseIn(repairers, "Crew");
  // What was chosen has its place before the next click: the rows below it have moved.
  const breakdown = "[role=group][aria-label='breakdown 1']";
  await person.driver.wait(async () => (await person.text(breakdown)).includes("Crew"), 5000, "Crew was not taken");
  await (await person.find("[role=radio][value=scrap]")).click();
  await person.sees("Work then: scrap.");
  await unfold(person, "Cost");
  await person.fill("Cost of work", "40");
  expect(await (await person.setting("Cost of work")).getAttribute("aria-invalid")).toBe("true");
  await person.fill("Cost of work", "40 money/h");
  await person.fill("Cost of each", "2 money");
  await person.sees("It breaks down every exponential(2 h) for 10 min. Work then: scrap.");
  await goTo(person, "Crew");
  await (
    await person.driver.findElement(
      By.xpath("//aside//label[contains(normalize-space(.), 'Work of higher priority')]/button"),
    )
  ).click();
  await person.sees("higher priority takes them away from work of lower");
  await person.sees("repairs");
  await (await person.find("[data-testid=floor]")).sendKeys(Key.ESCAPE);
  await person.sees("No problems: this design can run.");

  await (await person.find("[data-testid=run]")).click();
  await person.sees("20 of 20 replications", 60_000);
  for (const measure of [
    "Cost for each entity finished",
    "Setups",
    "Done again",
    "Breakdowns",
    "Scrapped",
    "Claims met",
    "Gave up waiting",
  ]) {
    await findMeasures(person, measure);
    await person.driver.wait(
      async () => (await person.text("[data-testid=results]")).includes(measure),
      10_000,
      `${measure} is not in the results`,
    );
  }
  expect(await person.errors()).toEqual([]);
});

test("a calendar of rotating weeks with a holiday, moved by keys; nights are skipped; the ledger gives it to a station", async () => {
  const { person } = stage;
  await person.go(stage.server.url);
  await person.click("Foot passengers for the 9:10");
  await person.onFloor("Ticket desks");
  await person.click("Calendars");
  await person.click("Shift calendar");
  await person.fill("Name", "Desk hours");
  // What cannot be kept stays in its field with what is wanted.
  await person.fill("Repeats every", "60");
  await person.sees("A whole number of weeks from 1 to 52 is wanted.");
  await person.fill("Repeats every", "2");
  await person.find("[role=radio][aria-label='Week 2']");
  const week = await person.find("[role=group][aria-label='Row 1'] input[aria-label=Week]");
  await week.sendKeys(Key.chord(Key.CONTROL, "a"), "2");
  await person.sees("On for 40 h of these two weeks.");
  await (await person.byWords("Week 2")).click();
  // With the block in hand: an hour later, and half an hour longer.
  const block = () => person.find("button[aria-label^='Monday 0']");
  await (await block()).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await (await block()).sendKeys(Key.chord(Key.SHIFT, Key.ARROW_RIGHT), Key.chord(Key.SHIFT, Key.ARROW_RIGHT));
  await person.find("button[aria-label='Monday 09:00 to 17:30, all']");
  await person.sees("On for 42.5 h of these two weeks.");
  await person.click("Date");
  await person.sees("Off all day.");
  const date = await person.find("input[aria-label=Date]");
  await person.driver.executeScript(
    "const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set; set.call(arguments[0], '2026-06-08'); arguments[0].dispatchEvent(new Event('input', { bubbles: true }));",
    date,
  );
  await person.sees("On for 34 h of these two weeks.");
  await (await block()).sendKeys(Key.DELETE);
  await person.driver.wait(
    async () => (await person.driver.findElements(By.css("button[aria-label^='Monday 0']"))).length === 0,
    5000,
  );

  await person.click("Floor");
  await person.onFloor("Ticket desks");
  await (await person.find("[data-testid=floor]")).click();
  await person.press("t");
  await person.click("Stations");
  const pasted = "Name\tShift calendar\tAt the bell\nTicket desks\tDesk hours\tpause at the bell";
  await person.driver.executeScript(
    "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); document.querySelector('[data-testid=ledger-grid]').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))",
    pasted,
  );
  await person.sees("1 row changed, 0 added.");
  await goTo(person, "Ticket desks");
  await person.sees("It keeps the hours of Desk hours: pause at the bell.");
  await (await person.find("[data-testid=floor]")).click();
  await person.press("t");
  await person.click("Measure");
  await person.choose("Nights", "skipped");
  await person.fill("Opens", "9:75");
  await person.press(Key.TAB);
  await person.sees("A time of day such as 06:30. 06:00 is used until then.");
  expect(await (await person.setting("Opens")).getAttribute("value")).toBe("9:75");
  await person.fill("Opens", "9");
  await person.press(Key.TAB);
  await person.sees("outside the operating hours from 09:00 to 22:00");
  await person.fill("Opens", "07:30");
  await person.press(Key.TAB);
  await person.driver.wait(
    async () => !(await person.text("main, body")).includes("outside the operating hours"),
    5000,
  );
  expect(await person.errors()).toEqual([]);
});

test("the order of what a need may take is changed by keyboard, and undone", async () => {
  const { person } = stage;
  await newStudy(stage);
  await place(person, "Station", 480, 330);
  await place(person, "Crew", 450, 480);
  await place(person, "Equipment", 350, 480);
  const station = await person.onFloor("Station");
  await person.clickAt(station.x, station.y);
  await unfold(person, "Resources");
  await addRow(person, "Need");
  const other = await person.find("[role=group][aria-label='need 1'] [data-field$=anyOf] [role=combobox]");
  await person.chooseIn(other, "Equipment");
  await person.sees("Crew or Equipment");
  const grip = await person.find("button[aria-label='Move Equipment']");
  /** What assistive technology is told, which is not shown. */
  const told = (words: string) =>
    person.driver.wait(
      async () => {
        const all = "return [...document.querySelectorAll('[id^=DndLiveRegion]')].map((e) => e.textContent).join()";
        return ((await person.driver.executeScript(all)) as string).includes(words);
      },
      5000,
      words,
    );
  await grip.sendKeys(Key.SPACE);
  await told("Equipment now at place 2.");
  await person.press(Key.ARROW_UP);
  await told("Equipment now at place 1.");
  await person.press(Key.SPACE);
  await person.sees("Equipment or Crew");
  await person.chord(Key.CONTROL, "z");
  await person.sees("Crew or Equipment");
});
