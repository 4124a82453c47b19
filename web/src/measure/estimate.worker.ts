import { compile, open, readStudy } from "@busy-harbor/core";
import { expose } from "comlink";

/** Milliseconds for which a replication is tried out. */
const TRIED = 300;
/** Parts of a replication, and events, after which the clock is looked at. */
const PIECES = 200;
const EVENTS = 20_000;

const thread = {
  /**
   * Seconds that one replication takes on one thread, by trying one out; undefined where the design cannot run. What a
   * replication does later may take longer than what it does first.
   */
  estimate(text: string, designId: string): number | undefined {
    const read = readStudy(JSON.parse(text));
    const program = read.ok ? compile(read.study, designId).program : undefined;
    if (!read.ok || !program) return undefined;
    const session = open(program, { seed: read.study.run.seed, replication: 1 });
    const start = performance.now();
    let reached = 0;
    for (let piece = 1; piece <= PIECES && !session.ended; piece++) {
      const end = (session.length * piece) / PIECES;
      while (!session.advanceTo(end, EVENTS)) if (performance.now() - start > TRIED) break;
      reached = session.ended ? 1 : session.time / session.length;
      if (performance.now() - start > TRIED) break;
    }
    const each = (performance.now() - start) / 1000 / Math.max(reached, 1e-9);
    return program.model.settings.kind === "pairs" ? 2 * each : each;
  },
};

export type EstimateThread = typeof thread;

expose(thread);
