import { compile, open, readStudy } from "@busy-harbor/core";
import { expose } from "comlink";

/** The longest that counting may take, in ms, and the events between two looks at the clock. */
const MOST_TIME = 20_000;
const CHUNK = 200_000;

export interface DrawsCounted {
  /** By stream. */
  readonly draws: ReadonlyMap<number, number>;
  /** Whether the replication came to its end. */
  readonly isWhole: boolean;
}

const thread = {
  /** Counts what each stream draws in the first replication. Throws where the design cannot run. */
  count(text: string, designId: string): DrawsCounted {
    const read = readStudy(JSON.parse(text));
    const program = read.ok ? compile(read.study, designId).program : undefined;
    if (!read.ok || !program) throw new Error("The design has problems: its card in Build lists them.");
    const session = open(program, { seed: read.study.run.seed, replication: 1 });
    const until = performance.now() + MOST_TIME;
    let isWhole = false;
    while (!isWhole && performance.now() < until) isWhole = session.advanceTo(session.length, CHUNK);
    return { draws: session.draws(), isWhole: isWhole && session.failure === undefined };
  },
};

export type DrawsThread = typeof thread;

expose(thread);
