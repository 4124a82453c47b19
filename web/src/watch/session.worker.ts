import {
  compile,
  type Frame,
  open,
  type ReplicationResult,
  type RunFailure,
  type Session,
  type Study,
} from "@busy-harbor/core";
import { expose, transfer } from "comlink";

/** Events run between two looks at the clock, so that one call keeps to its time. */
const CHUNK = 2000;

let session: Session | undefined;

export interface WatchedFrame {
  readonly frame: Frame;
  readonly failure: RunFailure | undefined;
  /** What the displays show. */
  readonly shown: Float64Array;
}

function picture(): WatchedFrame {
  const frame = session!.frame();
  const failure = session!.result().failure;
  const shown = session!.shown();
  const buffers = [
    shown,
    frame.serial,
    frame.type,
    frame.shade,
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
  return transfer({ frame, failure, shown }, buffers);
}

/** The watched replication, in a thread of its own. */
const watcher = {
  /** Opens a replication of a design that compiles. */
  open(study: Study, designId: string, seed: number, replication: number): WatchedFrame {
    const { program } = compile(study, designId);
    if (!program) throw new Error("The design has problems.");
    session = open(program, { seed, replication });
    return picture();
  },
  /** Advances to a time, or as far as `budget` ms of work allow. */
  advance(time: number, budget: number): WatchedFrame {
    const until = performance.now() + budget;
    while (!session!.advanceTo(time, CHUNK) && performance.now() < until);
    return picture();
  },
  step(): WatchedFrame {
    session!.step();
    return picture();
  },
  result(): ReplicationResult {
    return session!.result();
  },
};

export type Watcher = typeof watcher;

expose(watcher);
