import { performance } from "node:perf_hooks";
import { compile, readStudy, run, measuresOf } from "../core/src/index.ts";
import { type ByHand, line50ByHand } from "./line50ByHand.ts";

const STATIONS = 50;

/** A line of 50 stations with shifts, setups, breakdowns and crews that set up and repair. */
export function line50(length: string) {
  const stations = Array.from({ length: STATIONS }, (_, i) => ({
    id: `s${i}`,
    kind: "station",
    name: `Station ${i + 1}`,
    at: [10 * (i + 1), 0],
    capacity: i % 7 === 0 ? "2" : "1",
    time: "triangular(40 s, 55 s, 75 s)",
    room: i === 0 ? "no limit" : "10",
    calendar: "two",
    atBell: "pause at the bell",
    setup: i % 5 === 0 ? "5 s" : "",
    needs: i % 5 === 0 ? [{ id: "n", anyOf: ["setters"], phases: ["setup"] }] : [],
    breakdowns: [
      { id: "b", clock: "busy time", every: "exponential(6 h)", repair: "exponential(10 min)", anyOf: ["fitters"] },
    ],
  }));
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Line",
    run: { length, start: "2026-06-01T06:00" },
    calendars: [
      {
        id: "two",
        name: "Two shifts",
        rows: [
          { days: [0, 1, 2, 3, 4, 5, 6], from: "06:00", to: "14:00" },
          { days: [0, 1, 2, 3, 4, 5, 6], from: "14:30", to: "22:30" },
        ],
      },
    ],
    designs: [
      {
        id: "d",
        name: "Line",
        entityTypes: [{ id: "t", name: "Crate" }],
        elements: [
          { id: "in", kind: "arrivals", name: "In", at: [0, 0], entityType: "t", between: "exponential(110 s)" },
          ...stations,
          { id: "out", kind: "departures", name: "Out", at: [10 * (STATIONS + 1), 0] },
          { id: "setters", kind: "crew", name: "Setters", at: [0, 50], count: "3" },
          { id: "fitters", kind: "crew", name: "Fitters", at: [10, 50], count: "4" },
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

const DAYS = 40;
const ROUNDS = 8;

export interface Line50 {
  readonly eventsPerSecond: number;
  /** Time of the line by the kernel over that of the loop written by hand. */
  readonly ratio: number;
}

/** Shortest times of the line by the kernel and by hand, of replications taken in turn. */
export function benchLine50(): Line50 {
  const program = line50(`${DAYS} d`);
  let [eventsPerSecond, byKernel, byHand] = [0, Infinity, Infinity];
  for (let replication = 1; replication <= ROUNDS; replication++) {
    const start = performance.now();
    const result = run(program, { seed: 1, replication });
    const middle = performance.now();
    const hand = line50ByHand(1, replication, DAYS * 86_400);
    const end = performance.now();
    if (!result || result.failure) throw new Error(result?.failure?.message ?? "The line did not run.");
    checkAlike(
      measuresOf(program).findIndex((m) => m.key === "out/departed"),
      result.values,
      hand,
    );
    eventsPerSecond = Math.max(eventsPerSecond, result.events / ((middle - start) / 1000));
    byKernel = Math.min(byKernel, middle - start);
    byHand = Math.min(byHand, end - middle);
  }
  return { eventsPerSecond, ratio: byKernel / byHand };
}

/** Both are the same model: what leaves differs by chance alone. */
function checkAlike(departed: number, values: readonly number[], hand: ByHand): void {
  const by = Math.abs(values[departed] / hand.departed - 1);
  if (!(by < 0.05)) throw new Error(`The line by hand let ${hand.departed} out, the kernel ${values[departed]}.`);
}
