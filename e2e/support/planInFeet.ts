import { Key } from "selenium-webdriver";
import type { Person } from "./browser.ts";

/** Makes a study in feet with four elements spread over some 75 feet, `y` pixels down the screen. */
export async function planInFeet(person: Person, url: string, y = 300): Promise<void> {
  await person.go(url);
  await person.click("New study");
  await person.sees("Begin with Arrivals");
  await person.choose("Lengths", "feet");
  await (await person.find("[data-testid=floor]")).click();
  for (const [i, kind] of ["Arrivals", "Queue", "Station", "Departures"].entries()) {
    await person.driver
      .actions()
      .move({ x: 340 + 140 * i, y })
      .perform();
    await person.press("a", kind, Key.ENTER);
    await person.onFloor(kind);
    await person.press(Key.ESCAPE);
  }
}
