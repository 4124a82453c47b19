import { meanInterval, run, measuresOf } from "../core/src/index.ts";
import { mm1 } from "./models.ts";

/** Mean wait in line of M/M/1 at utilization 0.6, arrivals every 100 s, work of 60 s: rho / (mu - lambda). */
export const EXACT = 0.6 / (1 / 60 - 1 / 100);

/**
 * Share of experiments whose 95 % interval holds the exact mean wait: each of so many replications of M/M/1 at
 * utilization 0.6, with a warm-up long enough that what is left of the empty start is small against the half-width.
 */
export function coverage(
  experiments: number,
  replications = 20,
): { readonly share: number; readonly meanHalfWidth: number } {
  const program = mm1("160 h", "exponential(100 s)", "10 h");
  const at = measuresOf(program).findIndex((m) => m.key === "s/wait.mean");
  let [inside, halfWidths] = [0, 0];
  for (let experiment = 0; experiment < experiments; experiment++) {
    const values = Array.from(
      { length: replications },
      (_, r) => run(program, { seed: 1000 + experiment, replication: r + 1 })!.values[at],
    );
    const { mean, halfWidth } = meanInterval(values, 0.95);
    if (Math.abs(mean - EXACT) <= halfWidth) inside += 1;
    halfWidths += halfWidth;
  }
  return { share: inside / experiments, meanHalfWidth: halfWidths / experiments };
}
