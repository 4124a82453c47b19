import type { PackedResult } from "./job.ts";
import type { PrecisionRule } from "./precisionRule.ts";
import type { RunTask, RunFailureOfReplication } from "../store/runs.ts";

/** A point that is to be run, or is. */
export interface Active {
  readonly id: string;
  /** Shared with the threads that work on it: 1 once it is to stop. */
  readonly stop: Int32Array;
  /** Undefined until it has been read. */
  task: RunTask | undefined;
  /** Replications that no thread has taken yet, in rising order. */
  missing: number[];
  /** Threads that work on it. */
  working: number;
  /** Replications that have ended and are not kept yet, and whether they are being kept. */
  unkept: PackedResult[];
  keeping: boolean;
  /** Milliseconds that a replication takes, as far as is known. */
  pace: number | undefined;
  /** Of a run to a precision: what decides when it stops, the highest replication asked for, the last that counts. */
  rule: PrecisionRule | undefined;
  asked: number;
  until: number;
  /** When a thread last took a piece of it, by the count of all pieces. */
  lastTaken: number;
  begun: boolean;
  ending: boolean;
  failure: RunFailureOfReplication | undefined;
}

export const newActive = (id: string): Active => ({
  id,
  stop: new Int32Array(new SharedArrayBuffer(4)),
  task: undefined,
  missing: [],
  working: 0,
  unkept: [],
  keeping: false,
  pace: undefined,
  rule: undefined,
  asked: 0,
  until: Infinity,
  lastTaken: 0,
  begun: false,
  ending: false,
  failure: undefined,
});

/** So many that are not kept yet, and none is begun: the disk does not keep up, or takes nothing. */
const MOST_UNKEPT = 100;

/** Whether nothing of it is under way any more. */
export const isQuiet = ({ working, unkept, keeping }: Active): boolean =>
  working === 0 && unkept.length === 0 && !keeping;

/** Milliseconds that a thread is given work for: keeping and telling are little beside it, and progress is seen. */
const PIECE = 750;

/**
 * Takes the replications that a thread does next: as many as its piece of time has room for, by how long those of the
 * experiment take, and the last ones shared evenly.
 */
export function takePiece(active: Active, all: readonly Active[], threads: number): number[] {
  const ofOne = all.filter(({ task }) => task?.experimentId === active.task?.experimentId);
  const pace = active.pace ?? ofOne.find((other) => other.pace !== undefined)?.pace;
  const left = ofOne.reduce((sum, { missing }) => sum + missing.length, 0);
  const most = pace === undefined ? 1 : Math.floor(PIECE / Math.max(pace, 0.01));
  return active.missing.splice(0, Math.max(1, Math.min(most, Math.ceil(left / (2 * threads)))));
}

export const isStopped = ({ stop }: Active): boolean => Atomics.load(stop, 0) === 1;
export const stop = (active: Active): void => void Atomics.store(active.stop, 0, 1);

/**
 * Whose turn it is when a thread is free: the experiment on which the fewest threads work, of equal ones that which
 * has waited longest; in it the first point that no thread works on, for each thread that does must make it ready, or
 * else the first that has something left to do. So what is queued together shares the
 * threads evenly, and a small run does not wait for a large one to end.
 */
export function nextInTurn(all: readonly Active[]): Active | undefined {
  const working = new Map<string, number>();
  const lastTaken = new Map<string, number>();
  const open: Active[] = [];
  for (const active of all) {
    if (!active.task) continue;
    const { experimentId } = active.task;
    working.set(experimentId, (working.get(experimentId) ?? 0) + active.working);
    lastTaken.set(experimentId, Math.max(lastTaken.get(experimentId) ?? 0, active.lastTaken));
    if (active.missing.length > 0 && active.unkept.length < MOST_UNKEPT && !isStopped(active)) open.push(active);
  }
  const rank = ({ task }: Active) => [working.get(task!.experimentId)!, lastTaken.get(task!.experimentId)!] as const;
  let best: Active | undefined;
  for (const active of open) {
    if (!best) best = active;
    else {
      const [a, b] = [rank(active), rank(best)];
      const isSame = active.task!.experimentId === best.task!.experimentId;
      if (a[0] < b[0] || (a[0] === b[0] && a[1] < b[1])) best = active;
      else if (isSame && best.working > 0 && active.working === 0) best = active;
    }
  }
  return best;
}
