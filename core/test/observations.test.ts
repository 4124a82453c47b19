import {
  assignStreams,
  compile,
  type Departed,
  observationTable,
  open,
  run,
  runLong,
  type Study,
  measuresOf,
} from "../src/index.ts";
import { chain, study } from "./study.ts";

type Loose = Record<string, unknown>;
const KINDS = {
  id: "kinds",
  name: "Kinds",
  key: "kind",
  columns: [
    { id: "kind", name: "kind", holds: "text" },
    { id: "time", name: "time", unit: "min" },
  ],
  rows: [
    ["cutter", "3"],
    ["yawl", "5"],
  ],
};
/** Crates and letters by turns, each every 10 min, at one station. */
const yard = (attributes: Loose[], run: Loose = {}): Study =>
  assignStreams(
    study({
      types: [
        { id: "crate", name: "Crate", attributes },
        { id: "letter", name: "Letter" },
      ],
      elements: [
        { kind: "arrivals", id: "a", name: "A", between: "10 min", first: "0 min", entityType: "crate" },
        { kind: "arrivals", id: "b", name: "B", between: "10 min", first: "5 min", entityType: "letter" },
        { kind: "station", id: "s", name: "Desk", time: "6 min" },
        { kind: "departures", id: "d", name: "Out" },
      ],
      links: [...chain("a", "s", "d"), { from: "b", to: "s" }],
      run: { length: "30 min", warmUp: "0 min", ...run },
      more: { tables: [KINDS] },
    }),
  );

function observed(s: Study, replication = 1) {
  const { program, problems } = compile(s);
  if (!program) throw new Error(problems.map(({ message }) => message).join("\n"));
  const table = observationTable(program.model);
  const rows: (string | number)[][] = [];
  const result = run(program, { seed: 1, replication, observe: (departed) => void rows.push(table.row(departed)) })!;
  const value = (key: string) => result.values[measuresOf(program).findIndex((m) => m.key === key)];
  return { head: table.head, rows, value, program };
}

test("each that leaves is a row: when, by which element, its type, its times, and nothing of those inside", () => {
  const { head, rows } = observed(yard([]));
  expect(head).toEqual(["Left at (s)", "By", "Type", "Time in system (s)", "Time waiting (s)", "Time worked on (s)"]);
  // They come every 5 min, and each takes 6: the second waits 1 min, the third 2, and so on.
  expect(rows).toEqual([
    [360, "Out", "Crate", 360, 0, 360],
    [720, "Out", "Letter", 420, 60, 360],
    [1080, "Out", "Crate", 480, 120, 360],
    [1440, "Out", "Letter", 540, 180, 360],
    [1800, "Out", "Crate", 600, 240, 360],
  ]);
});

test("attributes have a column each, in words where they are no numbers, empty for a type that lacks them", () => {
  const { head, rows } = observed(
    yard([
      { name: "weight", value: "2 t" },
      { name: "label", value: '"blue, heavy"' },
      { name: "rushed", value: "yes" },
      { name: "kind", value: 'Kinds["yawl"]' },
      { name: "goesTo", value: "Out" },
      { name: "count", value: "3" },
    ]),
  );
  expect(head.slice(6)).toEqual(["weight (kg)", "label", "rushed", "kind", "goesTo", "count"]);
  expect(rows[0].slice(6)).toEqual([2000, "blue, heavy", "yes", "yawl", "Out", 3]);
  expect(rows[1].slice(6)).toEqual(["", "", "", "", "", ""]);
});

test("those of the warm-up are left out, and the rows are what the measures are of", () => {
  const s = yard([], { length: "3 h", warmUp: "13 min" });
  const { rows, value } = observed(s);
  const crates = rows.filter(([, , type]) => type === "Crate");
  expect(crates).toHaveLength(value("crate/departed"));
  expect(Number(rows[0][0])).toBeGreaterThan(13 * 60);
  const mean = crates.reduce((sum, [, , , time]) => sum + Number(time), 0) / crates.length;
  expect(value("crate/timeInSystem.mean")).toBeCloseTo(mean, 9);
});

test("nobody is told of a run that nobody observes, though one before was; figures are the same", () => {
  const s = yard([]);
  const { program } = compile(s);
  let told = 0;
  const watched = run(program!, { seed: 1, replication: 1, observe: () => void (told += 1) })!;
  expect(told).toBe(5);
  expect(run(program!, { seed: 1, replication: 1 })!.values).toEqual(watched.values);
  expect(told).toBe(5);
});

test("of a long run all that leave are told, and of a pair those of both", () => {
  const long = compile(yard([], { length: "3 h", kind: "long" })).program!;
  const times: number[] = [];
  const batches = runLong(long, { seed: 1, batches: 3, observe: ({ at }: Departed) => void times.push(at) })!;
  const departed = measuresOf(long).findIndex((m) => m.key === "d/departed");
  expect(times).toHaveLength(batches.reduce((sum, batch) => sum + batch.values[departed], 0));
  expect(times).toEqual([...times].sort((a, b) => a - b));

  const pairs = observed(yard([], { kind: "pairs" }));
  expect(pairs.rows).toHaveLength(10);
  expect(pairs.rows.slice(5)).toEqual(pairs.rows.slice(0, 5));
  const session = open(pairs.program, { seed: 1, replication: 1 });
  session.advanceTo(session.length);
  expect(session.result().values[departed]).toBe(5);
});
