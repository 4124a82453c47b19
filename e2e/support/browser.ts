import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  Builder,
  By,
  error as webDriverError,
  type IWebDriverOptionsCookie,
  Key,
  Origin,
  until,
  type WebDriver,
  type WebElement,
} from "selenium-webdriver";
import { Options, ServiceBuilder } from "selenium-webdriver/chrome.js";

export type { IWebDriverOptionsCookie };

const FLAGS = [
  "--headless",
  "--no-sandbox",
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--hide-scrollbars",
];

/** A person at a browser: finds things by the words on screen, clicks, types and reads. */
export class Person {
  private constructor(
    readonly driver: WebDriver,
    readonly downloads: string,
  ) {}

  static async open(width = 1280, height = 800): Promise<Person> {
    const profile = mkdtempSync(join(tmpdir(), "harbor-profile-"));
    const downloads = mkdtempSync(join(tmpdir(), "harbor-downloads-"));
    const options = new Options();
    options.addArguments(...FLAGS, `--user-data-dir=${profile}`, `--window-size=${width},${height}`);
    options.setChromeBinaryPath(process.env.CHROMIUM ?? "/usr/bin/chromium");
    options.setUserPreferences({ "download.default_directory": downloads, "download.prompt_for_download": false });
    options.setLoggingPrefs({ browser: "ALL" });
    const service = new ServiceBuilder(process.env.CHROMEDRIVER ?? "/usr/bin/chromedriver");
    const driver = await new Builder().forBrowser("chrome").setChromeOptions(options).setChromeService(service).build();
    await driver.manage().window().setRect({ width, height });
    // The window's frame takes some of the height: ask for the page's own size.
    const inner = (await driver.executeScript("return [innerWidth, innerHeight]")) as [number, number];
    await driver
      .manage()
      .window()
      .setRect({ width: width + (width - inner[0]), height: height + (height - inner[1]) });
    return new Person(driver, downloads);
  }

  async close(): Promise<void> {
    await this.driver.quit();
  }

  async go(url: string): Promise<void> {
    await this.driver.get(url);
  }

  find(css: string, timeout = 10_000): Promise<WebElement> {
    return this.driver.wait(until.elementLocated(By.css(css)), timeout, `Nothing matches ${css}`);
  }

  /** A button, link or menu entry by its words. */
  byWords(words: string, timeout = 10_000): Promise<WebElement> {
    const quoted = JSON.stringify(words);
    const path = `//*[self::button or self::a or @role='menuitem' or @role='menuitemradio' or @role='option'][normalize-space(.)=${quoted} or @aria-label=${quoted} or starts-with(normalize-space(.), ${quoted})]`;
    return this.driver.wait(until.elementLocated(By.xpath(path)), timeout, `No button or link says ${words}`);
  }

  async click(words: string): Promise<void> {
    // What is drawn anew in between is looked for again: a person clicks on what is there.
    for (let tried = 1; ; tried++) {
      const element = await this.byWords(words);
      try {
        await this.driver.wait(until.elementIsVisible(element), 5000);
        await element.click();
        return;
      } catch (problem) {
        if (!(problem instanceof webDriverError.StaleElementReferenceError) || tried === 3) throw problem;
      }
    }
  }

  /** The input of a setting on the card, by its label. */
  async setting(label: string): Promise<WebElement> {
    const element = await this.driver.wait(
      until.elementLocated(By.xpath(`//label[normalize-space(.)=${JSON.stringify(label)}]`)),
      8000,
      `No setting ${label}`,
    );
    return this.driver.findElement(By.id((await element.getAttribute("for")) ?? ""));
  }

  async fill(label: string, value: string): Promise<void> {
    await this.write(await this.setting(label), value);
  }

  /**
   * Writes in a field in place of what is there. An editor may take its place: the keys go where the focus is. What
   * stands above it may grow as it is clicked, so that the click falls beside it: then it is clicked again.
   */
  async write(field: WebElement, value: string): Promise<void> {
    const id = await field.getAttribute("id");
    await field.click();
    if (id)
      await this.driver.wait(
        async () => {
          if ((await this.driver.executeScript("return document.activeElement.id")) === id) return true;
          await (await this.find(`[id="${id}"]`)).click();
          return false;
        },
        5000,
        "The field never took the keys",
      );
    await this.chord(Key.CONTROL, "a");
    await this.press(value);
  }

  async choose(label: string, option: string): Promise<void> {
    await this.chooseIn(await this.setting(label), option);
  }

  /** Opens the list of a choice and takes the option that says, or begins with, these words. */
  async chooseIn(trigger: WebElement, option: string): Promise<void> {
    await trigger.click();
    const words = JSON.stringify(option);
    const path = `//*[@data-testid='choices']//*[@role='option'][normalize-space(.)=${words} or starts-with(normalize-space(.), ${words})]`;
    await (await this.driver.wait(until.elementLocated(By.xpath(path)), 5000, `No option says ${option}`)).click();
    const gone = async () => (await this.driver.findElements(By.css("[data-testid=choices]"))).length === 0;
    await this.driver.wait(gone, 5000, "The list of choices stayed open");
  }

  async press(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  async chord(...keys: string[]): Promise<void> {
    const actions = this.driver.actions();
    for (const key of keys) actions.keyDown(key);
    for (const key of [...keys].reverse()) actions.keyUp(key);
    await actions.perform();
  }

  /** Does what the palette finds first for these words. */
  async command(words: string): Promise<void> {
    await this.chord(Key.CONTROL, "k");
    await this.find("[cmdk-input]");
    await this.press(words, Key.ENTER);
  }

  async clickAt(x: number, y: number): Promise<void> {
    await this.driver
      .actions()
      .move({ x: Math.round(x), y: Math.round(y), origin: Origin.VIEWPORT })
      .click()
      .perform();
  }

  async drag(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
    const at = ([x, y]: readonly [number, number]) => ({
      x: Math.round(x),
      y: Math.round(y),
      origin: Origin.VIEWPORT,
      duration: 60,
    });
    const middle: [number, number] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
    await this.driver.actions().move(at(from)).press().move(at(middle)).move(at(to)).release().perform();
  }

  /** What it says now. A view may draw the part anew between finding and reading it: then it is found again. */
  async text(css: string): Promise<string> {
    for (let tries = 1; ; tries++) {
      try {
        return await (await this.find(css)).getText();
      } catch (problem) {
        if (!(problem instanceof webDriverError.StaleElementReferenceError) || tries === 5) throw problem;
      }
    }
  }

  /** Waits until the page says something. */
  async sees(words: string, timeout = 15_000): Promise<void> {
    await this.driver.wait(
      async () => (await this.driver.findElement(By.css("body")).getText()).includes(words),
      timeout,
      `The page never said "${words}"`,
    );
  }

  /** Middle of an element on the floor, in page pixels. */
  async onFloor(name: string): Promise<{ x: number; y: number; width: number; height: number }> {
    const element = await this.find(`[data-element=${JSON.stringify(name)}]`);
    const { x, y, width, height } = await element.getRect();
    return { x: x + width / 2, y: y + height / 2, width, height };
  }

  /** Colour of what rests on the floor at a point of it, as red, green, blue and opacity from 0 to 255. */
  async floorColour(x: number, y: number): Promise<number[]> {
    return this.driver.executeScript(
      `const [floor, canvas] = ["[data-testid=floor]", "[data-testid=floor] canvas"].map((s) => document.querySelector(s));
       const [outer, inner] = [floor, canvas].map((e) => e.getBoundingClientRect());
       const k = canvas.width / inner.width;
       const [px, py] = [(outer.x + arguments[0] - inner.x) * k, (outer.y + arguments[1] - inner.y) * k];
       return [...canvas.getContext("2d").getImageData(px, py, 1, 1).data];`,
      x,
      y,
    );
  }

  async picture(): Promise<string> {
    return this.driver.takeScreenshot();
  }

  /** Errors the browser logged, if any. */
  async errors(): Promise<string[]> {
    const entries = await this.driver.manage().logs().get("browser");
    return entries.filter((e) => e.level.name === "SEVERE" && !e.message.includes("favicon")).map((e) => e.message);
  }
}
