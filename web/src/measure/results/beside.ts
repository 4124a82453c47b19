import type { RunSummary } from "@busy-harbor/core/contract";
import { welchT } from "@busy-harbor/core/inference";
import { comparePaired } from "@busy-harbor/core";
import type { Column } from "../../state/figures.ts";

/** How a measure of one run differs from that of another, in SI units: the first minus the second. */
export interface Beside {
  readonly difference: number;
  /** NaN where there are too few replications. */
  readonly halfWidth: number;
}

/** Whether replication r of one run has the same random numbers as replication r of the other. */
export const arePaired = (a: RunSummary, b: RunSummary): boolean =>
  a.settings.seed === b.settings.seed && a.settings.kind !== "long" && a.settings.kind === b.settings.kind;

/**
 * A measure of a run beside that of another: by the paired t interval over the replications both have, where these
 * share their random numbers, or else by Welch's.
 */
export function besideOf(of: Column, other: Column, paired: boolean, level: number): Beside {
  if (paired) {
    const theirs = new Map(other.replications.map((r, i) => [r, other.values[i]]));
    const shared = of.replications.flatMap((r, i) => (theirs.has(r) ? [[theirs.get(r)!, of.values[i]] as const] : []));
    const { difference } = comparePaired(
      shared.map(([b]) => b),
      shared.map(([, a]) => a),
      level,
    );
    return { difference: difference.mean, halfWidth: difference.halfWidth };
  }
  const defined = other.values.filter(Number.isFinite);
  const mine = of.values.filter(Number.isFinite);
  const { difference, low, high } = welchT(defined, mine, level);
  const same =
    mine.length > 1 && defined.length > 1 && mine.every((v) => v === mine[0]) && defined.every((v) => v === defined[0]);
  return { difference, halfWidth: same ? 0 : (high - low) / 2 };
}
