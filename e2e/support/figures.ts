import { By, Key } from "selenium-webdriver";
import type { Person } from "./browser.ts";

/** Narrows the table of results to what is typed into its search field. */
export async function findMeasures(person: Person, words: string): Promise<void> {
  const field = await person.find("input[aria-label='Find a measure']");
  await field.sendKeys(Key.chord(Key.CONTROL, "a"), words === "" ? Key.DELETE : words);
}

/**
 * The mean of a measure of an element, as it is shown in the results: the table draws only the rows in sight, so it
 * is searched for.
 */
export async function meanShown(person: Person, owner: string, measure: string): Promise<string> {
  await findMeasures(person, `${owner} ${measure}`);
  const of = (text: string) => `normalize-space(text()[1])=${JSON.stringify(text)}`;
  const row = `//*[@role='row'][@aria-expanded][.//*[${of(owner)}]]/following-sibling::*[@role='row'][.//*[@role='gridcell'][@aria-colindex='1'][normalize-space(.)=${JSON.stringify(measure)}]][1]//*[@role='gridcell'][@aria-colindex='2']`;
  const text = await person.driver.wait(
    async () =>
      person.driver
        .findElement(By.xpath(row))
        .getText()
        .catch(() => undefined),
    5000,
    `${measure} of ${owner} is not in the results`,
  );
  await findMeasures(person, "");
  return text ?? "";
}
