import { By, Key } from "selenium-webdriver";
import type { Person } from "./browser.ts";

/** Puts an element on the floor by quick-add at a point. */
export async function place(person: Person, kind: string, x: number, y: number, name = kind): Promise<void> {
  await person.driver.actions().move({ x, y }).perform();
  await person.press("a", kind, Key.ENTER);
  await person.onFloor(name);
}

/** Finds an element by its name, which selects it. */
export async function goTo(person: Person, name: string): Promise<void> {
  await person.chord(Key.CONTROL, "f");
  await person.find("input[placeholder^='Find an element']");
  await person.press(name, Key.ENTER);
  await person.driver.wait(
    async () => (await person.text("[data-testid=card] h2")) === name,
    5000,
    `${name} was not found`,
  );
}

/** Links two elements by the keyboard. */
export async function linkTo(
  person: Person,
  from: string,
  to: string,
  said = `${from} linked to ${to}.`,
): Promise<void> {
  await goTo(person, from);
  await person.press("l", to, Key.ENTER);
  await person.sees(said);
}

/** Opens a folded part of the card. */
export async function unfold(person: Person, title: string): Promise<void> {
  const button = await person.driver.findElement(
    By.xpath(`//aside//h3/button[normalize-space(.)=${JSON.stringify(title)}]`),
  );
  if ((await button.getAttribute("aria-expanded")) === "false") await button.click();
}

/** Adds a row to a list on the card, by the words of its button. */
export async function addRow(person: Person, words: string): Promise<void> {
  await person.driver.findElement(By.xpath(`//aside//button[normalize-space(.)=${JSON.stringify(words)}]`)).click();
}
