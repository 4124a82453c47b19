import {
  compile,
  type Frame,
  type LineCurve,
  type LogLine,
  open,
  type ReachedStep,
  type ReplicationResult,
  type RunFailure,
  type Steps,
  type Study,
  Watched,
} from "@busy-harbor/core";
import { expose, transfer } from "comlink";

/** Events run between two looks at the clock, so that one call keeps to its time. */
const CHUNK = 500;

/** Lines whose curves are told. */
const MOST_LINES = 4;

let watched: Watched | undefined;

/** What charts show, as of the frame it comes with. */
export interface WatchedCurves {
  readonly lines: readonly LineCurve[];
  /** By the value's position among all that is shown. */
  readonly charts: ReadonlyMap<number, Steps>;
}

export interface WatchedFrame {
  readonly frame: Frame;
  readonly failure: RunFailure | undefined;
  /** What the displays show. */
  readonly shown: Float64Array;
  /** Only where they were asked for, or it is over. */
  readonly curves: WatchedCurves | undefined;
  /** The last lines of the log, the newest first; with the curves. */
  readonly log: readonly LogLine[] | undefined;
  /** The step at which it has stopped. */
  readonly reached: ReachedStep | undefined;
}

/** Lines of the log that are told. */
const MOST_LINES_OF_LOG = 40;

function picture(withCurves: boolean): WatchedFrame {
  const { session } = watched!;
  const frame = session.frame();
  const failure = session.failure && session.result().failure;
  const shown = session.shown();
  const curves =
    withCurves || frame.ended || watched!.reached
      ? { lines: watched!.longestLines(MOST_LINES), charts: watched!.chartCurves() }
      : undefined;
  const { reached } = watched!;
  const log = curves && watched!.log.slice(-MOST_LINES_OF_LOG).reverse();
  const buffers = [
    shown,
    frame.serial,
    frame.type,
    frame.shade,
    frame.look,
    frame.place,
    frame.phase,
    frame.since,
    frame.until,
    frame.motion.from,
    frame.motion.to,
    frame.motion.speed,
    frame.position,
    frame.counts,
  ].map((a) => a.buffer as ArrayBuffer);
  return transfer({ frame, failure, shown, curves, log, reached }, buffers);
}

/** The watched replication, in a thread of its own. */
const watcher = {
  /** Opens a replication of a design that compiles. */
  open(study: Study, designId: string, seed: number, replication: number): WatchedFrame {
    const { program } = compile(study, designId);
    if (!program) throw new Error("The design has problems.");
    watched = new Watched(open(program, { seed, replication }), program.model);
    return picture(true);
  },
  /** Advances to a time, or as far as `budget` ms of work allow. */
  advance(time: number, budget: number, withCurves: boolean): WatchedFrame {
    const until = performance.now() + budget;
    while (!watched!.advanceTo(time, CHUNK) && performance.now() < until);
    return picture(withCurves);
  },
  step(): WatchedFrame {
    watched!.step();
    return picture(true);
  },
  /** The instant it stands at, with all there is to tell of it. */
  look(): WatchedFrame {
    return picture(true);
  },
  result(): ReplicationResult {
    return watched!.session.result();
  },
};

export type Watcher = typeof watcher;

expose(watcher);
