import { type Design, displaySchema, references, studySchema } from "@busy-harbor/core";
import { readLength, showLength } from "../src/build/length.ts";
import { usersOf } from "../src/build/whereUsed.ts";
import { matches, relevance } from "../src/commands/command.ts";
import { addElement, emptyStudy } from "../src/state/edits.ts";

const press = (key: string, ...held: string[]) => ({
  key,
  ctrlKey: held.includes("Ctrl"),
  metaKey: held.includes("Meta"),
  shiftKey: held.includes("Shift"),
  altKey: held.includes("Alt"),
});

test.each([
  ["Ctrl D", press("d", "Ctrl"), true],
  ["Ctrl D", press("d", "Meta"), true],
  ["Ctrl D", press("d"), false],
  ["Ctrl D", press("D", "Ctrl", "Shift"), false],
  ["Ctrl Shift G", press("G", "Ctrl", "Shift"), true],
  ["?", press("?", "Shift"), true],
  ["+", press("+"), true],
  ["F", press("f"), true],
  ["F", press("F", "Shift"), false],
  ["Alt 2", press("2", "Alt"), true],
  ["ArrowLeft", press("ArrowLeft", "Shift"), false],
  ["Space", press(" "), true],
  ["Space", press(" ", "Ctrl"), false],
  [".", press("."), true],
])("%s and the pressed keys %p: %p", (keys, event, expected) => {
  expect(matches(keys, event)).toBe(expected);
});

test("a search wants every word, and prefers the start of the label, then of a word", () => {
  const labels = ["Stop placing, or select nothing", "Line up in a row", "Ticket line", "Underline"];
  const sorted = (search: string) =>
    labels.filter((l) => relevance(l, search) > 0).sort((a, b) => relevance(b, search) - relevance(a, search));
  expect(sorted("line")).toEqual(["Line up in a row", "Ticket line", "Underline"]);
  expect(sorted("line row")).toEqual(["Line up in a row"]);
  expect(sorted("xyz")).toEqual([]);
});

test.each([
  ["12 m", "m", 12],
  ["3 ft", "m", 0.9144],
  ["12", "ft", 3.6576],
  ["1.5 m + 20 cm", "m", 1.7],
  ["-2", "m", -2],
  ["5 s", "m", undefined],
  ["uniform(1 m, 2 m)", "m", undefined],
  ["", "m", undefined],
  ["1/0", "m", undefined],
] as const)("the length %p, in %s, is %p metres", (text, length, metres) => {
  const read = readLength(text, { time: "min", length });
  if (metres === undefined) expect(read).toBeUndefined();
  else expect(read).toBeCloseTo(metres, 12);
});

test("a length shown for editing reads back as itself", () => {
  for (const length of ["m", "ft", "in"] as const)
    expect(readLength(showLength(7.315, { time: "s", length }), { time: "s", length })).toBeCloseTo(7.315, 5);
});

test("the names an expression reads, and who reads an element", () => {
  expect(
    references("if(`Ticket line`.length > 3 and Desk.busy < Desk.capacity, entity.size, [1, Gate.open][2])"),
  ).toEqual(["Ticket line", "Desk", "entity", "Gate"]);
  expect(references("1 +")).toEqual([]);

  const design: Design = studySchema.parse(emptyStudy("Test")).designs[0];
  const queue = addElement(design, "queue", [0, 0]);
  const station = addElement(design, "station", [5, 0]);
  queue.name = "Ticket line";
  if (station.kind === "station") station.time = "if(TicketLine.length > 5, 1 min, 2 min)";
  design.displays.push(
    displaySchema.parse({ kind: "number", id: "n", at: [0, 0], title: "Waiting", value: "`Ticket line`.length" }),
    displaySchema.parse({ kind: "clock", id: "c", at: [0, 0] }),
  );
  expect(usersOf(queue, design)).toEqual([
    { kind: "element", id: station.id, name: "Station", field: "Time" },
    { kind: "display", id: "n", name: "Waiting", field: "display" },
  ]);
  expect(usersOf(station, design)).toEqual([]);
  design.measures.push(
    { kind: "condition", id: "m", name: "Long line", condition: `${station.name}.busy > 1` },
    { kind: "group", id: "g", name: "All", elements: [station.id] },
  );
  expect(usersOf(station, design)).toEqual([{ kind: "measure", id: "m", name: "Long line", field: "measure" }]);
});
