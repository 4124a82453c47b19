import { type DrawnElement, unfold } from "../src/drawings/unfold.ts";

/** An element by its name, attributes and children. */
const el = (localName: string, attributes: Record<string, string> = {}, ...children: DrawnElement[]): DrawnElement => ({
  localName,
  children,
  attributes: Object.entries(attributes).map(([name, value]) => ({ name, value })),
});
const many = (n: number, make: (i: number) => DrawnElement) => Array.from({ length: n }, (_, i) => make(i));

test("plain drawings count their parts; long outlines count as several", () => {
  expect(unfold(el("svg", {}, el("rect"), el("g", {}, el("path", { d: "M0 0".padEnd(1000, " L1 1") }))))).toEqual({
    parts: 14,
    layers: 0,
    depth: 0,
  });
});

test("eight levels of ten uses are a hundred million parts", () => {
  const levels = many(8, (i) => el("g", { id: `l${i + 1}` }, ...many(10, () => el("use", { href: `#l${i}` }))));
  const { parts } = unfold(el("svg", {}, el("g", { id: "l0" }, el("rect")), ...levels));
  expect(parts).toBeGreaterThan(1e8);
});

test("what names itself, straight or by others, has no end", () => {
  expect(
    unfold(
      el(
        "svg",
        {},
        el("g", { id: "a" }, el("use", { href: "#b" })),
        el("g", { id: "b" }, el("use", { "xlink:href": "#a" })),
      ),
    ).parts,
  ).toBe(Infinity);
});

test("patterns, masks and clips count where they are named, markers at every point of an outline", () => {
  const dots = el("pattern", { id: "p" }, ...many(50, () => el("circle")));
  expect(unfold(el("svg", {}, dots, ...many(10, () => el("rect", { fill: "url(#p)" })))).parts).toBe(1 + 51 + 10 * 52);
  const arrow = el("marker", { id: "m" }, el("path"));
  expect(
    unfold(el("svg", {}, arrow, el("polyline", { points: "0,0 1,1 2,2", "marker-mid": "url(#m)" }))).parts,
  ).toBeCloseTo(1 + 2 + 1.11 + 3 * 2, 9);
});

test("half transparent groups are layers, however deep they lie in one another", () => {
  const nested = (n: number): DrawnElement => (n === 0 ? el("rect") : el("g", { opacity: "0.9" }, nested(n - 1)));
  expect(unfold(el("svg", {}, nested(5), el("g", { opacity: "1" }, el("rect"))))).toMatchObject({
    layers: 5,
    depth: 5,
  });
  expect(
    unfold(el("svg", {}, el("g", { id: "g", style: "opacity:.5" }), ...many(3, () => el("use", { href: "#g" })))),
  ).toMatchObject({ layers: 4, depth: 1 });
});
