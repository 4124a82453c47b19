import {
  type Check,
  type Fit,
  fitAll,
  type Goodness,
  lagCheck,
  outliersOf,
  pValues,
  runsCheck,
  Sample,
  trendCheck,
} from "@busy-harbor/core/fitting";
import { expose } from "comlink";

/** What is told of observations before p-values are worked out. */
export interface Findings {
  readonly fits: readonly Fit[];
  readonly lag: Check;
  readonly runs: Check;
  readonly trend: Check;
  readonly outliers: readonly { readonly at: number; readonly value: number }[];
}

const thread = {
  find(values: Float64Array): Findings {
    const sample = new Sample(values);
    return {
      fits: fitAll(sample),
      lag: lagCheck(sample),
      runs: runsCheck(sample),
      trend: trendCheck(sample),
      outliers: outliersOf(sample),
    };
  },
  chances: (fit: Fit, n: number): Goodness => pValues(fit, n),
};

export type FitThread = typeof thread;

expose(thread);
