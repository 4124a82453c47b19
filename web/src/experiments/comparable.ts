import type { Groups } from "@busy-harbor/core/inference";
import type { RunSummary } from "@busy-harbor/core/contract";
import type { Response, ScenarioRow } from "./rows.ts";

/** Rows that can be held against each other by a response: the replications that all of them have. */
export interface Comparable {
  readonly response: Response;
  readonly rows: readonly ScenarioRow[];
  /** By row, in the unit shown. */
  readonly groups: Groups;
  /** Replications of one number had the same random numbers. */
  readonly isPaired: boolean;
}

/** Whether replications of one number had the same random numbers and the same time in both runs. */
export const arePairs = ({ settings: a }: RunSummary, { settings: b }: RunSummary): boolean =>
  a.seed === b.seed && a.length === b.length && a.warmUp === b.warmUp && a.ends === b.ends && a.kind === b.kind;

/** The rows that are not off and have at least `least` replications, with those replications that all have. */
export function comparable(
  rows: readonly ScenarioRow[],
  responses: readonly Response[],
  at: number,
  least = 2,
): Comparable | undefined {
  const usable = rows.filter(
    ({ scenario, columns }) => !scenario.off && (columns[at]?.replications.length ?? 0) >= least,
  );
  if (!responses[at] || usable.length === 0) return undefined;
  const seen = new Map<number, number>();
  for (const { columns } of usable)
    columns[at]!.replications.forEach((r, i) => {
      if (Number.isFinite(columns[at]!.values[i])) seen.set(r, (seen.get(r) ?? 0) + 1);
    });
  const common = new Set([...seen].filter(([, count]) => count === usable.length).map(([r]) => r));
  if (common.size < least) return undefined;
  const { factor } = responses[at].unit;
  const groups = usable.map(({ columns }) =>
    columns[at]!.values.flatMap((v, i) => (common.has(columns[at]!.replications[i]) ? [v / factor] : [])),
  );
  const first = usable[0].of!.run;
  return {
    response: responses[at],
    rows: usable,
    groups,
    isPaired: usable.every(({ of }) => arePairs(first, of!.run)),
  };
}
