import { type Design, studySchema } from "@busy-harbor/core";
import { changes } from "../src/floor/FloorLayers.ts";
import { LabelSpace } from "../src/floor/labels.ts";
import { drawnLinks } from "../src/floor/paths.ts";
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
