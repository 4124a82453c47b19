import { compile, renameIn, renameUses } from "../src/index.ts";
import { study } from "./build.ts";

test.each([
  ["TicketLine.length + 1", "Ticket line", "Queue", "Queue.length + 1"],
  [
    "max(`Ticket line`.length, ticketline.length)",
    "Ticket line",
    "Shared line",
    "max(`Shared line`.length, `Shared line`.length)",
  ],
  [
    "entity.type is Visitor and not (Desk.busy > Visitor2.busy)",
    "Visitor",
    "Guest",
    "entity.type is Guest and not (Desk.busy > Visitor2.busy)",
  ],
  // A property, a text and a unit of that name are none of its uses.
  ["Gate.length + A.Length", "length", "span", "Gate.length + A.Length"],
  ['entity.kind = "Desk"', "Desk", "Counter", 'entity.kind = "Desk"'],
  ["Desk.busy +", "Desk", "Counter", "Desk.busy +"],
  ["Desk.busy", "Desk", "Bar `7`", "Bar7.busy"],
])("%s with %s called %s", (source, from, to, wanted) => {
  expect(renameIn(source, from, to)).toBe(wanted);
});

const hall = () =>
  study({
    types: [{ id: "t1", name: "Visitor", attributes: [{ name: "hurry", value: "Desk.busy" }] }],
    elements: [
      { id: "in", kind: "arrivals", name: "Door", between: "10 s + Desk.busy * 1 s", at: [0, 0] },
      { id: "s", kind: "station", name: "Desk", at: [10, 0] },
      { id: "r", kind: "station", name: "Desk 2", at: [10, 9] },
      { id: "out", kind: "departures", name: "Out", at: [20, 0] },
    ],
    links: [
      { from: "in", to: "s" },
      { from: "in", to: "r", condition: "Desk.free = 0 and entity.type is Visitor" },
      { from: "s", to: "out" },
      { from: "r", to: "out" },
    ],
  }).designs[0];

test("a renamed element is renamed wherever it is used, and the design still reads", () => {
  const design = {
    ...hall(),
    displays: [
      {
        id: "d",
        kind: "number" as const,
        at: [0, 0] as [number, number],
        title: "",
        rotation: 0,
        size: 1,
        value: "Desk.busy",
      },
    ],
  };
  design.elements[1].name = "Main counter";
  expect(renameUses(design, "Desk", "Main counter")).toBe(4);
  expect(design.links[1].condition).toBe("`Main counter`.free = 0 and entity.type is Visitor");
  expect(design.displays[0].value).toBe("`Main counter`.busy");
  const whole = study({ elements: [], links: [] });
  expect(
    compile({ ...whole, designs: [design] }).problems.filter(
      (p) => p.code === "bad-expression" || p.code === "bad-display",
    ),
  ).toEqual([]);
});

test("nothing is renamed while a name is two elements'", () => {
  const design = hall();
  design.elements[1].name = "Desk 2";
  const before = JSON.stringify(design);
  expect(renameUses(design, "Desk", "Desk 2")).toBe(0);
  design.elements[1].name = "Counter";
  design.elements[2].name = "Desk";
  expect(renameUses(design, "Desk", "Counter")).toBe(0);
  design.elements[1].name = design.elements[2].name = "Desk 2";
  expect(JSON.stringify(design)).toBe(before);
});
