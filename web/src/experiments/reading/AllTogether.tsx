import { displayUnit, formatNumber, type MeasureInfo, meanInterval, type Study } from "@busy-harbor/core";
import {
  type Anova,
  type Better,
  bonferroni,
  dunnettOneSided,
  equalVariances,
  type Groups,
  groupingLetters,
  oneWay,
  pairedAnova,
  replicationsFor,
  subsetOfBest,
  welchAnova,
  withBest,
  type WithBest,
} from "@busy-harbor/core/inference";
import { useMemo } from "react";
import { useSameList } from "../../ui/useSameList.ts";
import { Interval } from "./Interval.tsx";
import type { Column } from "../../state/figures.ts";

interface Props {
  readonly study: Study;
  readonly info: MeasureInfo;
  readonly better: Better;
  /** What is compared: a design, or a scenario. */
  readonly what?: string;
  /** Names of the designs, and the values of each by replication. */
  readonly names: readonly string[];
  readonly columns: readonly Column[];
  /** Whether replications of one number had the same random numbers. */
  readonly paired: boolean;
}

interface Compared {
  readonly groups: Groups;
  readonly anova: Anova;
  readonly letters: readonly string[];
  readonly best: readonly WithBest[];
  readonly subset: readonly boolean[];
  /** Chance of such different variances where they are one. */
  readonly variances: number;
}

/** Several designs by one measure: who may be the best, who cannot be told apart, and by which method. */
export function AllTogether({ study, info, better, what = "Design", names, columns: now, paired }: Props) {
  const { level } = study.run;
  const unit = displayUnit(info.dimension, study.units);
  const columns = useSameList(now);
  const found = useMemo(() => compare(columns, level, better, paired), [columns, level, better, paired]);
  if (!found) return null;
  const { groups, anova, letters, best, subset, variances } = found;
  const intervals = groups.map((values) =>
    meanInterval(
      values.map((v) => v / unit.factor),
      level,
    ),
  );
  const order = intervals
    .map((_, i) => i)
    .sort((a, b) => {
      const by = intervals[a].mean - intervals[b].mean;
      return better === "less" ? by : -by;
    });
  const low = Math.min(...intervals.map(({ mean, halfWidth }) => mean - halfWidth));
  const high = Math.max(...intervals.map(({ mean, halfWidth }) => mean + halfWidth));
  const winners = order.filter((i) => subset[i]);
  const percent = `${formatNumber(level * 100)} %`;
  return (
    <section className="panel mb-4 px-4 py-3" data-testid="all-together" data-measure={info.key}>
      <h3 className="font-semibold">
        <span className="font-normal text-soft">{info.owner}: </span>
        {info.label}
        {unit.symbol && <span className="font-normal text-soft">, {unit.symbol}</span>}
      </h3>
      <p className="pb-2" data-testid="winners">
        {winners.length === 1
          ? `${names[winners[0]]} is the best with ${percent} confidence.`
          : `The best is one of ${said(winners.map((i) => names[i]))}, with ${percent} confidence; ${better === "less" ? "less" : "more"} is better.`}
        {winners.slice(1, 4).map((i) => (
          <span key={names[i]} className="block text-soft">
            {toTell(groups[winners[0]], groups[i], level, paired, [names[winners[0]], names[i]])}
          </span>
        ))}
      </p>
      <table className="w-full border-separate border-spacing-x-3 border-spacing-y-1">
        <thead className="text-left text-xs text-soft">
          <tr>
            <th className="font-normal">{what}</th>
            <th className="text-right font-normal">Mean</th>
            <th className="text-right font-normal">± half-width</th>
            <th className="w-[240px] font-normal">Interval of the mean</th>
            {letters.length > 0 && (
              <th className="font-normal" data-tip="Two that share a letter cannot be told apart.">
                Letters
              </th>
            )}
            <th className="text-right font-normal" data-tip="Its mean minus that of the best of the others.">
              Against the best of the others
            </th>
            <th className="font-normal">Best?</th>
          </tr>
        </thead>
        <tbody>
          {order.map((i) => (
            <tr key={names[i]} className={subset[i] ? "" : "text-soft"}>
              <td className="font-medium">{names[i]}</td>
              <td className="mono text-right">{formatNumber(intervals[i].mean)}</td>
              <td className="mono text-right">{formatNumber(intervals[i].halfWidth, 2)}</td>
              <td>
                <Interval interval={intervals[i]} axis={[low, high]} marked={subset[i]} width={230} />
              </td>
              {letters.length > 0 && <td className="mono">{letters[i]}</td>}
              <td className="mono text-right">
                {formatNumber(best[i].low / unit.factor, 3)} to {formatNumber(best[i].high / unit.factor, 3)}
              </td>
              <td>
                {best[i].isBest || (subset[i] && winners.length === 1) ? "the best" : subset[i] ? "may be" : "no"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pt-2 text-xs text-soft">
        {anovaWords(anova)}{" "}
        {paired
          ? `Letters: paired t of all ${(names.length * (names.length - 1)) / 2} pairs, jointly at ${percent} (Bonferroni).`
          : `Letters: Welch's t of all pairs, jointly at ${percent} (Bonferroni).`}{" "}
        Against the best: simultaneous intervals{" "}
        {paired ? "under common random numbers (Nelson and Matejcik 1995)" : "(Hsu 1984)"}, cut off at 0, jointly at{" "}
        {percent}. Set of the best: screening of {paired ? "pairs" : "means"} (Nelson and others 2001). All assume
        near-normal means.
        {variances < 0.05 &&
          (paired
            ? " Variances differ (Brown and Forsythe 1974): the intervals against the best, which take them for one, are then wider than they need be for what varies little; letters and the set of the best do not assume it."
            : " Variances differ (Brown and Forsythe 1974), so Welch's form is given.")}
      </p>
    </section>
  );
}

/** About how many replications would tell two designs apart, by what those so far show. */
function toTell(
  a: readonly number[],
  b: readonly number[],
  level: number,
  paired: boolean,
  [first, second]: readonly [string, string],
): string {
  const differences = meanInterval(
    a.map((v, r) => v - b[r]),
    level,
  );
  const apart = [a, b].map((values) => meanInterval(values, level).sd);
  const sd = paired ? differences.sd : Math.hypot(...apart);
  if (differences.mean === 0 || sd === 0) return `${first} and ${second} are the same in these replications.`;
  const wanted = replicationsFor(differences.mean, sd, level, { halfWidth: Math.abs(differences.mean) });
  return wanted > 1_000_000
    ? `No number of replications that could be run would tell ${first} from ${second}.`
    : `About ${formatNumber(wanted, 3)} replications would tell ${first} from ${second}, where their means differ as they do now.`;
}

export function anovaWords({ method, f, dfBetween, dfWithin, p }: Anova): string {
  const form = {
    paired: "Analysis of variance with replications as blocks",
    welch: "Welch's analysis of variance",
    "one-way": "One-way analysis of variance",
  }[method];
  const chance = p < 0.0001 ? "below 0.0001" : formatNumber(p, 3);
  return `${form}: F(${dfBetween}, ${formatNumber(dfWithin, 3)}) = ${formatNumber(f, 4)}, p ${p < 0.0001 ? chance : `= ${chance}`}.`;
}

const said = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;

/** The replications that all have, and what can be said of them; nothing for fewer than three. */
function compare(columns: readonly Column[], level: number, better: Better, paired: boolean): Compared | undefined {
  const common = columns[0].replications.filter((r) =>
    columns.every((column) => {
      const at = column.replications.indexOf(r);
      return at >= 0 && Number.isFinite(column.values[at]);
    }),
  );
  if (common.length < 3) return undefined;
  const groups = columns.map((column) => common.map((r) => column.values[column.replications.indexOf(r)]));
  const variances = equalVariances(groups);
  const told = new Set(
    groups.length <= MOST_LETTERED
      ? bonferroni(groups, level, paired).flatMap(({ a, b, low, high }) => (low > 0 || high < 0 ? [`${a} ${b}`] : []))
      : [],
  );
  const apart = (a: number, b: number) => told.has(a < b ? `${a} ${b}` : `${b} ${a}`);
  const means = groups.map((values) => meanInterval(values, level).mean);
  return {
    groups,
    anova: paired ? pairedAnova(groups) : variances < 0.05 ? welchAnova(groups) : oneWay(groups),
    letters: groups.length <= MOST_LETTERED ? groupingLetters(means, apart, better) : [],
    best: withBest(groups, level, better, paired, knownDunnett),
    subset: subsetOfBest(groups, level, better, paired),
    variances,
  };
}

/** Of more, letters say little and take long. */
const MOST_LETTERED = 40;

const dunnetts = new Map<string, number>();

/** The same value is asked for by every measure: it is worked out once. */
function knownDunnett(p: number, groups: number, df: number): number {
  const key = `${p} ${groups} ${df}`;
  let value = dunnetts.get(key);
  if (value === undefined) dunnetts.set(key, (value = dunnettOneSided(p, groups, df)));
  return value;
}
