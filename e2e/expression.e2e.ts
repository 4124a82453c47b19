import { Key } from "selenium-webdriver";
import { place } from "./support/building.ts";
import { newStudy, useStage } from "./support/stage.ts";

const stage = useStage();

/** The text of a setting's expression as it is stored. */
async function stored(field: string): Promise<unknown> {
  const { person, server } = stage;
  await person.sees("Saved");
  const id = /study\/([^/]+)/.exec(await person.driver.getCurrentUrl())![1];
  const reply = await fetch(`${server.url}/api/studies/${id}`);
  const { study } = (await reply.json()) as { study: { designs: { elements: Record<string, unknown>[] }[] } };
  return study.designs[0].elements.find((e) => e.kind === "station")![field];
}

async function becomes(field: string, value: string): Promise<void> {
  const isSo = async () => (await stored(field)) === value;
  await stage.person.driver.wait(isSo, 10_000).catch(() => undefined);
  expect(await stored(field)).toBe(value);
}

test("an expression is written by taking what is offered, and a slip is mended by a key", async () => {
  const { person } = stage;
  await newStudy(stage);
  await place(person, "Queue", 350, 330);
  await place(person, "Station", 480, 330);
  const time = await person.setting("Time");
  await time.click();
  await person.find(".expression .cm-focused");
  await person.chord(Key.CONTROL, "a");
  // Each part is taken from the offers: two letters and Tab, or the arrow and Enter.
  await person.press("tri");
  await person.find(".cm-tooltip-autocomplete");
  await person.press(Key.TAB);
  await person.sees("triangular(lowest, most likely, highest)");
  await person.press("1 mi");
  await person.find(".cm-tooltip-autocomplete");
  await person.press(Key.ARROW_DOWN, Key.ENTER, ", 2 min, 3 min");
  await person.press(Key.END, " * (1 + Que");
  await person.find(".cm-tooltip-autocomplete");
  await person.press(Key.TAB, ".");
  await person.find(".cm-tooltip-autocomplete");
  await person.press("len", Key.TAB);
  await becomes("time", "triangular(1 min, 2 min, 3 min) * (1 + Queue.length)");

  // A number without a unit: what it likely means is one key away, and the problem goes.
  await person.chord(Key.CONTROL, "a");
  await person.press("5");
  await person.sees("Add a unit: 5 s, min or h.");
  await person.find(".cm-lintRange-error");
  await person.chord(Key.ALT, Key.ENTER);
  await becomes("time", "5 min");
  await person.driver.wait(async () => !(await person.text("[data-testid=card]")).includes("Add a unit"), 5000);

  // The same with the pointer, of a name with a slip; and undo, from within the field, takes back what was written.
  await person.chord(Key.CONTROL, "a");
  await person.press("Quene.length * 1 min");
  await person.sees("Did you mean Queue?");
  await person.click("Write Queue");
  await becomes("time", "Queue.length * 1 min");
  await person.chord(Key.CONTROL, "z");
  await person.driver.wait(async () => (await stored("time")) !== "Queue.length * 1 min", 10_000, "Nothing was undone");
  expect(await person.errors()).toEqual([]);
});

test("a distribution is picked by what one knows, and undone as one step", async () => {
  const { person } = stage;
  await newStudy(stage);
  await place(person, "Station", 480, 330);
  const before = await stored("time");
  await (await person.find("[aria-label='Pick a distribution for time']")).click();
  await person.chooseIn(
    await person.find("[data-testid=pick] [role=combobox]"),
    "It lies between two values, mostly near",
  );
  const fill = async (asked: string, value: string) => person.write(await person.setting(asked), value);
  await fill("least", "2 min");
  await fill("mostly", "7 m");
  await person.sees("This is a length; a time is wanted.");
  await fill("mostly", "3 min");
  await fill("most", "5 min");
  // The mean of the triangle, and what it writes.
  await person.sees("3.33 min");
  expect((await person.text("[data-testid=draws]")).split(",")).toHaveLength(10);
  const draws = await person.text("[data-testid=draws]");
  await person.click("Ten other draws");
  expect(await person.text("[data-testid=draws]")).not.toBe(draws);
  expect(await person.text("[data-testid=picked]")).toBe("triangular(2 min, 3 min, 5 min)");
  await person.press(Key.TAB, Key.ENTER);
  await becomes("time", "triangular(2 min, 3 min, 5 min)");
  await person.sees("mean 3.33 min");
  await (await person.find("[data-testid=floor]")).click();
  await person.chord(Key.CONTROL, "z");
  await becomes("time", before as string);
});
