import {
  comparePaired,
  dimensionSymbol,
  formatNumber,
  moreLess,
  type PairedComparison,
  verdict,
} from "@busy-harbor/core";
import { welchT } from "@busy-harbor/core/inference";
import { DifferencePlot } from "./DifferencePlot.tsx";
import { baselineOf } from "../rows.ts";
import { type ReadingProps, TooFew } from "./ReadingProps.tsx";

/** Each scenario against the baseline: paired differences, or Welch's where random numbers are independent. */
export function Against({ study, experiment, found }: ReadingProps) {
  const baseline = baselineOf(experiment);
  const base = found?.rows.findIndex(({ scenario }) => scenario.id === baseline?.id) ?? -1;
  if (!found || found.rows.length < 2) return <TooFew />;
  if (base < 0) return <p className="text-soft">The baseline has not been run yet: run it, or choose another.</p>;
  const { rows, groups, response, isPaired } = found;
  const { level } = study.run;
  const { symbol } = response.unit;
  const others = rows.map((_, i) => i).filter((i) => i !== base);
  const words = moreLess(response.info !== undefined && dimensionSymbol(response.info.dimension) === "s");
  return (
    <>
      <table className="panel w-full border-separate border-spacing-0 overflow-hidden" data-testid="against-baseline">
        <thead>
          <tr className="text-left text-xs text-soft [&>th]:border-b [&>th]:border-line [&>th]:px-3 [&>th]:py-2 [&>th]:font-medium">
            <th>Scenario</th>
            <th className="w-[210px]">
              Minus {rows[base].name}
              {symbol && `, ${symbol}`}
            </th>
            <th>In words: it is</th>
            {isPaired && <th className="text-right">Correlation</th>}
          </tr>
        </thead>
        <tbody>
          {others.map((i) => {
            const paired = comparePaired(groups[base], groups[i], level);
            const shown = isPaired ? paired : independent(groups[base], groups[i], level, paired);
            return (
              <tr
                key={rows[i].scenario.id}
                className="[&>td]:border-b [&>td]:border-line/60 [&>td]:px-3 [&>td]:py-1.5"
                data-scenario={rows[i].scenario.id}
              >
                <td className="font-medium">{rows[i].name}</td>
                <td>
                  <DifferencePlot comparison={shown} factor={1} />
                </td>
                <td className={shown.tellsApart ? "font-semibold" : "text-soft"}>
                  {verdict(shown, level, words, { factor: 1, symbol })}
                  {response.matters !== undefined && (
                    <span className="block text-xs font-normal text-soft">
                      {mattersWords(shown, response.matters / response.unit.factor)}
                    </span>
                  )}
                </td>
                {isPaired && (
                  <td className="mono text-right">
                    {formatNumber(correlation(groups[base], groups[i]), 2)}
                    {paired.varianceRemoved > 0.01 && (
                      <span className="block font-sans text-xs text-soft">
                        took away {formatNumber(paired.varianceRemoved * 100, 2)} % of the variance
                      </span>
                    )}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="max-w-3xl pt-2 text-xs text-soft">
        {isPaired
          ? "Paired t intervals, replication by replication (Law 2015, section 10.2.1), under common random numbers."
          : "Welch's t intervals (Welch 1947): the random numbers are independent."}{" "}
        {groups[0].length} replications each. They assume near-normal means. Each holds by itself at{" "}
        {formatNumber(level * 100)} %
        {others.length > 1 &&
          `; that all ${others.length} hold has a chance of ${formatNumber(Math.max(0, 1 - others.length * (1 - level)) * 100)} % at least (Bonferroni): All pairs and The best hold jointly`}
        .
      </p>
    </>
  );
}

/** Whether a difference matters, by the smallest that does. */
export function mattersWords({ low, high }: Pick<PairedComparison, "low" | "high">, matters: number): string {
  if (low > -matters && high < matters) return "whichever it is, too small to matter";
  return low >= matters || high <= -matters ? "enough to matter" : "it may matter or not: more replications would tell";
}

/** The same shape for two groups that are no pairs. */
function independent(
  a: readonly number[],
  b: readonly number[],
  level: number,
  paired: PairedComparison,
): PairedComparison {
  const { difference, low, high } = welchT(a, b, level);
  return {
    ...paired,
    difference: { ...paired.difference, mean: difference, halfWidth: (high - low) / 2 },
    low,
    high,
    tellsApart: low > 0 || high < 0,
  };
}

/** Pearson's correlation of two groups, pair by pair. */
export function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (of: readonly number[]) => of.reduce((sum, v) => sum + v, 0) / of.length;
  const [ma, mb] = [mean(a), mean(b)];
  let [ab, aa, bb] = [0, 0, 0];
  a.forEach((v, i) => {
    ab += (v - ma) * (b[i] - mb);
    aa += (v - ma) ** 2;
    bb += (b[i] - mb) ** 2;
  });
  return ab / Math.sqrt(aa * bb);
}
