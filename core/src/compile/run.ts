import type { MeasureInfo } from "../measures/info.ts";
import type { Program } from "./compile.ts";
import type { Wrote } from "../logic/logic.ts";
import { measureInfos, type ReplicationResult, Session, type SessionOptions } from "./session.ts";

const measured = new WeakMap<Program, readonly MeasureInfo[]>();

/**
 * What is measured of a program, in the order of a result's values. Made when first asked for: to know it, the program
 * is lowered, which takes longer than all its checks.
 */
export function measuresOf(program: Program): readonly MeasureInfo[] {
  const known = measured.get(program);
  if (known) return known;
  const session = takeSession(program, { seed: 0, replication: 1 });
  const measures = measureInfos(session.measures);
  idle.set(program, session);
  measured.set(program, measures);
  return measures;
}

/** What is kept of a program's replications, as its settings ask, in the order of the positions that are told. */
export function keptOf(
  program: Program,
): readonly { readonly id: string; readonly part?: string; readonly isLevel: boolean }[] {
  if (!program.model.settings.kept?.length) return [];
  const session = takeSession(program, { seed: 0, replication: 1 });
  idle.set(program, session);
  return session.kept.map(({ id, part, from }) => ({
    id,
    ...(part === undefined ? {} : { part }),
    isLevel: "levels" in from,
  }));
}

/** A session of each program that is between two replications. */
const idle = new WeakMap<Program, Session>();

function takeSession(program: Program, options: SessionOptions): Session {
  const session = idle.get(program);
  if (!session) return new Session(program.model, options);
  idle.delete(program);
  session.begin(options);
  return session;
}

/** Opens one replication for stepping and watching. */
export const open = (program: Program, options: SessionOptions): Session => new Session(program.model, options);

/** Events between two looks at `shouldStop`. */
const CHUNK = 200_000;

/**
 * Runs one replication from start to end, or one pair where the run is of antithetic pairs. Pure: the same program,
 * seed and replication give bit-identical values anywhere. `shouldStop` is asked now and then; when it says so the
 * result is undefined.
 */
export function run(
  program: Program,
  options: SessionOptions,
  shouldStop?: () => boolean,
): ReplicationResult | undefined {
  const first = runOne(program, options, shouldStop);
  if (program.model.settings.kind !== "pairs" || !first || first.failure) return first;
  // Of a pair the first is kept: the second goes back to the start.
  const second = runOne(program, { ...options, keep: undefined, mirrored: true }, shouldStop);
  return second && (second.failure ? second : pairOf(first, second));
}

/**
 * Two antithetic replications as one observation, their mean: those of different pairs are independent, so that
 * intervals over them hold, whatever the two of a pair have to do with each other (Law 2015, section 11.3).
 */
function pairOf(a: ReplicationResult, b: ReplicationResult): ReplicationResult {
  const off = new Map<number, number>();
  for (const [measure, error] of [...(a.errors ?? []), ...(b.errors ?? [])])
    off.set(measure, (off.get(measure) ?? 0) + error / 2);
  return {
    replication: a.replication,
    values: a.values.map((value, i) => (value + b.values[i]) / 2),
    ...(off.size > 0 ? { errors: [...off] } : {}),
    events: a.events + b.events,
    until: Math.max(a.until, b.until),
  };
}

function runOne(program: Program, options: SessionOptions, shouldStop?: () => boolean): ReplicationResult | undefined {
  const session = takeSession(program, options);
  while (!session.advanceTo(session.length, CHUNK)) if (shouldStop?.()) return undefined;
  idle.set(program, session);
  return session.result();
}

/**
 * Runs one long replication and gives its measured time in `batches` of equal length, each as the result of a
 * replication would be, for the method of batch means (Conway 1963; Law 2015, section 9.5.3). A failure
 * ends the list with the batch in which it happened. Undefined when `shouldStop` says so. `onBatch` has each as it
 * ends.
 */
export function runLong(
  program: Program,
  {
    seed,
    batches,
    observe,
    keep,
    wrote,
  }: Pick<SessionOptions, "seed" | "observe" | "keep" | "wrote"> & { readonly batches: number },
  shouldStop?: () => boolean,
  onBatch?: (result: ReplicationResult) => void,
): ReplicationResult[] | undefined {
  const session = takeSession(program, { seed, replication: 1, observe, keep, wrote });
  const { warmUp, length } = session;
  const results: ReplicationResult[] = [];
  for (let batch = 1; batch <= batches && !session.failure; batch++) {
    const end = batch === batches ? length : warmUp + ((length - warmUp) * batch) / batches;
    // What happens at the end of a batch belongs to the next, as what happens at the end of the warm-up is measured;
    // only the last has its end.
    while (!(batch === batches ? session.advanceTo(end, CHUNK) : session.advanceUpTo(end, CHUNK)))
      if (shouldStop?.()) return undefined;
    const result = session.cut(batch);
    results.push(result);
    onBatch?.(result);
  }
  idle.set(program, session);
  return results;
}

/** All replications of a run, or its batches where it is a long one. */
export const runWhole = (
  program: Program,
  numbers: readonly number[],
  /** Gives what is told of the rows that steps write in a replication. */
  wrote?: (replication: number) => Wrote,
): ReplicationResult[] => {
  const { seed, kind, replications } = program.model.settings;
  if (kind === "long") return runLong(program, { seed, batches: replications, wrote: wrote?.(1) })!;
  return numbers.map((replication) => run(program, { seed, replication, wrote: wrote?.(replication) })!);
};
