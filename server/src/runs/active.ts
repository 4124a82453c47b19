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
  lastTaken: 0,
  begun: false,
  ending: false,
  failure: undefined,
});

export const isStopped = ({ stop }: Active): boolean => Atomics.load(stop, 0) === 1;
export const stop = (active: Active): void => void Atomics.store(active.stop, 0, 1);

/**
 * Whose turn it is when a thread is free: the experiment on which the fewest threads work, of equal ones that which
 * has waited longest; in it the first point that has something left to do. So what is queued together shares the
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
    if (active.missing.length > 0 && !isStopped(active)) open.push(active);
  }
  const rank = ({ task }: Active) => [working.get(task!.experimentId)!, lastTaken.get(task!.experimentId)!] as const;
  let best: Active | undefined;
  for (const active of open) {
    if (!best) best = active;
    else {
      const [a, b] = [rank(active), rank(best)];
      if (a[0] < b[0] || (a[0] === b[0] && a[1] < b[1])) best = active;
    }
  }
  return best;
}
