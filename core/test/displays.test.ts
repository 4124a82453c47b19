import { compile, open, run, measuresOf } from "../src/index.ts";
import { study } from "./build.ts";

const withDisplays = (displays: object[]) => {
  const base = study({
    elements: [
      { id: "in", kind: "arrivals", between: "10 s", at: [0, 0] },
      { id: "s", kind: "station", name: "Desk", time: "exponential(25 s)", at: [10, 0] },
      { id: "out", kind: "departures", at: [20, 0] },
    ],
    links: [
      { from: "in", to: "s" },
      { from: "s", to: "out" },
    ],
    run: { length: "500 s" },
  });
  const [design] = base.designs;
  return { ...base, designs: [{ ...design, displays: displays as typeof design.displays }] };
};
const number = (id: string, value: string) => ({ id, kind: "number", at: [0, 0], title: "", value });

test("displays show what their expressions read at the instant, in order", () => {
  const table = {
    id: "t",
    kind: "table",
    at: [0, 0],
    title: "",
    rows: [
      { label: "", value: "Desk.busy + Desk.queue.length" },
      { label: "", value: "clock / 1 s" },
    ],
  };
  const { program } = compile(
    withDisplays([
      number("a", "Desk.busy > 0"),
      table,
      { id: "c", kind: "clock", at: [0, 0], title: "" },
      number("b", "2 + 3"),
    ]),
  );
  const session = open(program!, { seed: 4, replication: 1 });
  expect([...session.shown()]).toEqual([0, 0, 0, 5]);
  session.advanceTo(35);
  const [busy, inside, clock, sum] = session.shown();
  // Three have come (at 10, 20 and 30 s), and who is not done is at the desk.
  const departed = session.values()[measuresOf(program!).findIndex((m) => m.key === "out/departed")];
  expect([busy, inside, sum]).toEqual([departed < 3 ? 1 : 0, 3 - departed, 5]);
  expect(clock).toBe(30);
});

test("a display changes nothing of a run, and a mistake in one spoils none", () => {
  const plain = run(compile(withDisplays([])).program!, { seed: 4, replication: 1 })!;
  const { program, problems } = compile(
    withDisplays([
      number("a", "Desk.busy"),
      number("b", "Desc.busy"),
      number("c", "exponential(3 s)"),
      number("d", ""),
      number("e", '"text"'),
    ]),
  );
  expect(run(program!, { seed: 4, replication: 1 })!.values).toEqual(plain.values);
  expect(problems.map((p) => [p.code, p.severity, p.id, p.path.slice(2)])).toEqual([
    ["bad-display", "warning", "b", ["displays", 1, "value"]],
    ["bad-display", "warning", "c", ["displays", 2, "value"]],
    ["bad-display", "warning", "d", ["displays", 3, "value"]],
    ["bad-display", "warning", "e", ["displays", 4, "value"]],
  ]);
  const session = open(program!, { seed: 4, replication: 1 });
  session.advanceTo(100);
  session.shown();
  session.advanceTo(session.length);
  expect(session.result().values).toEqual(plain.values);
  expect([...session.shown()].map(Number.isNaN)).toEqual([false, true, true, true, true]);
});
