import { type Point, readStudy } from "@busy-harbor/core";
import { hitOf } from "../src/build/floorHit.ts";
import { distanceToSegment, pointAt } from "../src/floor/paths.ts";
import { ELEMENT, HANDLE, type HandleOf, LINK } from "../src/floor/stage/nodeNames.ts";
import { fit, gridStep, snap, toFloor, toScreen, zoomAt } from "../src/floor/view.ts";
import { move } from "../src/state/arrange.ts";
import { addElement, addLink, copyDesign, linkRefusal, remove } from "../src/state/edits.ts";

const size = { width: 1000, height: 600 };
const view = { x: 10, y: 5, scale: 20 };

test("screen and floor points turn into each other, and zooming keeps the point under the pointer", () => {
  expect(toFloor(view, size, toScreen(view, size, [3, -2]))).toEqual([3, -2]);
  const pointer: Point = [120, 480];
  const before = toFloor(view, size, pointer);
  const after = toFloor(zoomAt(view, size, pointer, 1.7), size, pointer);
  expect(after[0]).toBeCloseTo(before[0], 9);
  expect(after[1]).toBeCloseTo(before[1], 9);
});

test("fit shows every point clear of the panels", () => {
  const insets = { top: 30, right: 380, bottom: 120, left: 30 };
  const points: Point[] = [
    [-5, 0],
    [40, 22],
    [3, -8],
  ];
  const fitted = fit(points, size, insets);
  for (const p of points) {
    const [x, y] = toScreen(fitted, size, p);
    expect(x).toBeGreaterThan(insets.left);
    expect(x).toBeLessThan(size.width - insets.right);
    expect(y).toBeGreaterThan(insets.top);
    expect(y).toBeLessThan(size.height - insets.bottom);
  }
});

test("the grid is at least ten pixels wide, and snapping meets it", () => {
  for (const scale of [0.02, 1, 7, 20, 400]) expect(gridStep({ ...view, scale }) * scale).toBeGreaterThanOrEqual(10);
  expect(snap([1.3, -0.74], 0.5)).toEqual([1.5, -0.5]);
});

test("points along a bent line", () => {
  const line: Point[] = [
    [0, 0],
    [10, 0],
    [10, 5],
  ];
  expect(pointAt(line, 12).point).toEqual([10, 2]);
  expect(pointAt(line, 12).angle).toBeCloseTo(Math.PI / 2, 12);
  expect(pointAt(line, 18).point).toEqual([10, 8]);
  expect(distanceToSegment([5, 3], [0, 0], [10, 0])).toEqual({ distance: 3, share: 0.5 });
  expect(distanceToSegment([-4, 3], [0, 0], [10, 0]).distance).toBe(5);
});

function smallStudy() {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "x",
    designs: [{ id: "d", name: "D", entityTypes: [{ id: "t", name: "T" }] }],
  });
  if (!read.ok) throw new Error("refused");
  const [design] = read.study.designs;
  const a = addElement(design, "arrivals", [0, 5]);
  const b = addElement(design, "station", [10, 5]);
  const c = addElement(design, "departures", [20, 5]);
  return { study: read.study, design, a, b, c };
}

test("a node under the pointer means a handle, an element, or the nearest segment of a link", () => {
  const { design, a, b } = smallStudy();
  const link = addLink(design, a.id, b.id);
  link.bends.push([5, 5]);
  const node = (name: string, id: string, of?: HandleOf) => ({ name: () => name, id: () => id, getAttr: () => of });
  const at = (p: Point, under?: ReturnType<typeof node>) => hitOf(under, design, view, size, toScreen(view, size, p));
  expect(at([10, 5], node(ELEMENT, b.id))).toEqual({ kind: "element", id: b.id });
  expect(at([4, 5], node(LINK, link.id))).toEqual({ kind: "link", id: link.id, segment: 0 });
  expect(at([7, 5], node(LINK, link.id))).toEqual({ kind: "link", id: link.id, segment: 1 });
  const bend: HandleOf = { kind: "bend", id: link.id, index: 0 };
  expect(at([5, 5], node(HANDLE, "", bend))).toEqual(bend);
  expect(at([15, -3])).toEqual({ kind: "floor" });
});

test("edits: links follow their ends, moves carry bends, copies keep ids", () => {
  const { study, design, a, b, c } = smallStudy();
  expect(linkRefusal(c, b)).toBe("Nothing goes on from departures.");
  expect(linkRefusal(b, a)).toBe("Nothing enters arrivals.");
  expect(linkRefusal(b, b)).toBeUndefined();
  const link = addLink(design, a.id, b.id);
  addLink(design, b.id, c.id);
  link.bends.push([5, 7]);
  move(design, new Set([a.id, b.id]), 1, 2);
  expect(link.bends).toEqual([[6, 9]]);
  move(design, new Set([a.id]), 1, 0);
  expect(link.bends).toEqual([[6, 9]]);
  const copy = copyDesign(study, "d");
  expect(study.designs.find((d) => d.id === copy)).toMatchObject({
    name: "D, copy",
    copiedFrom: "d",
    elements: [{ id: a.id }, { id: b.id }, { id: c.id }],
  });
  remove(design, new Set([b.id]));
  expect(design.links).toMatchObject([{ from: a.id, to: c.id }]);
  expect(design.elements.map((e) => e.id)).toEqual([a.id, c.id]);
  expect(addElement(design, "departures", [0, 0]).name).toBe("Departures 2");
});
