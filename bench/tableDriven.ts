import { performance } from "node:perf_hooks";
import { compile, type Program, readStudy, run } from "../core/src/index.ts";

const KINDS = 6;
const STATIONS = 12;
const ROUNDS = 8;

/** A line of stations whose times go by the kind of each entity: read from a table, or written out the same for all. */
function line(time: (station: number) => string): Program {
  const stations = Array.from({ length: STATIONS }, (_, i) => ({
    id: `s${i}`,
    kind: "station",
    name: `Station ${i + 1}`,
    at: [10 * (i + 1), 0],
    time: time(i),
  }));
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Line",
    run: { length: "60 d" },
    tables: [
      {
        id: "times",
        name: "Times",
        key: "kind",
        columns: [{ id: "kind", name: "kind" }, ...stations.map(({ id }) => ({ id, name: id, unit: "s" }))],
        rows: Array.from({ length: KINDS }, (_, kind) => [String(kind), ...stations.map(() => "60")]),
      },
    ],
    designs: [
      {
        id: "d",
        name: "Line",
        entityTypes: [
          { id: "t", name: "Crate", attributes: [{ name: "kind", value: `uniformInteger(0, ${KINDS - 1})` }] },
        ],
        elements: [
          { id: "in", kind: "arrivals", name: "In", at: [0, 0], entityType: "t", between: "exponential(80 s)" },
          ...stations,
          { id: "out", kind: "departures", name: "Out", at: [10 * (STATIONS + 1), 0] },
        ],
        links: ["in", ...stations.map((s) => s.id)].map((from, i) => ({
          id: `l${i}`,
          from,
          to: stations[i]?.id ?? "out",
        })),
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { program, problems } = compile(read.study);
  if (!program) throw new Error(JSON.stringify(problems));
  return program;
}

/** Events a second of a line driven by a table over those of its twin of fixed times, of replications taken in turn. */
export function tableDrivenShare(): number {
  const [byTable, fixed] = [line((i) => `Times[entity.kind].s${i}`), line(() => "60 s")];
  let [table, twin] = [Infinity, Infinity];
  for (let replication = 1; replication <= ROUNDS; replication++) {
    const start = performance.now();
    const a = run(byTable, { seed: 1, replication });
    const middle = performance.now();
    const b = run(fixed, { seed: 1, replication });
    const end = performance.now();
    if (!a || !b || a.failure || a.events !== b.events) throw new Error("The two lines are not alike.");
    table = Math.min(table, middle - start);
    twin = Math.min(twin, end - middle);
  }
  return twin / table;
}
