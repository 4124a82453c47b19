import { type Design, type Link, type Road, roadSchema, studySchema } from "@busy-harbor/core";
import { changes } from "../src/floor/changes.ts";
import { LabelSpace } from "../src/floor/labels.ts";
import { placeNames } from "../src/floor/names.ts";
import { drawnLinks } from "../src/floor/paths.ts";
import { standsOn } from "../src/floor/roads.ts";
import { addElement, addLink, emptyStudy } from "../src/state/edits.ts";

const design = (): Design => {
  const d = studySchema.parse(emptyStudy("Test")).designs[0];
  const [a, b] = [addElement(d, "arrivals", [0, 0]), addElement(d, "departures", [10, 0])];
  addLink(d, a.id, b.id);
  return d;
};

test("what changed between two states of a design, or undefined when there is more or less of it", () => {
  const before = design();
  expect(changes(before, { ...before })).toEqual(new Set());
  const moved = {
    ...before,
    elements: before.elements.map((e, i) => (i === 1 ? { ...e, at: [12, 0] as [number, number] } : e)),
  };
  expect(changes(before, moved)).toEqual(new Set([before.elements[1].id]));
  expect(changes(before, { ...before, elements: before.elements.slice(1) })).toBeUndefined();
  expect(changes(before, { ...before, elements: [...before.elements].reverse() })).toBeUndefined();
});

test("a way has changed where it looks different, and it is known who stands on it", () => {
  const bare = design();
  const [a, b] = bare.elements;
  const road = roadSchema.parse({
    id: "road",
    points: [
      [0, 0],
      [0, 8],
      [20, 8],
    ],
    from: a.id,
  });
  const before: Design = { ...bare, roads: [road] };
  const withRoad = (change: Partial<Road>): Design => ({ ...before, roads: [{ ...road, ...change }] });
  expect(changes(before, withRoad({ room: "1", name: "Drive" }))).toEqual(new Set());
  expect(changes(before, withRoad({ width: 3 }))).toEqual(new Set(["road"]));
  const over: Road["points"] = [
    [0, 0],
    [10, 0.9],
  ];
  const across = withRoad({ points: over });
  expect(changes(before, across)).toEqual(new Set(["road"]));
  const on = (of: Design) => of.elements.filter((element) => standsOn(element, of.roads![0], of)).map(({ id }) => id);
  expect(on(before)).toEqual([a.id]);
  expect(on(across)).toEqual([a.id, b.id]);
  expect(on(withRoad({ points: over, width: 1.6 }))).toEqual([a.id]);
  expect(changes(before, { ...before, roads: [] })).toBeUndefined();
  expect(changes(bare, before)).toBeUndefined();
});

test("words take the place they cover, and no others get it", () => {
  const space = new LabelSpace();
  expect(space.take(100, 100, 80)).toBe(true);
  expect(space.take(150, 104, 40)).toBe(false);
  expect(space.take(170, 104, 40)).toBe(true);
  expect(space.take(100, 130, 80)).toBe(true);
  space.block(300, 340, 90, 110);
  expect(space.take(320, 100, 10)).toBe(false);
  expect(space.take(320, 120, 10)).toBe(true);
});

test("links between the same two are drawn side by side, bent ones as bent, broken ones not at all", () => {
  const d = design();
  const [a, b] = d.elements;
  addLink(d, a.id, b.id);
  const bent = addLink(d, a.id, b.id);
  bent.bends = [[5, 5]];
  const broken = addLink(d, a.id, "gone");
  const lines = drawnLinks(d);
  expect(lines.get(d.links[0].id)).toEqual([
    [0, 0],
    [5, -0.6],
    [10, 0],
  ]);
  expect(lines.get(d.links[1].id)).toEqual([
    [0, 0],
    [5, 0.6],
    [10, 0],
  ]);
  expect(lines.get(bent.id)).toEqual([
    [0, 0],
    [5, 5],
    [10, 0],
  ]);
  expect(lines.has(broken.id)).toBe(false);
  expect(drawnLinks(d)).toBe(lines);
});

test("names stand clear of symbols, lines and one another: below, else above, beside, shortened, or not at all", () => {
  const d = design();
  const [a, b] = d.elements;
  const measure = (words: string) => 7 * words.length;
  const scale = 20;
  expect(placeNames(d.elements, d, scale, measure).get(a.id)).toMatchObject({ words: a.name, x: 0 });
  expect(placeNames(d.elements, d, scale, measure).get(a.id)!.y).toBeGreaterThan(0);
  // A link that leaves downwards takes the place below.
  const bends: Link["bends"] = [
    [0, 5],
    [10, 5],
  ];
  const bent = { ...d, links: [{ ...d.links[0], bends }] };
  const above = placeNames(bent.elements, bent, scale, measure);
  expect(above.get(a.id)!.y).toBeLessThan(0);
  expect(above.get(b.id)!.y).toBeLessThan(0);
  // Neighbours too close for both names above and below one another's: they share out the places.
  const crowd = design();
  for (let i = 0; i < 12; i++) addElement(crowd, "station", [3 + (i % 4) * 2, 3 + Math.floor(i / 4) * 2]);
  const names = placeNames(crowd.elements, crowd, scale, measure);
  const boxes = [...names].map(([id, { words, x, y }]) => {
    const { at } = crowd.elements.find((e) => e.id === id)!;
    const [cx, cy] = [at[0] * scale + x, at[1] * scale + y];
    return [cx - measure(words) / 2, cx + measure(words) / 2, cy - 6, cy + 6] as const;
  });
  for (const [i, one] of boxes.entries())
    for (const other of boxes.slice(i + 1))
      expect(one[0] < other[1] && other[0] < one[1] && one[2] < other[3] && other[2] < one[3]).toBe(false);
  expect([...names.values()].some(({ name, words }) => words !== name && words.endsWith("…"))).toBe(true);
  expect(names.size).toBeLessThan(crowd.elements.length);
});
