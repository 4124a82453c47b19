import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { By, Key } from "selenium-webdriver";
import { dropFile, dropLargeDxf } from "./support/drop.ts";
import { planInFeet } from "./support/planInFeet.ts";
import { newStudy, useStage } from "./support/stage.ts";

const stage = useStage();
const drawing = (name: string) => readFileSync(join(__dirname, "..", "web", "test", "drawings", name));

interface Saved {
  readonly drawings: {
    name: string;
    file: string;
    at: [number, number];
    metresPerUnit: number;
    rotation: number;
    layers: Record<string, object>;
  }[];
}

async function saved(): Promise<Saved> {
  const { driver } = stage.person;
  await driver.wait(
    async () => (await stage.person.text("[data-testid=save-state]")).startsWith("Saved"),
    10_000,
    "The study was not saved",
  );
  const id = /study\/([^/]+)/.exec(await driver.getCurrentUrl())![1];
  return ((await (await fetch(`${stage.server.url}/api/studies/${id}`)).json()) as { study: Saved }).study;
}

const unitChoice = async (unit: string) => {
  await stage.person.choose("Drawn in", unit);
};

test("a drawing in inches is placed on a plan in feet and gets the scale right", async () => {
  const { person } = stage;
  await planInFeet(person, stage.server.url);
  await dropFile(person, "Ticket hall.dxf", drawing("hall-2000-inches.dxf"));
  await person.sees("Ticket hall added.");
  expect((await saved()).drawings[0]).toMatchObject({ name: "Ticket hall", metresPerUnit: 0.0254 });
  expect(await person.text("[data-testid=drawing-size]")).toMatch(/^In all 100 by 60.83 ft/);
  // Taken as feet it would be twelve times too big: that is said, and mended by one click.
  await unitChoice("feet");
  expect(await person.text("[data-testid=scale-doubt]")).toMatch(
    /1200 by 730 ft.*times as wide as all that stands on it\. In inches it is 100 by 60.83 ft/s,
  );
  await person.click("It is in inches");
  expect((await saved()).drawings[0].metresPerUnit).toBe(0.0254);

  // A length of the drawing that is known to be 20 ft: two clicks and the figure.
  await person.click("Set by a known length");
  await person.clickAt(300, 330);
  await person.clickAt(600, 330);
  await person.sees("apart now.");
  const now = Number.parseFloat(
    /They are ([\d.]+) ft apart/.exec(await person.text("[aria-label='Known length']"))![1],
  );
  await person.fill("Truly", "20 ft");
  await person.press(Key.ENTER);
  await person.sees("another scale");
  const { metresPerUnit } = (await saved()).drawings[0];
  expect(metresPerUnit / 0.0254).toBeCloseTo(20 / now, 5);
  await person.chord(Key.CONTROL, "z");
  expect((await saved()).drawings[0].metresPerUnit).toBe(0.0254);

  // Layers can be hidden, and all comes back when the page is opened again.
  await (
    await person.driver.findElement(By.xpath("//ul[@aria-label='Layers']//label[contains(., 'Furniture')]/button"))
  ).click();
  expect((await saved()).drawings[0].layers).toEqual({ Furniture: { visible: false } });
  await person.driver.navigate().refresh();
  await person.click("Ticket hall");
  await person.sees("3 of 5 shown".toUpperCase());

  // It is moved by its figures, in full.
  const before = (await saved()).drawings[0].at;
  await person.fill("Across", "10 ft");
  expect((await saved()).drawings[0].at[0]).toBeCloseTo(3.048, 9);
  expect(before[0]).not.toBeCloseTo(3.048, 3);
  expect(await person.errors()).toEqual([]);
});

test("an exported study holds its drawings and opens again whole", async () => {
  const { person } = stage;
  const original = await saved();
  await person.go(stage.server.url);
  await person.click("Export New study");
  let path = "";
  await person.driver.wait(() => {
    const found = readdirSync(person.downloads).find((name) => name.endsWith(".json"));
    if (found) path = join(person.downloads, found);
    return found !== undefined;
  }, 10_000);
  const file = JSON.parse(readFileSync(path, "utf8")) as { files: Record<string, string> };
  expect(Buffer.from(file.files[original.drawings[0].file], "base64").equals(drawing("hall-2000-inches.dxf"))).toBe(
    true,
  );
  const answer = await fetch(`${stage.server.url}/api/studies`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ study: file }),
  });
  expect(answer.status).toBe(201);
  expect(((await answer.json()) as { study: Saved }).study.drawings).toEqual(original.drawings);
});

test("hostile and broken files are refused with a reason, and nothing changes", async () => {
  const { person } = stage;
  await planInFeet(person, stage.server.url);
  const before = await saved();
  const recursive =
    "0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n2\nA\n0\nINSERT\n2\nA\n0\nENDBLK\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nINSERT\n2\nA\n0\nENDSEC\n0\nEOF\n";
  const bomb =
    '<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><text>&b;</text></svg>';
  for (const [name, content, reason] of [
    ["closed.dwg", "AC1032 and more", "closed format"],
    ["round.dxf", recursive, "contains itself"],
    ["cut.dxf", drawing("hall-r12.dxf").subarray(0, 4000), "cut off"],
    ["bomb.svg", bomb, "declares entities"],
    ["broken.svg", '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect>', "not well-formed"],
    ["broken.png", Buffer.from("89504e470d0a1a0a0000000d49484452000000400000004008060000", "hex"), "broken"],
    ["words.txt", "hello", "not a drawing"],
  ] as const) {
    await dropFile(person, name, content);
    await person.driver.wait(
      async () => {
        const [told] = await person.driver.findElements(By.css("[data-testid=drawing-refused]"));
        const text = told ? await told.getText() : "";
        return text.includes(name) && text.includes(reason);
      },
      15_000,
      `${name} was not refused with "${reason}"`,
    );
  }
  expect(await saved()).toEqual(before);
});

test("an SVG is shown without what acts or fetches in it", async () => {
  const { person } = stage;
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 60"><script>window.acted = 1</script><rect width="100" height="60" fill="#9cf"/><image href="http://192.0.2.1/x.png" onerror="window.acted = 2" width="5" height="5"/><foreignObject width="9" height="9"><iframe src="javascript:parent.acted = 3"/></foreignObject></svg>';
  await dropFile(person, "Quay.svg", svg);
  await person.sees("Quay added.");
  expect(await person.text("[data-testid=drawing-size]")).toContain("100 by 60 units");
  // Its blue, faded onto the paper, is on the floor where the drawing lies and nothing else is.
  const colour = async () => person.floorColour(300, 180);
  await person.driver.wait(
    async () => {
      const [red, , blue] = await colour();
      return blue > red + 20;
    },
    8000,
    "The drawing was never painted",
  );
  expect(await person.driver.executeScript("return window.acted ?? 'nothing'")).toBe("nothing");
  const fetched = (await person.driver.executeScript(
    "return performance.getEntriesByType('resource').map((e) => e.name).filter((n) => n.includes('192.0.2.1'))",
  )) as string[];
  expect(fetched).toEqual([]);
});

test("reading a large file is stopped by a click; what was there stays, and the next file is read", async () => {
  const { person } = stage;
  const before = await saved();
  await dropLargeDxf(person, "Works.dxf", 250_000);
  await person.sees("Reading Works.dxf");
  await person.click("Stop");
  await person.sees("Works.dxf was not added.");
  expect(await saved()).toEqual(before);
  // The drawing that was there is read again by the new thread and painted at another scale.
  await dropFile(person, "Ticket hall.dxf", drawing("hall-r12.dxf"));
  await person.sees("Ticket hall added.");
  expect(await person.text("[data-testid=drawing-size]")).toMatch(/; 23 lines/);
  await person.click("All drawings");
  expect(
    await person.driver.findElements(
      By.xpath("//ul[@aria-label='Background drawings']//li[contains(., 'cannot be shown') or contains(., 'reading')]"),
    ),
  ).toEqual([]);
});

test.each([
  ["png", "image/png"],
  ["jpg", "image/jpeg"],
])(
  "a %s picture goes under the elements, by its pixels, and lies there after the page is opened again",
  async (ending, type) => {
    const { person } = stage;
    await person.go(stage.server.url);
    await person.click("New study");
    await person.sees("Begin with Arrivals");
    const url = (await person.driver.executeScript(
      "const c = document.createElement('canvas'); c.width = 400; c.height = 200; const x = c.getContext('2d'); x.fillStyle = '#2060ff'; x.fillRect(0, 0, 400, 200); return c.toDataURL(arguments[0])",
      type,
    )) as string;
    await dropFile(person, `Quay.${ending}`, Buffer.from(url.split(",")[1], "base64"));
    await person.sees("Quay added.");
    expect(await person.text("[data-testid=drawing-size]")).toContain("400 by 200 pixels");
    const blue = () =>
      person.driver.wait(
        async () => {
          const [red, , b] = await person.floorColour(440, 360);
          return b > red + 40;
        },
        8000,
        "The picture was never painted",
      );
    await blue();
    expect((await saved()).drawings).toHaveLength(1);
    await person.driver.navigate().refresh();
    await person.find("[data-testid=floor]");
    await blue();
  },
);

test("a drawing is resized from its corner and turned by its handles, and that is undone", async () => {
  const { person } = stage;
  await newStudy(stage);
  const blue =
    '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="200"><rect width="400" height="200" fill="#2060ff"/></svg>';
  await dropFile(person, "Plan.svg", Buffer.from(blue));
  await person.sees("Plan added.");
  const isBlue = async (x: number, y: number) => {
    const [red, , b] = await person.floorColour(x, y);
    return b > red + 40;
  };
  const first = (await saved()).drawings[0];
  // It is fitted into what nothing covers: its middle is that of the grip, its edges are where the blue ends.
  const floor = await (await person.find("[data-testid=floor]")).getRect();
  await person.driver.wait(() => isBlue(300, 300), 10_000, "The drawing was not shown");
  const edge = async (from: number, by: number, at: (v: number) => Promise<boolean>) => {
    let v = from;
    while (await at(v + by)) v += by;
    return v;
  };
  const [left, right] = [await edge(300, -1, (x) => isBlue(x, 300)), await edge(800, 1, (x) => isBlue(x, 300))];
  const [top, bottom] = [await edge(300, -1, (y) => isBlue(300, y)), await edge(400, 1, (y) => isBlue(300, y))];
  const at = (x: number, y: number): [number, number] => [floor.x + x, floor.y + y];
  await person.drag(at(right, bottom), at(right - 0.2 * (right - left), bottom - 0.2 * (bottom - top)));
  await person.driver.wait(async () => (await saved()).drawings[0].metresPerUnit < first.metresPerUnit, 10_000, "Size");
  const smaller = (await saved()).drawings[0];
  expect(smaller.metresPerUnit / first.metresPerUnit).toBeCloseTo(0.8, 1);
  await person.chord(Key.CONTROL, "z");
  await person.driver.wait(
    async () => (await saved()).drawings[0].metresPerUnit === first.metresPerUnit,
    10_000,
    "Undo",
  );
  // The handle to turn by stands above the upper edge; a quarter turn to the right catches.
  const [x, y, out] = [(left + right) / 2, (top + bottom) / 2, (bottom - top) / 2 + 50];
  await person.drag(at(x, y - out), at(x + out, y));
  await person.driver.wait(async () => (await saved()).drawings[0].rotation === 90, 10_000, "It was not turned");
  expect((await saved()).drawings[0].metresPerUnit).toBe(first.metresPerUnit);
});

test("the floor is saved as a picture: the whole plan with its drawings, at the size it says", async () => {
  const { person } = stage;
  await person.command("Save the floor as a picture");
  const [, width, height] = /(\d+) × (\d+) pixels/.exec(await person.text("[data-testid=picture-size]"))!;
  const before = new Set(readdirSync(person.downloads));
  await person.click("Save PNG");
  await person.sees("Saved a picture");
  const made = () => readdirSync(person.downloads).find((name) => !before.has(name) && name.endsWith(".png"));
  await person.driver.wait(() => made() !== undefined, 10_000, "No picture was saved");
  const bytes = readFileSync(join(person.downloads, made()!));
  // The sizes stand at the head of a PNG file.
  expect([bytes.readUInt32BE(16), bytes.readUInt32BE(20)]).toEqual([Number(width), Number(height)]);
  const blue = Number(
    await person.driver.executeAsyncScript(
      `const [data, done] = arguments;
       const image = new Image();
       image.onload = () => {
         const canvas = new OffscreenCanvas(image.width, image.height);
         const ctx = canvas.getContext("2d");
         ctx.drawImage(image, 0, 0);
         const { data: pixels } = ctx.getImageData(0, 0, image.width, image.height);
         let count = 0;
         for (let i = 0; i < pixels.length; i += 4) if (pixels[i + 2] > pixels[i] + 40) count += 1;
         done(count / (image.width * image.height));
       };
       image.src = "data:image/png;base64," + data;`,
      bytes.toString("base64"),
    ),
  );
  // The blue drawing fills much of it, and all is in it: the margin around is not blue.
  expect(blue).toBeGreaterThan(0.3);
  expect(blue).toBeLessThan(0.98);

  // Printing takes the same picture to a page of its own, which goes after.
  await person.chord(Key.CONTROL, "p");
  await person.find("[data-testid=picture-size]");
  await person.driver.executeScript(
    `window.printed = [];
     new MutationObserver((changes) => {
       for (const { addedNodes } of changes)
         for (const node of addedNodes) {
           const page = node.contentWindow;
           if (page)
             page.print = () => {
               const { naturalWidth, naturalHeight } = page.document.querySelector("img");
               window.printed.push(naturalWidth, naturalHeight);
               page.dispatchEvent(new Event("afterprint"));
             };
         }
     }).observe(document.body, { childList: true });`,
  );
  await person.click("Print");
  const printed = () => person.driver.executeScript<number[]>("return window.printed");
  await person.driver.wait(async () => (await printed()).length > 0, 10_000, "Nothing was printed");
  expect(await printed()).toEqual([Number(width), Number(height)]);
  expect(await person.driver.findElements(By.css("iframe"))).toHaveLength(0);
});
