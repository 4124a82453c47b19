import { type Design, type Point, readStudy, studySchema } from "@busy-harbor/core";
import fc from "fast-check";
import { guidesFor } from "../src/floor/guides.ts";
import { align, distribute, group, lock, move, sameSettings, turn, withGroups } from "../src/state/arrange.ts";
import { addElement, addLink, emptyStudy, remove } from "../src/state/edits.ts";
import { cutOut, paste, readPart, writePart } from "../src/state/parts.ts";

const emptyDesign = (): Design => studySchema.parse(emptyStudy("Test")).designs[0];

/** A chain of arrivals, stations and departures at the given places. */
function chain(places: readonly Point[]): Design {
  const design = emptyDesign();
  places.forEach((at, i) =>
    addElement(design, i === 0 ? "arrivals" : i === places.length - 1 ? "departures" : "station", at),
  );
  for (let i = 1; i < places.length; i++) addLink(design, design.elements[i - 1].id, design.elements[i].id);
  return design;
}
const all = (design: Design) => new Set(design.elements.map((e) => e.id));
const places = (design: Design) => design.elements.map((e) => e.at);

describe("arranging", () => {
  test("lines up at the least, the middle or the most of an axis", () => {
    const at: Point[] = [
      [0, 0],
      [4, 10],
      [10, 3],
    ];
    for (const [where, x] of [
      ["least", 0],
      ["middle", 5],
      ["most", 10],
    ] as const) {
      const design = chain(at);
      align(design, all(design), 0, where);
      expect(places(design)).toEqual([
        [x, 0],
        [x, 10],
        [x, 3],
      ]);
    }
  });

  test("spaces evenly between the outermost, whatever the order of selection", () => {
    const design = chain([
      [9, 0],
      [0, 1],
      [1, 2],
      [3, 3],
    ]);
    distribute(design, all(design), 0);
    expect(places(design)).toEqual([
      [9, 0],
      [0, 1],
      [3, 2],
      [6, 3],
    ]);
  });

  test("four quarter turns bring everything back, bends and the lines of queues too", () => {
    const design = chain([
      [0, 0],
      [6, 2],
      [10, 7],
    ]);
    const queue = addElement(design, "queue", [4, 9]);
    design.links[0].bends = [[3, 3]];
    const before = JSON.stringify(design);
    turn(design, all(design));
    expect(design.links[0].bends[0]).not.toEqual([3, 3]);
    expect(queue.kind === "queue" && queue.line).toEqual([[0, -6]]);
    for (let i = 0; i < 3; i++) turn(design, all(design));
    expect(JSON.stringify(design)).toBe(before);
  });

  test("locked elements stay, and are not deleted", () => {
    const design = chain([
      [0, 0],
      [5, 0],
      [9, 0],
    ]);
    const held = design.elements[1];
    lock(design, new Set([held.id]), true);
    move(design, all(design), 1, 1);
    expect(places(design)).toEqual([
      [1, 1],
      [5, 0],
      [10, 1],
    ]);
    const removal = remove(design, all(design));
    expect(removal).toMatchObject({ removed: 2, locked: 1 });
    expect(design.elements).toEqual([held]);
  });

  test("selecting one of a group selects the group", () => {
    const design = chain([
      [0, 0],
      [5, 0],
      [9, 0],
    ]);
    const [a, b, c] = design.elements.map((e) => e.id);
    group(design, new Set([a, b]));
    expect(withGroups(design, [a]).sort()).toEqual([a, b].sort());
    expect(withGroups(design, [c])).toEqual([c]);
  });

  test("the same settings are those that differ only in name, place and line", () => {
    const design = emptyDesign();
    const [a, b, c] = [0, 5, 9].map((x) => addElement(design, "station", [x, 0]));
    expect(sameSettings(a, b)).toBe(true);
    if (c.kind === "station") c.time = "1 min";
    expect(sameSettings(a, c)).toBe(false);
    expect(sameSettings(a, addElement(design, "dwell", [0, 0]))).toBe(false);
  });

  test("guides are the nearest lines of elements that do not move", () => {
    const design = chain([
      [0, 0],
      [10, 5],
      [20, 9],
    ]);
    const moved = new Set([design.elements[1].id]);
    const view = { x: 0, y: 0, scale: 20 };
    expect(guidesFor(design, moved, view, [0.2, 8.8])).toEqual({ x: 0, y: 9 });
    expect(guidesFor(design, moved, view, [10, 5])).toEqual({ x: undefined, y: undefined });
  });
});

describe("deleting", () => {
  test("leads a link on over what had one way in and one way out, and says which", () => {
    const design = chain([
      [0, 0],
      [5, 0],
      [8, 0],
      [12, 0],
    ]);
    const [a, b, c, d] = design.elements.map((e) => e.id);
    design.links[0].time = "9 s";
    const { mended } = remove(design, new Set([b, c]));
    expect(design.links).toHaveLength(1);
    expect(design.links[0]).toMatchObject({ from: a, to: d, time: "9 s" });
    expect(mended).toEqual([["Arrivals", "Departures"]]);
  });

  test("does not guess where there were several ways", () => {
    const design = chain([
      [0, 0],
      [5, 0],
      [8, 0],
    ]);
    const [, b] = design.elements;
    const other = addElement(design, "departures", [8, 5]);
    addLink(design, b.id, other.id);
    expect(remove(design, new Set([b.id])).mended).toEqual([]);
    expect(design.links).toEqual([]);
  });
});

describe("the clipboard", () => {
  test("pasting any part of any chain gives a valid study with new ids, free names and the links among the copied", () => {
    const place = fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 })) as fc.Arbitrary<Point>;
    fc.assert(
      fc.property(fc.array(place, { minLength: 2, maxLength: 12 }), fc.integer(), (at, bits) => {
        const design = chain(at);
        const ids = new Set(design.elements.filter((_, i) => (bits >> i) & 1).map((e) => e.id));
        const part = cutOut(design, ids);
        expect(part === undefined).toBe(ids.size === 0);
        if (!part) return;
        const inside = design.links.filter((l) => ids.has(l.from) && ids.has(l.to)).length;
        const [elements, links] = [design.elements.length, design.links.length];
        const { ids: made } = paste(design, readPart(writePart(part))!, [3, 4]);
        expect(made).toHaveLength(ids.size);
        expect(design.elements).toHaveLength(elements + ids.size);
        expect(design.links).toHaveLength(links + inside);
        expect(new Set(design.elements.map((e) => e.name)).size).toBe(design.elements.length);
        const study = { ...studySchema.parse(emptyStudy("Test")), designs: [design] };
        expect(readStudy(JSON.parse(JSON.stringify(study))).ok).toBe(true);
      }),
    );
  });

  test("offers to reconnect the links that led out, and brings along entity types that are missing", () => {
    const design = chain([
      [0, 0],
      [5, 0],
      [9, 0],
    ]);
    const [a, b] = design.elements;
    const part = cutOut(design, new Set([b.id]))!;
    const { ids, reconnectable } = paste(design, part, [0, 5]);
    expect(reconnectable.map((l) => [l.from, l.to])).toEqual([
      [a.id, ids[0]],
      [ids[0], design.elements[2].id],
    ]);

    const other: Design = { ...emptyDesign(), entityTypes: [] };
    const brought = paste(other, cutOut(design, new Set([a.id]))!, [0, 0]);
    expect(other.entityTypes.map((t) => t.name)).toEqual(["Customer"]);
    expect(other.elements[0]).toMatchObject({
      id: brought.ids[0],
      entityType: other.entityTypes[0].id,
      name: "Arrivals",
    });
    expect(brought.reconnectable).toEqual([]);
  });

  test("resources, signals and calendars that the copied name are the copies of them, else those here, else they come along", () => {
    const study = studySchema.parse({
      ...(emptyStudy("Paste") as object),
      calendars: [{ id: "c1", name: "Early", rows: [{}] }],
      designs: [
        {
          id: "d",
          name: "D",
          entityTypes: [
            { id: "t1", name: "Crate" },
            { id: "t2", name: "Barrel" },
          ],
          elements: [
            {
              kind: "station",
              id: "s",
              name: "Dock",
              at: [0, 0],
              calendar: "c1",
              needs: [{ id: "n", anyOf: ["crew", "kit"] }],
              initial: [{ id: "i", entityType: "t2", count: "1" }],
            },
            { kind: "crew", id: "crew", name: "Hands", at: [0, 9] },
            { kind: "crew", id: "kit", name: "Kit", at: [9, 9] },
            { kind: "gate", id: "g", name: "Gate", at: [5, 0], opens: "signal", signal: "s" },
          ],
        },
      ],
    });
    const [design] = study.designs;
    const part = readPart(writePart(cutOut(design, new Set(["s", "crew", "g"]), study.calendars)!))!;

    // Beside the original: the copied crew is the copy, the kit is the same as before.
    const within = structuredClone(design);
    const [s2, crew2, gate2] = paste(within, part, [0, 30], structuredClone(study.calendars)).ids;
    const of = (d: Design, id: string) => d.elements.find((e) => e.id === id)!;
    expect(of(within, s2)).toMatchObject({
      needs: [{ anyOf: [crew2, "kit"] }],
      calendar: "c1",
      initial: [{ entityType: "t2" }],
    });
    expect(of(within, gate2)).toMatchObject({ signal: s2 });

    // In another study: the kit is found by its name, the calendar and the entity type come along.
    const other = { ...emptyDesign(), entityTypes: [] } as Design;
    other.elements.push(
      ...studySchema.parse({
        ...(emptyStudy("x") as object),
        designs: [{ id: "o", name: "O", elements: [{ kind: "equipment", id: "k9", name: "Kit", at: [0, 0] }] }],
      }).designs[0].elements,
    );
    const calendars: typeof study.calendars = [];
    const [s3, crew3] = paste(other, part, [0, 0], calendars).ids;
    expect(of(other, s3)).toMatchObject({ needs: [{ anyOf: [crew3, "k9"] }], calendar: "c1" });
    expect(calendars.map((c) => c.name)).toEqual(["Early"]);
    expect(other.entityTypes.map((t) => t.name)).toEqual(["Barrel"]);
    // One of that name is there already: it is taken.
    const here = structuredClone(study.calendars).map((c) => ({ ...c, id: "mine" }));
    expect(of(other, paste(other, part, [0, 50], here).ids[0])).toMatchObject({ calendar: "mine" });
  });

  test.each(["", "Desk\t3 min", "{}", '{"format":"busy-harbor-part","version":2}', "{broken"])(
    "text that is no part is not taken for one: %p",
    (text) => {
      expect(readPart(text)).toBeUndefined();
    },
  );
});
