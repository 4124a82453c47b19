import { performance } from "node:perf_hooks";
import { fitAll, pValues, Sample } from "../core/src/fitting/index.ts";
import { distributions, drawer } from "../core/src/random/distributions.ts";
import { openStreams } from "../core/src/random/streams.ts";

const VALUES = 100_000;

/** Seconds of fitting all distributions to 100,000 values, with all p-values. */
export function fitSeconds(): number {
  const draw = drawer(distributions.get("gamma")!, [2.5, 7]);
  const uniform = openStreams(1, 1).stream(1).uniform();
  const values = Float64Array.from({ length: VALUES }, () => draw(uniform()));
  const start = performance.now();
  for (const fit of fitAll(new Sample(values))) pValues(fit, VALUES);
  return (performance.now() - start) / 1000;
}
