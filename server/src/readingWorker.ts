import { daysOpen, wholeDays } from "@busy-harbor/core";
import type {
  DistributionQuery,
  DistributionReading,
  KeptInRun,
  OverTimeQuery,
  OverTimeReading,
} from "@busy-harbor/core/contract";
import {
  AcrossReplications,
  type Bins,
  binsOf,
  boxOf,
  curveOf,
  type Distribution,
  distributionOf,
  drawnPairs,
  hoursOfDay,
  meansByClass,
  piecesOf,
  roundBins,
} from "@busy-harbor/core/kept";
import { keptSeries } from "./runs/keptFiles.ts";

/*
 * What was kept is read on a thread of its own, piece by piece: however much it is, little of it is in memory, and
 * nobody else waits.
 */

/** What of a run is to be read: one source of what is in its folder. */
interface Of {
  readonly folder: string;
  readonly kept: KeptInRun;
  readonly source: number;
}

/** Shares of which quantiles are told. */
const SHARES = [0.01, 0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.95, 0.99];
/** Points of a distribution function, columns of a drawing. */
const POINTS = 256;
const COLUMNS = 600;

export function readDistribution({
  folder,
  kept,
  source,
  query,
}: Of & { query: DistributionQuery }): DistributionReading {
  const { isLevel } = kept.sources[source];
  const wanted = kept.replications.filter((r) => query.replication === undefined || r === query.replication);
  const series = wanted.map((replication) => keptSeries(folder, source, isLevel, replication));
  const of = distributionOf(series);
  if (!of) return null;
  const { bins, weights, below, above } = binsOf(series, binsWanted(of, isLevel, query));
  return {
    replications: wanted.length,
    weight: of.weight,
    mean: of.mean,
    deviation: Number.isFinite(of.deviation) ? of.deviation : null,
    least: of.least,
    most: of.most,
    error: of.error,
    quantiles: SHARES.map((p) => ({ p, value: of.quantile(p) })),
    bins,
    weights: [...weights],
    below,
    above,
    ...curveOf(of, POINTS),
    box: boxOf(of),
  };
}

/** Bins as they are asked for; what is left out of them so that all fits in. */
function binsWanted(of: Distribution, isLevel: boolean, { start, width, count, factor }: DistributionQuery): Bins {
  if (width === undefined) return roundBins(of, isLevel, factor);
  const from = start ?? Math.floor(of.least / width) * width;
  return { start: from, width, count: count ?? Math.min(1000, Math.max(1, Math.floor((of.most - from) / width) + 1)) };
}

export function readOverTime({ folder, kept, source, query }: Of & { query: OverTimeQuery }): OverTimeReading {
  const { sources, replications, from, to, startOfDay, open } = kept;
  const { isLevel } = sources[source];
  const width = (to - from) / query.pieces;
  const pieces = piecesOf(from, width, query.pieces);
  const days = open ? daysOpen(startOfDay, ...open) : wholeDays(startOfDay);
  const hours = hoursOfDay(days, open?.[1]);
  const byPiece = new AcrossReplications(query.pieces);
  const byHour = new AcrossReplications(hours.count);
  let one: number[] = [];
  let drawn: ReturnType<typeof drawnPairs> = { times: [], values: [] };
  for (const replication of replications) {
    const series = keptSeries(folder, source, isLevel, replication);
    const means = meansByClass(series, pieces);
    byPiece.add(means);
    byHour.add(meansByClass(series, hours));
    if (replication !== query.replication) continue;
    one = [...means];
    drawn = drawnPairs(series, COLUMNS);
  }
  const finite = (values: readonly number[]) => values.map((v) => (Number.isFinite(v) ? v : null));
  const told = ({ n, mean, deviation }: AcrossReplications["result"]) => ({
    n,
    mean: finite(mean),
    deviation: finite(deviation),
  });
  return { from, width, pieces: told(byPiece.result), hours: told(byHour.result), one: finite(one), ...drawn };
}
