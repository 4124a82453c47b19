import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { addBulge, arc, ellipseArc, spline } from "../src/drawings/dxf/curves.ts";
import { plainText } from "../src/drawings/dxf/entities.ts";
import { INK, numberedColour } from "../src/drawings/dxf/colours.ts";
import { readDxf } from "../src/drawings/dxf/readDxf.ts";
import { formatOf, MOST_BYTES } from "../src/drawings/format.ts";
import { imageSize } from "../src/drawings/imageSize.ts";
import type { LineDrawing } from "../src/drawings/lineDrawing.ts";
import { cornersOf } from "../src/drawings/outline.ts";
import { legible } from "../src/drawings/paint.ts";
import { DrawingProblem } from "../src/drawings/problem.ts";
import { DRAWING_UNITS, doubtOf, likelyUnit, scaledByTwoPoints, unitOf } from "../src/drawings/scale.ts";

const file = (name: string) => readFileSync(join(__dirname, "drawings", name));
const bytes = (text: string) => new TextEncoder().encode(text);

/** Lines of a layer in the file's own coordinates, given where the extent's middle lies in it. */
function linesOn(drawing: LineDrawing, layer: string, [cx, cy]: [number, number]): [number, number][][] {
  return drawing.chunks
    .filter((c) => drawing.layers[c.layer].name === layer)
    .flatMap(({ points, starts }) =>
      Array.from({ length: starts.length - 1 }, (_, i) =>
        Array.from(
          { length: starts[i + 1] - starts[i] },
          (__, j) => [points[2 * (starts[i] + j)] + cx, cy - points[2 * (starts[i] + j) + 1]] as [number, number],
        ),
      ),
    );
}

const HALL: [number, number] = [600, 335];
const near = (a: [number, number], b: [number, number]) => Math.hypot(a[0] - b[0], a[1] - b[1]) < 0.01;
const boxOf = (points: [number, number][]) => [
  Math.min(...points.map((p) => p[0])),
  Math.min(...points.map((p) => p[1])),
  Math.max(...points.map((p) => p[0])),
  Math.max(...points.map((p) => p[1])),
];

describe.each([
  ["hall-r12.dxf", undefined, 1],
  ["hall-2000-inches.dxf", 0.0254, 3],
  ["hall-2018-no-unit.dxf", undefined, 3],
])("%s, written by other software", (name, unit, furnitureKinds) => {
  const drawing = readDxf(file(name).toString("utf8"));

  test("extent, unit and layers are as the file says", () => {
    expect([drawing.width, drawing.height]).toEqual([1200, 730]);
    expect(drawing.unit).toBe(unit);
    const shown = new Map(drawing.layers.map((l) => [l.name, l.shown]));
    expect(shown.get("Walls")).toBe(true);
    expect(shown.get("Old")).toBe(false);
  });

  test("walls close, a bulge of 1 is half a circle below its chord, and an arc turns counterclockwise", () => {
    const walls = linesOn(drawing, "Walls", HALL);
    expect(walls).toContainEqual(
      [
        [0, 0],
        [1200, 0],
        [1200, 600],
        [0, 600],
        [0, 0],
      ].map((p) => p.map((v) => expect.closeTo(v, 3) as number)),
    );
    const doors = linesOn(drawing, "Doors", HALL);
    const bulged = doors.find((l) => near(l[0], [800, 0]))!;
    expect(boxOf(bulged).map((v) => Math.round(v))).toEqual([800, -30, 860, 120]);
    const swing = doors.find((l) => near(l[0], [460, 240]))!;
    expect(near(swing.at(-1)!, [400, 300])).toBe(true);
    expect(swing.every(([x, y]) => Math.abs(Math.hypot(x - 400, y - 240) - 60) < 0.05)).toBe(true);
  });

  test("blocks within blocks are put where they belong, turned and scaled", () => {
    const furniture = linesOn(drawing, "Furniture", HALL);
    // Four seats in a row of circle and line, twice, and the round table; later versions also hold an ellipse and a
    // spline.
    expect(furniture).toHaveLength(16 + furnitureKinds);
    const circles = furniture.filter((l) => l.length > 40).map(boxOf);
    const has = (cx: number, cy: number, r: number) =>
      circles.some((b) => near([b[0], b[1]], [cx - r, cy - r]) && near([b[2], b[3]], [cx + r, cy + r]));
    expect(has(200, 300, 50)).toBe(true);
    for (const i of [0, 1, 2, 3])
      expect([i, has(900 + 24 * i, 300, 9), has(900, 200 + 48 * i, 18)]).toEqual([i, true, true]);
  });

  test("words stand where they were written, without the marks of their form", () => {
    const hall = drawing.words.find((w) => w.text === "Ticket hall")!;
    expect([hall.x + 600, 335 - hall.y, hall.size, Math.abs(hall.turn)]).toEqual([60, 520, 24, 0]);
    if (name !== "hall-r12.dxf") expect(drawing.words.map((w) => w.text)).toContain("Quay side Port Larkspur");
  });

  test("a colour of a layer is the file's; black-or-white takes the ink", () => {
    const colours = new Map(drawing.chunks.map((c) => [drawing.layers[c.layer].name, c.colour]));
    expect(colours.get("Walls")).toBe(INK);
    expect(colours.get("Doors")).toBe(0xff0000);
  });
});

test("a file of another writer opens too", () => {
  const drawing = readDxf(file("berth.dxf").toString("utf8"));
  expect(drawing.chunks.length).toBeGreaterThan(0);
  // 280 by 180 points of a 72nd of an inch.
  expect(drawing.width / drawing.height).toBeCloseTo(280 / 180, 3);
});

test("ends in the file's own order however the lines are sorted for painting", () => {
  const line = (i: number) => `0\nLINE\n8\nL${i % 3}\n10\n${i}\n20\n${(i * 7919) % 1000}\n11\n${i + 1}\n21\n5\n`;
  const drawing = readDxf(
    `0\nSECTION\n2\nENTITIES\n${Array.from({ length: 3000 }, (_, i) => line(i)).join("")}0\nENDSEC\n0\nEOF\n`,
  );
  expect(drawing.layers.map((l) => l.count)).toEqual([1000, 1000, 1000]);
  expect(drawing.chunks.reduce((sum, c) => sum + c.starts.length - 1, 0)).toBe(3000);
  for (const { points, box } of drawing.chunks) {
    for (let i = 0; i < points.length; i += 2)
      expect(
        points[i] >= box[0] - 1e-3 &&
          points[i] <= box[2] + 1e-3 &&
          points[i + 1] >= box[1] - 1e-3 &&
          points[i + 1] <= box[3] + 1e-3,
      ).toBe(true);
  }
});

const withBlocks = (blocks: string, entities: string) =>
  `0\nSECTION\n2\nBLOCKS\n${blocks}0\nENDSEC\n0\nSECTION\n2\nENTITIES\n${entities}0\nENDSEC\n0\nEOF\n`;
const block = (name: string, inside: string) => `0\nBLOCK\n8\n0\n2\n${name}\n10\n0\n20\n0\n${inside}0\nENDBLK\n8\n0\n`;
const insert = (name: string, extra = "") => `0\nINSERT\n8\n0\n2\n${name}\n10\n0\n20\n0\n${extra}`;

describe("what cannot be read is refused with a reason", () => {
  const reason = (work: () => unknown): string => {
    try {
      work();
    } catch (error) {
      if (error instanceof DrawingProblem) return `${error.message} ${error.hint}`;
      throw error;
    }
    return "nothing was refused";
  };

  test("a block that contains itself, at once or round about", () => {
    expect(reason(() => readDxf(withBlocks(block("A", insert("A")), insert("A"))))).toMatch(/"A" contains itself/);
    expect(reason(() => readDxf(withBlocks(block("A", insert("B")) + block("B", insert("A")), insert("B"))))).toMatch(
      /contains itself/,
    );
  });

  test("blocks that unfold to thousands of millions", () => {
    const line = "0\nLINE\n8\n0\n10\n0\n20\n0\n11\n1\n21\n1\n";
    const levels = Array.from({ length: 9 }, (_, i) =>
      block(`B${i}`, i === 0 ? line : insert(`B${i - 1}`).repeat(10)),
    ).join("");
    expect(reason(() => readDxf(withBlocks(levels, insert("B8").repeat(10))))).toMatch(/more than 1 million lines/);
    expect(
      reason(() => readDxf(withBlocks(block("A", line), insert("A", "70\n30000\n71\n30000\n44\n1\n45\n1\n")))),
    ).toMatch(/more than 1 million lines/);
  });

  test("truncated, empty, foreign and closed files", () => {
    const whole = file("hall-2000-inches.dxf").toString("utf8");
    expect(reason(() => readDxf(whole.slice(0, 9000)))).toMatch(/cut off/);
    expect(reason(() => formatOf(new Uint8Array(0)))).toMatch(/empty/);
    expect(reason(() => formatOf(bytes("AC1032 and what follows")))).toMatch(
      /closed format.*DXF \(text\), SVG, PNG or JPEG/,
    );
    expect(reason(() => formatOf(bytes("%PDF-1.7")))).toMatch(/PDF.*DXF/);
    expect(reason(() => formatOf(bytes("ANYNAME Binary DXF\r\n\u001a\u0000")))).toMatch(/binary DXF.*DXF \(text\)/);
    expect(reason(() => formatOf(bytes("hello")))).toMatch(/not a drawing/);
    expect(reason(() => formatOf(new Uint8Array(MOST_BYTES + 1)))).toMatch(/at most 40 MB/);
  });

  test("any piece of a file, and any byte of it changed: read, or refused with a reason", () => {
    const whole = file("hall-r12.dxf").toString("utf8");
    fc.assert(
      fc.property(
        fc.nat(whole.length),
        fc.nat(whole.length - 1),
        fc.constantFrom("9", "-", "x", "\n", "\u0000"),
        (end, at, letter) => {
          const text = (whole.slice(0, at) + letter + whole.slice(at + 1)).slice(0, Math.max(end, at));
          expect(reason(() => readDxf(text))).toMatch(/\w/);
        },
      ),
      { numRuns: 300, seed: 3 },
    );
  });

  test("pictures that are broken or would fill the memory", () => {
    const png = (width: number, height: number) => {
      const head = new Uint8Array(33);
      head.set([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52]);
      new DataView(head.buffer).setUint32(16, width);
      new DataView(head.buffer).setUint32(20, height);
      return head;
    };
    expect(imageSize(png(640, 480), "png")).toEqual({ width: 640, height: 480 });
    expect(reason(() => imageSize(png(60_000, 60_000), "png"))).toMatch(/60000 by 60000 pixels/);
    expect(reason(() => imageSize(png(0, 5), "png"))).toMatch(/broken/);
    expect(reason(() => imageSize(new Uint8Array([0xff, 0xd8, 0xff, 0xe0, 0, 4]), "jpeg"))).toMatch(/broken/);
    expect(
      imageSize(
        new Uint8Array([0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 1, 0xff, 0xc0, 0, 11, 8, 0, 20, 0, 30, 1, 1, 0x11, 0]),
        "jpeg",
      ),
    ).toEqual({ width: 30, height: 20 });
  });
});

test("formats are told by content", () => {
  expect(formatOf(file("hall-r12.dxf"))).toBe("dxf");
  expect(formatOf(bytes("999\nmade somewhere\n  0\r\nSECTION\r\n"))).toBe("dxf");
  expect(formatOf(bytes('<?xml version="1.0"?>\n<!-- plan -->\n<svg xmlns="http://www.w3.org/2000/svg"/>'))).toBe(
    "svg",
  );
  expect(formatOf(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0))).toBe("jpeg");
});

describe("curves", () => {
  test("arcs and ellipses pass through their ends and stay on the curve", () => {
    const quarter = arc(1, 2, 5, 0, Math.PI / 2);
    expect(quarter.slice(0, 2)).toEqual([6, 2]);
    expect(quarter.slice(-2)).toEqual([expect.closeTo(1, 9), expect.closeTo(7, 9)]);
    const tilted = ellipseArc(0, 0, [3, 4], 0.5, 0, 2 * Math.PI);
    for (let i = 0; i < tilted.length; i += 2) {
      const [u, v] = [(tilted[i] * 3 + tilted[i + 1] * 4) / 5, (-tilted[i] * 4 + tilted[i + 1] * 3) / 5];
      expect((u / 5) ** 2 + (v / 2.5) ** 2).toBeCloseTo(1, 9);
    }
    // From 350 to 10 degrees is a sweep of 20, not of -340.
    expect(
      arc(0, 0, 1, (350 * Math.PI) / 180, (10 * Math.PI) / 180)
        .filter((_, i) => i % 2 === 0)
        .every((x) => x > 0.98),
    ).toBe(true);
  });

  test("bulged legs keep to the circle that the bulge defines", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }).filter((b) => Math.abs(b) > 0.01),
        (bulge) => {
          const points = [0, 0];
          addBulge(points, 0, 0, 2, 0, bulge);
          expect(points.slice(-2)).toEqual([2, 0]);
          // The sagitta is the bulge times half the chord, on the right of the leg for a positive bulge.
          const radius = (1 + bulge * bulge) / (2 * Math.abs(bulge));
          const centre = -bulge + Math.sign(bulge) * radius;
          for (let i = 0; i < points.length; i += 2)
            expect(Math.hypot(points[i] - 1, points[i + 1] - centre)).toBeCloseTo(radius, 6);
        },
      ),
    );
  });

  test("a spline of degree 3 with clamped knots is the Bezier curve of its points", () => {
    const p = [
      { x: 0, y: 0 },
      { x: 1, y: 3 },
      { x: 3, y: 3 },
      { x: 4, y: 0 },
    ];
    const points = spline(p, 3, [0, 0, 0, 0, 1, 1, 1, 1])!;
    points.forEach((value, i) => {
      const t = Math.floor(i / 2) / 8;
      const weights = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
      expect(value).toBeCloseTo(
        weights.reduce((sum, w, j) => sum + w * (i % 2 === 0 ? p[j].x : p[j].y), 0),
        9,
      );
    });
    expect(spline(p, 3, [0, 1])).toBeUndefined();
  });

  test("a rational spline of degree 2 draws a quarter of a circle", () => {
    const points = spline(
      [
        { x: 1, y: 0 },
        { x: 1, y: 1 },
        { x: 0, y: 1 },
      ],
      2,
      [0, 0, 0, 1, 1, 1],
      [1, Math.SQRT1_2, 1],
    )!;
    for (let i = 0; i < points.length; i += 2) expect(Math.hypot(points[i], points[i + 1])).toBeCloseTo(1, 9);
  });

  test("texts lose the marks of their form", () => {
    expect(plainText("%%c20 %%p0.5 90%%d")).toBe("⌀20 ±0.5 90°");
    expect(plainText("{\\fSome Font|b1;Gate \\H2x;A}\\P\\U+00C4ste \\\\ x")).toBe("Gate A Äste \\ x");
  });
});

describe("scale", () => {
  const standing: [number, number][] = [
    [0, 0],
    [30, 12],
  ];

  test("a drawing in inches taken as feet is doubted, and inches are offered; in inches it is not", () => {
    const doubt = doubtOf(1200, 0.3048, standing)!;
    expect(doubt.times).toBeCloseTo(12.192, 3);
    expect(doubt.likely?.id).toBe("in");
    expect(doubtOf(1200, 0.0254, standing)).toBeUndefined();
    // The unit that the file states is offered before any guess.
    expect(
      doubtOf(1200, 0.3048, [
        [0, 0],
        [6, 0],
      ])?.likely?.id,
    ).toBe("cm");
    expect(
      doubtOf(
        1200,
        0.3048,
        [
          [0, 0],
          [6, 0],
        ],
        0.0254,
      )?.likely?.id,
    ).toBe("in");
  });

  test("in every pair of units at least ten times apart, taking one for the other is doubted, and the true one offered", () => {
    for (const truth of DRAWING_UNITS) {
      const units = 40 / truth.metres;
      expect(doubtOf(units, truth.metres, standing)).toBeUndefined();
      expect(likelyUnit(units, standing).id).toBe(truth.id);
      for (const wrong of DRAWING_UNITS) {
        const times = wrong.metres / truth.metres;
        if (times >= 10 || times <= 0.1)
          expect([truth.id, wrong.id, doubtOf(units, wrong.metres, standing)?.likely?.id]).toEqual([
            truth.id,
            wrong.id,
            truth.id,
          ]);
      }
    }
  });

  test("with nothing on the floor only sizes that no site has are doubted", () => {
    expect(doubtOf(30_000, 1, [])?.likely?.id).toBe("mm");
    expect(doubtOf(30_000, 0.001, [])).toBeUndefined();
    expect(unitOf(0.3048)?.id).toBe("ft");
    expect(unitOf(0.3)).toBeUndefined();
  });

  test("after scaling by two points these lie as far apart as was said, and the first has not moved", () => {
    fc.assert(
      fc.property(
        fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 })),
        fc.integer({ min: 1, max: 40 }),
        fc.double({ min: 0.1, max: 100, noNaN: true }),
        ([x, y], dx, metres) => {
          const before = { at: [3, -7] as [number, number], metresPerUnit: 0.3 };
          const after = scaledByTwoPoints(before, [x, y], [x + dx, y + 5], metres)!;
          // Where a point of the drawing lies: its middle plus its own place times the scale.
          const moved = (p: [number, number]) =>
            p.map((v, i) => after.at[i] + ((v - before.at[i]) / before.metresPerUnit) * after.metresPerUnit);
          expect(moved([x, y])).toEqual([expect.closeTo(x, 6), expect.closeTo(y, 6)]);
          const [ex, ey] = moved([x + dx, y + 5]);
          expect(Math.hypot(ex - x, ey - y)).toBeCloseTo(metres, 6);
        },
      ),
    );
    expect(scaledByTwoPoints({ at: [0, 0], metresPerUnit: 1 }, [1, 1], [1, 1], 5)).toBeUndefined();
    expect(scaledByTwoPoints({ at: [0, 0], metresPerUnit: 1 }, [1, 1], [2, 1], 0)).toBeUndefined();
  });

  test("corners turn clockwise about the middle", () => {
    const drawing = {
      id: "d",
      name: "d",
      file: "0".repeat(64),
      format: "dxf",
      at: [10, 20],
      rotation: 90,
      metresPerUnit: 0.5,
      opacity: 1,
      visible: true,
      locked: false,
      layers: {},
    } as const;
    const corners = cornersOf({ ...drawing, at: [10, 20] }, { width: 8, height: 4 });
    expect(corners[0]).toEqual([expect.closeTo(11, 9), expect.closeTo(18, 9)]);
    expect(corners[1]).toEqual([expect.closeTo(11, 9), expect.closeTo(22, 9)]);
  });
});

test("numbered colours are those of the format", () => {
  // Corners of the circle, a pale and a dark one, greys (of the format's published table).
  expect(
    [1, 3, 5, 10, 11, 14, 50, 90, 92, 170, 210, 251].map((i) => numberedColour(i).toString(16).padStart(6, "0")),
  ).toEqual([
    "ff0000",
    "00ff00",
    "0000ff",
    "ff0000",
    "ff8080",
    "990000",
    "ffff00",
    "00ff00",
    "00cc00",
    "0000ff",
    "ff00ff",
    "5b5b5b",
  ]);
  expect(numberedColour(7)).toBe(INK);
});

test("a colour that would not be seen on the page is drawn towards the ink", () => {
  const day = { ink: "#17324D", paper: "#FAF6EC" };
  expect(legible(0xff0000, day)).toBe("rgb(255 0 0)");
  expect(legible(0xffff00, day)).not.toBe("rgb(255 255 0)");
  expect(legible(0xffff00, { ink: "#DCE7EC", paper: "#12202B" })).toBe("rgb(255 255 0)");
});
