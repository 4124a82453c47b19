import { By } from "selenium-webdriver";
import { startServer } from "../../server/test/startServer.ts";
import { Person } from "../support/browser.ts";
import { dropFile } from "../support/drop.ts";
import type { Outcome } from "./outcome.ts";

const svg = (inside: string, more = "") =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 100 100"${more}>${inside}</svg>`;
const repeated = (n: number, make: (i: number) => string) => Array.from({ length: n }, (_, i) => make(i)).join("");
const nested = (n: number, open: string, close: string, inside: string) => open.repeat(n) + inside + close.repeat(n);

/** Drawings that unfold to more than any machine holds, or that act. */
export const HOSTILE: Readonly<Record<string, string>> = {
  "uses.svg": svg(
    `<g id="l0"><rect width="9" height="9"/></g>${repeated(8, (i) => `<g id="l${i + 1}">${repeated(10, () => `<use href="#l${i}" x="1"/>`)}</g>`)}<use href="#l8"/>`,
  ),
  "linked-uses.svg": svg(
    `<g id="l0"><rect width="9" height="9"/></g>${repeated(9, (i) => `<g id="l${i + 1}">${repeated(10, () => `<use xlink:href="#l${i}"/>`)}</g>`)}<use xlink:href="#l9"/>`,
  ),
  "patterns.svg": svg(
    `${repeated(8, (i) => `<pattern id="p${i}" width="1" height="1">${repeated(12, () => `<rect width="1" height="1" fill="${i === 0 ? "red" : `url(#p${i - 1})`}"/>`)}</pattern>`)}<rect width="100" height="100" fill="url(#p7)"/>`,
  ),
  "markers.svg": svg(
    `<marker id="m0"><rect width="1" height="1"/></marker>${repeated(3, (i) => `<marker id="m${i + 1}"><polyline points="${"0,0 ".repeat(300)}" marker-mid="url(#m${i})"/></marker>`)}<polyline points="${"0,0 ".repeat(300)}" marker-mid="url(#m3)"/>`,
  ),
  "layers.svg": svg(nested(60, '<g opacity="0.99">', "</g>", '<rect width="100" height="100"/>')),
  "many-layers.svg": svg(repeated(2000, () => '<g opacity="0.9"><rect width="100" height="100"/><circle r="9"/></g>')),
  "round.svg": svg('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>'),
  "deep.svg": svg(nested(5000, "<g>", "</g>", "<rect/>")),
  "filters.svg": svg(
    `<filter id="f" x="-9" y="-9" width="99" height="99">${repeated(60, () => '<feGaussianBlur stdDeviation="500"/><feTurbulence numOctaves="9"/>')}</filter>${repeated(60, () => '<g filter="url(#f)"><rect width="100" height="100"/></g>')}`,
  ),
  "picture.svg": svg(`<image width="100" height="100" href="data:image/png;base64,${hugePng()}"/>`),
  "acting.svg": svg(
    '<script>window.acted = 1</script><rect width="9" height="9" onclick="window.acted = 2"/><foreignObject><iframe src="javascript:parent.acted = 3"/></foreignObject>',
    ' onload="window.acted = 4"',
  ),
};

/** The head of a picture of 60,000 by 60,000 pixels. */
function hugePng(): string {
  const bytes = Buffer.from(
    "89504e470d0a1a0a0000000d49484452000000000000000008060000000000000049454e44ae426082",
    "hex",
  );
  bytes.writeUInt32BE(60_000, 16);
  bytes.writeUInt32BE(60_000, 20);
  return bytes.toString("base64");
}

/** Longest time until a drawing is taken or refused, in ms, and the longest task of the page meanwhile. */
const LONGEST = 20_000;

/**
 * Drops hostile drawings on the floor: each is refused or shown harmless, the page goes on, and the study opens
 * again.
 */
export async function attackByDrawings(names: readonly string[] = Object.keys(HOSTILE)): Promise<Outcome> {
  const failures: string[] = [];
  const counts: Record<string, number> = { drawings: names.length, refused: 0, taken: 0, "longest-ms": 0 };
  const server = await startServer();
  const person = await Person.open();
  try {
    await person.go(server.url);
    await person.click("New study");
    await person.sees("Begin with Arrivals");
    for (const name of names) {
      const start = Date.now();
      await dropFile(person, name, HOSTILE[name]);
      const ending = await person.driver
        .wait(async () => {
          const [told] = await person.driver.findElements(By.css("[data-testid=drawing-refused]"));
          if (told && (await told.getText()).includes(name)) return "refused";
          return (await person.driver.findElement(By.css("body")).getText()).includes(
            `${name.replace(".svg", "")} added.`,
          )
            ? "taken"
            : undefined;
        }, LONGEST)
        .catch(() => undefined);
      if (ending) counts[ending] += 1;
      else failures.push(`${name} was neither taken nor refused in ${LONGEST / 1000} s`);
      counts["longest-ms"] = Math.max(counts["longest-ms"], Date.now() - start);
    }
    if ((await person.driver.executeScript("return window.acted ?? 0")) !== 0) failures.push("a drawing acted");
    await person.driver.navigate().refresh();
    await person.find("[data-testid=floor]");
    await person.sees("Saved");
    const memory = (await person.driver.executeScript(
      "return performance.memory ? performance.memory.usedJSHeapSize : 0",
    )) as number;
    counts["page-mb"] = Math.round(memory / 2 ** 20);
  } catch (error) {
    failures.push(`the page was lost: ${error instanceof Error ? error.message : String(error)}`);
  } finally {
    await person.close().catch(() => undefined);
    await server.stop();
  }
  return { counts, failures };
}
