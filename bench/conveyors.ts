import { performance } from "node:perf_hooks";
import { compile, readStudy, run } from "../core/src/index.ts";

/** A sorter: each lane is a row of belts, of which every second lets those behind close up. */
const LANES = 50;
const BELTS = 20;
const HOURS = 1;

function sorter() {
  const lanes = Array.from({ length: LANES }, (_, lane) => lane);
  const along = Array.from({ length: BELTS - 1 }, (_, i) => i + 1);
  const id = (lane: number, i: number) => (i === 0 ? `a${lane}` : i === BELTS ? `d${lane}` : `j${lane}x${i}`);
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Sorter",
    run: { length: `${HOURS} h` },
    designs: [
      {
        id: "d",
        name: "Sorter",
        entityTypes: [{ id: "t", name: "Parcel", attributes: [{ name: "long", value: "uniform(0.3 m, 1.2 m)" }] }],
        elements: lanes.flatMap((lane) => [
          {
            ...{ id: id(lane, 0), kind: "arrivals", name: `In ${lane}`, at: [0, lane * 5], entityType: "t" },
            between: "exponential(3 s)",
          },
          ...along.map((i) => ({
            id: id(lane, i),
            kind: "junction",
            name: `Turn ${lane} of ${i}`,
            at: [i * 10, lane * 5],
          })),
          { id: id(lane, BELTS), kind: "departures", name: `Out ${lane}`, at: [BELTS * 10, lane * 5] },
        ]),
        links: lanes.flatMap((lane) =>
          Array.from({ length: BELTS }, (_, i) => ({
            ...{ id: `l${lane}x${i}`, from: id(lane, i), to: id(lane, i + 1), kind: "conveyor" },
            ...{ beltSpeed: "0.6 m/s", beltRoom: "entity.long + 0.2 m", accumulates: i % 2 === 0 },
          })),
        ),
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems.slice(0, 3)));
  const { program, problems } = compile(read.study, "d");
  if (!program) throw new Error(JSON.stringify(problems.slice(0, 3)));
  return program;
}

/** Events a second of a sorter of a thousand conveyors, the best of three. */
export function conveyorEventsPerSecond(): number {
  const program = sorter();
  let most = 0;
  for (let replication = 1; replication <= 3; replication++) {
    const start = performance.now();
    const { events, failure } = run(program, { seed: 1, replication })!;
    if (failure) throw new Error(failure.message);
    most = Math.max(most, (events / (performance.now() - start)) * 1000);
  }
  return most;
}
