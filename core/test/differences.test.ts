import fc from "fast-check";
import { changesSince, type Design, differences, readStudy, type Study, takeOver } from "../src/index.ts";

function twoDesigns(): Study {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Quay",
    designs: [
      {
        id: "now",
        name: "Now",
        entityTypes: [{ id: "t", name: "Lorry" }],
        elements: [
          { id: "in", kind: "arrivals", name: "Gate", at: [0, 0], entityType: "t" },
          { id: "q", kind: "queue", name: "Lane", at: [5, 0] },
          { id: "s", kind: "station", name: "Weighbridge", at: [10, 0], time: "4 min" },
          { id: "out", kind: "departures", name: "Road", at: [20, 0] },
        ],
        links: [
          { id: "a", from: "in", to: "q" },
          { id: "b", from: "q", to: "s" },
          { id: "c", from: "s", to: "out" },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error("bad study");
  const copy: Design = { ...structuredClone(read.study.designs[0]), id: "then", name: "Then" };
  return { ...read.study, designs: [read.study.designs[0], copy] };
}
const station = (design: Design) =>
  design.elements.find((e) => e.id === "s") as Extract<Design["elements"][0], { kind: "station" }>;

test("a copy differs in nothing, whatever its streams, locks and groups", () => {
  const [now, then] = twoDesigns().designs;
  then.elements[0] = { ...then.elements[0], streams: { between: 7 }, locked: true, group: "g" };
  expect(differences(now, then)).toEqual([]);
});

test("differences are told in sentences", () => {
  const [now, then] = twoDesigns().designs;
  station(then).time = "3 min";
  then.elements[1].name = "Long lane";
  station(then).at = [11, 2];
  then.entityTypes[0].speed = "2 m/s";
  then.links = then.links.filter((l) => l.id !== "c");
  then.links.push({ ...now.links[2], id: "d", from: "q", kind: "walkway", bends: [[1, 1]] });
  then.links[0].condition = "entity.age > 3 min";
  expect(differences(now, then).map((d) => d.sentence)).toEqual([
    "Entity type Lorry: speed 1.3 m/s becomes 2 m/s.",
    "Lane is called Long lane.",
    "Weighbridge: place differs.",
    "Weighbridge: time 4 min becomes 3 min.",
    "The link from Gate to Long lane: condition nothing becomes entity.age > 3 min.",
    "The link from Long lane to Road is added.",
    "The link from Weighbridge to Road is removed.",
  ]);
});

test("taking over every difference, in any order, makes two designs alike", () => {
  const edits: ReadonlyArray<(d: Design) => void> = [
    (d) => (station(d).time = "3 min"),
    (d) => void (d.elements[1].name = "Long lane"),
    (d) => void (d.elements[3].at = [30, 3]),
    (d) => void d.elements.push({ ...station(d), id: "s2", name: "Second bridge" }),
    (d) => void d.links.push({ ...d.links[1], id: "e", to: "s", share: "20 %" }),
    (d) => void (d.links = d.links.filter((l) => l.id !== "c")),
    (d) => void (d.entityTypes[0].colour = "#7A5C9E"),
  ];
  fc.assert(
    fc.property(fc.subarray([...edits]), fc.func(fc.integer()), (chosen, order) => {
      const [now, then] = twoDesigns().designs;
      for (const edit of chosen) edit(then);
      const found = differences(now, then);
      expect(found.length > 0).toBe(chosen.length > 0);
      for (const difference of [...found].sort((a, b) => order(a.key) - order(b.key))) takeOver(difference, then, now);
      expect(differences(now, then)).toEqual([]);
    }),
  );
});

test("taking over the removal of an element takes its links with it", () => {
  const [now, then] = twoDesigns().designs;
  then.elements = then.elements.filter((e) => e.id !== "q");
  then.links = then.links.filter((l) => l.from !== "q" && l.to !== "q");
  const removal = differences(now, then).find((d) => d.id === "q")!;
  expect(removal.sentence).toBe("Lane is removed.");
  takeOver(removal, then, now);
  expect(now.links.map((l) => l.id)).toEqual(["c"]);
});

test("what has changed since a run: settings, the design, and all that it takes from the study", () => {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Quay",
    run: { length: "8 h", seed: 3, replications: 20 },
    variables: [
      { id: "v", name: "Pilots", value: "2" },
      { id: "w", name: "Tugs", value: "4" },
    ],
    tables: [
      {
        id: "k",
        name: "Kinds",
        columns: [
          { id: "c", name: "kind" },
          { id: "d", name: "time" },
        ],
        rows: [["1", "2"]],
      },
      { id: "l", name: "Lanes", columns: [{ id: "c", name: "lane" }], rows: [["1"]] },
    ],
    designs: [
      {
        id: "now",
        name: "Now",
        entityTypes: [{ id: "t", name: "Lorry" }],
        elements: [
          { id: "in", kind: "arrivals", name: "Gate", at: [0, 0], entityType: "t" },
          { id: "s", kind: "station", name: "Weighbridge", at: [10, 0], time: "4 min" },
        ],
        links: [{ id: "a", from: "in", to: "s" }],
        measures: [{ id: "m", name: "Waiting", kind: "average", value: "s.queue.length" }],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const then = read.study;
  expect(changesSince(then, then, "now")).toEqual([]);
  // The number of replications and what is told alone make no other numbers.
  expect(
    changesSince(then, { ...then, name: "Other", run: { ...then.run, replications: 40, level: 0.9 } }, "now"),
  ).toEqual([]);
  const now = structuredClone(then) as Study & { designs: Design[] };
  now.run.seed = 4;
  now.run.warmUp = "1 h";
  station(now.designs[0]).time = "3 min";
  now.designs[0].measures[0].name = "In line";
  now.variables![0].value = "3";
  now.variables!.pop();
  now.tables[0].rows[0][1] = "5";
  now.tables[0].rows.push(["2", "9"]);
  now.tables.pop();
  now.calendars.push({ ...now.calendars[0], id: "c", name: "Nights" });
  expect(changesSince(then, now, "now")).toEqual([
    "Warm-up: 0 h becomes 1 h.",
    "Seed: 3 becomes 4.",
    "Weighbridge: time 4 min becomes 3 min.",
    "Pilots: 2 becomes 3.",
    "The variable Tugs is taken away.",
    "The calendar Nights is added.",
    "The table Kinds: 1 cell is another, 1 row more.",
    "The table Lanes is taken away.",
    "The measure In line is another.",
  ]);
  expect(changesSince(then, { ...now, designs: [] }, "now")).toEqual(["The design is not there any more."]);
});
