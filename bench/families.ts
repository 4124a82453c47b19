import { performance } from "node:perf_hooks";
import { compile, type Design, readStudy, type Study } from "../core/src/index.ts";

const MEMBERS = 500;
const ROUNDS = 9;

/** Arrivals to the members of one family of stations, each with times, slots and setups from its row of a table. */
function yard(): Study {
  const column = (id: string, holds: string, unit = "") => ({ id, name: id, holds, unit });
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Yard",
    tables: [
      {
        id: "bays",
        name: "Bay list",
        key: "bay",
        columns: [
          column("bay", "text"),
          column("work", "expression", "min"),
          column("slots", "number"),
          column("setup", "duration", "min"),
          column("x", "number", "m"),
          column("y", "number", "m"),
        ],
        rows: Array.from({ length: MEMBERS }, (_, i) => [
          `Bay ${i + 1}`,
          `exponential(${3 + (i % 9)} min)`,
          String(1 + (i % 3)),
          String(i % 4),
          String((i % 25) * 8),
          String(Math.floor(i / 25) * 6),
        ]),
      },
    ],
    designs: [
      {
        id: "d",
        name: "Yard",
        entityTypes: [{ id: "t", name: "Boat" }],
        elements: [
          { id: "in", kind: "arrivals", name: "In", at: [0, 0], entityType: "t", between: "exponential(1 s)" },
          {
            id: "bay",
            kind: "station",
            name: "Bays",
            at: [20, 0],
            time: "row.work",
            capacity: "row.slots",
            setup: "row.setup",
            family: { table: "bays", lies: "columns", x: "x", y: "y" },
          },
          { id: "out", kind: "departures", name: "Out", at: [300, 0] },
        ],
        links: [
          { id: "a", from: "in", to: "bay" },
          { id: "b", from: "bay", to: "out" },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.study;
}

/** Milliseconds of compiling after an edit of a family of 500 members: the median of nine. */
export function familyCompileMs(): number {
  const study = yard();
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const [design] = study.designs;
    // An edit makes new objects of the design and of the family, as the editor does.
    const elements = design.elements.map((e) => (e.family ? { ...e, setup: `row.setup * ${round + 1}` } : e));
    const edited = { ...study, designs: [{ ...design, elements } as Design] };
    const start = performance.now();
    const { program, problems } = compile(edited);
    times.push(performance.now() - start);
    if (!program) throw new Error(JSON.stringify(problems));
  }
  return times.sort((a, b) => a - b)[Math.floor(ROUNDS / 2)];
}
