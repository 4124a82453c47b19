import { performance } from "node:perf_hooks";
import { compile, type Program, readStudy, run } from "../core/src/index.ts";

const ROUNDS = 20;

type Loose = Record<string, unknown>;

function program(elements: Loose[], links: [string, string][], more: Loose): Program {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Logic",
    run: { length: "200 d" },
    designs: [
      {
        id: "d",
        name: "Logic",
        entityTypes: [{ id: "t", name: "Crate" }],
        elements: elements.map((e, i) => ({ name: e.id, at: [10 * i, 0], ...e })),
        links: links.map(([from, to], i) => ({ id: `l${i}`, from, to })),
        ...more,
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { program, problems } = compile(read.study);
  if (!program) throw new Error(JSON.stringify(problems));
  return program;
}

const TIME = "gamma(2, 2 min)";
const SETUP = "triangular(10 s, 30 s, 90 s)";
const PATIENCE = "exponential(30 min)";
const BREAKDOWNS = [{ id: "b", clock: "clock time", every: "exponential(90 min)", repair: "exponential(15 min)" }];
const STREAMS = { "breakdowns.b.every": 21, "breakdowns.b.repair": 22 };
const IN = { id: "in", kind: "arrivals", entityType: "t", between: "exponential(6 min)", streams: { between: 1 } };

export const asElement = () =>
  program(
    [
      IN,
      {
        id: "s",
        kind: "station",
        time: TIME,
        setup: SETUP,
        balk: "s.queue.length > 8",
        patience: PATIENCE,
        breakdowns: BREAKDOWNS,
        streams: { time: 2, setup: 3, patience: 4, ...STREAMS },
      },
      { id: "out", kind: "departures" },
    ],
    [
      ["in", "s"],
      ["s", "out"],
    ],
    {},
  );

const remove = (id: string) => ({ id, do: "remove", as: "lost" });
export const asProcedure = () =>
  program(
    [
      IN,
      { id: "j", kind: "junction" },
      { id: "out", kind: "departures" },
      { id: "e", kind: "equipment", breakdowns: BREAKDOWNS, streams: STREAMS },
    ],
    [
      ["in", "j"],
      ["j", "out"],
    ],
    {
      rules: [
        {
          id: "r",
          at: "j",
          event: "comes in",
          steps: [
            { id: "1", do: "if", condition: "e.free = 0 and e.line > 8", steps: [remove("2")] },
            { id: "3", do: "claim", needs: [{ id: "n", anyOf: ["e"] }], patience: PATIENCE, streams: { patience: 4 } },
            { id: "4", do: "else", steps: [remove("5")] },
            { id: "6", do: "wait", time: SETUP, streams: { time: 3 } },
            { id: "7", do: "wait", time: TIME, streams: { time: 2 } },
            { id: "8", do: "free", what: ["e"] },
          ],
        },
      ],
    },
  );

/** Milliseconds of two programs, the shortest of replications taken in turn; both must have the same departures. */
function inTurn(a: Program, b: Program, isAlike: (a: number[], b: number[]) => boolean): [number, number] {
  let [first, second] = [Infinity, Infinity];
  for (let replication = 1; replication <= ROUNDS; replication++) {
    // By turns each goes first, so that neither always has the colder machine.
    const [ahead, behind] = replication % 2 === 0 ? [a, b] : [b, a];
    const start = performance.now();
    const begun = run(ahead, { seed: 1, replication });
    const middle = performance.now();
    const then = run(behind, { seed: 1, replication });
    const end = performance.now();
    const [one, other] = ahead === a ? [begun, then] : [then, begun];
    const [took, tookOther] = ahead === a ? [middle - start, end - middle] : [end - middle, middle - start];
    if (!one || !other || one.failure || other.failure) throw new Error("A model of the logic bench has failed.");
    if (!isAlike([...one.values], [...other.values])) throw new Error("The two models are not alike.");
    first = Math.min(first, took);
    second = Math.min(second, tookOther);
  }
  return [first, second];
}

/** Speed of a station written as a procedure over that of the station: the same entities, in the time of each. */
export function procedureShare(): number {
  // Figures of the only entity type come first in both.
  const [element, procedure] = inTurn(asElement(), asProcedure(), (a, b) => a[0] === b[0] && a[1] === b[1]);
  return element / procedure;
}

const busyLine = (rules: Loose[]) =>
  program(
    [
      { ...IN, between: "exponential(2 min)" },
      ...Array.from({ length: 6 }, (_, i) => ({ id: `s${i}`, kind: "station", time: "exponential(100 s)" })),
      { id: "out", kind: "departures" },
      { id: "seldom", kind: "arrivals", entityType: "t", between: "90 d" },
      { id: "side", kind: "junction" },
      { id: "w", kind: "station", time: "1 min" },
    ],
    [
      ["in", "s0"],
      ["s0", "s1"],
      ["s1", "s2"],
      ["s2", "s3"],
      ["s3", "s4"],
      ["s4", "s5"],
      ["s5", "out"],
      ["seldom", "side"],
      ["side", "w"],
      ["w", "out"],
    ],
    { rules },
  );

/** Time of a model with rules on elements where hardly anybody comes, over that of the same without them. */
export function ruleCostUnused(): number {
  const step = [{ id: "1", do: "log", text: "came" }];
  const rules = ["comes in", "work starts", "work ends", "goes on"].map((event, i) => ({
    id: `r${i}`,
    at: event === "comes in" ? "side" : "w",
    event,
    steps: step,
  }));
  const [ruled, plain] = inTurn(busyLine(rules), busyLine([]), (a, b) => a.every((v, i) => Object.is(v, b[i])));
  return ruled / plain;
}
