import { type NewFigures, RunStatistics } from "@busy-harbor/core/contract";
import type { Column, RunFigures } from "./figures.ts";

/** 64-bit numbers from base 64. */
export function numbersOf(base64: string): Float64Array<ArrayBuffer> {
  const text = atob(base64);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < bytes.length; i++) bytes[i] = text.charCodeAt(i);
  return new Float64Array(bytes.buffer);
}

/**
 * Figures of a run that goes on: statistics of every measure, and columns of those that are drawn, brought up to date
 * by what ends, in a few milliseconds however many measures there are.
 */
export class LiveFigures {
  private statistics: RunStatistics;

  constructor(statistics: string, replications: readonly number[]) {
    this.statistics = RunStatistics.from(numbersOf(statistics), replications);
  }

  get numbers(): Float64Array {
    return this.statistics.numbers;
  }

  /** Counts what is new, each replication once however often it is told; returns the figures with it. */
  add(figures: RunFigures, { replications, values, errors }: NewFigures): RunFigures {
    const numbers = numbersOf(values);
    const width = numbers.length / replications.length;
    const columns = new Map(figures.columns);
    replications.forEach((replication, i) => {
      const row = numbers.subarray(i * width, (i + 1) * width);
      this.statistics.add(replication, row, errors[i] ?? undefined);
      for (const [measure, column] of columns)
        columns.set(measure, withValue(column, replication, row[measure], errorOf(errors[i], measure)));
    });
    return { ...figures, statistics: this.numbers, columns };
  }
}

function errorOf(pairs: readonly number[] | null, measure: number): number {
  for (let i = 0; pairs && i < pairs.length; i += 2) if (pairs[i] === measure) return pairs[i + 1];
  return 0;
}

/** A column with the value of one more replication, in its place: they may end in another order than they began. */
export function withValue(column: Column, replication: number, value: number, error: number): Column {
  const { replications, values, errors } = column;
  let at = replications.length;
  while (at > 0 && replications[at - 1] > replication) at -= 1;
  if (replications[at - 1] === replication) return column;
  const put = <T>(list: readonly T[], item: T) => [...list.slice(0, at), item, ...list.slice(at)];
  const known = errors ?? (error > 0 ? replications.map(() => 0) : undefined);
  return {
    replications: put(replications, replication),
    values: put(values, value),
    errors: known && put(known, error),
  };
}
