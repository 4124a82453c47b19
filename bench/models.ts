import { compile, type Program, readStudy } from "../core/src/index.ts";

/** M/M/1, at utilization 0.8 unless told, with every default measure; streams 1 and 2 as in the hand-written loop. */
export function mm1(length: string, between = "exponential(75 s)", warmUp = "0 h"): Program {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "M/M/1",
    run: { length, warmUp },
    designs: [
      {
        id: "d",
        name: "M/M/1",
        entityTypes: [{ id: "t", name: "Customer" }],
        elements: [
          { id: "in", kind: "arrivals", name: "In", at: [0, 0], entityType: "t", between, streams: { between: 1 } },
          { id: "s", kind: "station", name: "Desk", at: [10, 0], time: "exponential(60 s)", streams: { time: 2 } },
          { id: "out", kind: "departures", name: "Out", at: [20, 0] },
        ],
        links: [
          { id: "a", from: "in", to: "s" },
          { id: "b", from: "s", to: "out" },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { program, problems } = compile(read.study);
  if (!program) throw new Error(JSON.stringify(problems));
  return program;
}
