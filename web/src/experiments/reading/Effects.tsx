import { formatNumber } from "@busy-harbor/core";
import { factorial, type FactorialTerm } from "@busy-harbor/core/inference";
import { useMemo, useState } from "react";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { DASHES, LineSample, SERIES } from "../../charts/StepChart.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { titleOf } from "../rows.ts";
import { type FactorLevels, factorLevels } from "./levels.ts";
import { type ReadingProps, TooFew } from "./ReadingProps.tsx";

/** Lines of one drawing: the second factor's levels. */
const MOST_LINES = 6;

/** What each factor does to a response, alone and together with another. */
export default function Effects({ study, factors, found }: ReadingProps) {
  const levels = useMemo(() => (found ? factorLevels(study, factors, found.rows) : []), [study, factors, found]);
  const analysis = useMemo(() => {
    if (!found || levels.length === 0 || levels.length > 8) return undefined;
    const rows = found.groups.map((values, i) => ({ levels: levels.map(({ of }) => of[i]), values }));
    return factorial(rows, Math.min(2, levels.length), found.isPaired);
  }, [found, levels]);
  if (!found) return <TooFew />;
  if (levels.length === 0)
    return <p className="text-soft">No factor has several levels among the scenarios that were run.</p>;
  const { response, groups } = found;
  const { symbol } = response.unit;
  const means = groups.map((values) => values.reduce((sum, v) => sum + v, 0) / values.length);
  return (
    <div className="grid gap-4 lg:grid-cols-2">
      <figure
        className="panel px-4 py-3"
        aria-label={`Main effects on ${titleOf(response)}`}
        data-testid="main-effects"
      >
        <figcaption className="pb-2">
          <b className="font-semibold">Main effects</b>
          <span className="text-soft">
            {" "}
            on {titleOf(response)}: its mean at each level{symbol && `, ${symbol}`}
          </span>
        </figcaption>
        <div className="grid grid-cols-2 gap-3">
          {levels.map((one) => (
            <MainEffect key={one.told.factor.id} levels={one} means={means} />
          ))}
        </div>
      </figure>
      {levels.length > 1 && <Interaction levels={levels} means={means} symbol={symbol} />}
      <section className="panel px-4 py-3 lg:col-span-2" aria-label="Analysis of variance">
        <h3 className="pb-2 font-semibold">Analysis of variance</h3>
        {analysis ? (
          <Terms
            terms={analysis.terms}
            residual={analysis.residual}
            names={levels.map(({ told }) => told.title)}
            symbol={symbol}
          />
        ) : (
          <p className="text-soft">
            {levels.length > 8
              ? "More than eight factors are too many for it."
              : "The scenarios are no balanced design: for an analysis of variance every two factors' combinations must come equally often. Make scenarios from all combinations, or from a fraction of them. Along a factor reads any scenarios."}
          </p>
        )}
        <p className="max-w-3xl pt-2 text-xs text-soft">
          {found.isPaired
            ? "Replications are blocks: under common random numbers what they differ by is taken out of the residual (Montgomery 2017, section 5.6)."
            : "Montgomery 2017, sections 5.3 and 6.3."}{" "}
          Terms of one and of two factors; of more than two the rest is in the residual. It assumes normal residuals of
          one variance. {groups[0].length} replications of each scenario. An effect is the mean where both factors'
          levels are alike minus that where they are not, or, of one factor, of the higher level minus the lower.
        </p>
      </section>
    </div>
  );
}

const TICK = { fontSize: 11, fill: "var(--color-soft)" };

const meanAt = (means: readonly number[], isThere: (row: number) => boolean): number => {
  const some = means.filter((_, i) => isThere(i));
  return some.reduce((sum, v) => sum + v, 0) / some.length;
};

function MainEffect({ levels: { told, words, of }, means }: { levels: FactorLevels; means: readonly number[] }) {
  const low = Math.min(...means);
  const high = Math.max(...means);
  const data = words.map((level, l) => ({ level, mean: meanAt(means, (i) => of[i] === l) }));
  return (
    <div>
      <p className="truncate text-xs" data-tip={told.title} data-tip-cut="">
        {told.title}
      </p>
      <ResponsiveContainer height={130}>
        <LineChart data={data} margin={{ top: 6, right: 14, bottom: 0, left: 0 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--color-line)" vertical={false} />
          <XAxis
            dataKey="level"
            tick={TICK}
            tickLine={false}
            stroke="var(--color-ink)"
            padding={{ left: 12, right: 12 }}
          />
          <YAxis
            width={44}
            domain={[low, high]}
            tickCount={4}
            tick={TICK}
            tickFormatter={(v: number) => formatNumber(v, 3)}
            tickLine={false}
            axisLine={false}
          />
          <Line
            dataKey="mean"
            stroke="var(--color-action)"
            strokeWidth={2}
            dot={{ r: 3.5, fill: "var(--color-action)" }}
            isAnimationActive={false}
          />
        </LineChart>
      </ResponsiveContainer>
      <table className="sr-only">
        <caption>{told.title}</caption>
        <tbody>
          {data.map(({ level, mean }) => (
            <tr key={level}>
              <th>{level}</th>
              <td>{formatNumber(mean)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Interaction({
  levels,
  means,
  symbol,
}: {
  levels: readonly FactorLevels[];
  means: readonly number[];
  symbol: string;
}) {
  const [first, setFirst] = useState(levels[0].told.factor.id);
  const [second, setSecond] = useState(levels[1].told.factor.id);
  const along = levels.find(({ told }) => told.factor.id === first) ?? levels[0];
  const by =
    levels.find(({ told }) => told.factor.id === second && told !== along.told) ?? levels.find((l) => l !== along)!;
  const lines = by.words.slice(0, MOST_LINES);
  const data = along.words.map((level, a) => ({
    level,
    ...Object.fromEntries(lines.map((_, b) => [`l${b}`, meanAt(means, (i) => along.of[i] === a && by.of[i] === b)])),
  }));
  const options = levels.map(({ told }) => ({ value: told.factor.id, label: told.title }));
  return (
    <figure className="panel px-4 py-3" aria-label="Interaction of two factors" data-testid="interaction">
      <figcaption className="flex flex-wrap items-center gap-2 pb-2">
        <b className="font-semibold">Interaction</b>
        <span className="w-44">
          <Choice label="Along" value={along.told.factor.id} options={options} onChange={setFirst} />
        </span>
        by
        <span className="w-44">
          <Choice label="A line for each level of" value={by.told.factor.id} options={options} onChange={setSecond} />
        </span>
        {symbol && <span className="text-soft">{symbol}</span>}
      </figcaption>
      <ResponsiveContainer height={180}>
        <LineChart data={data} margin={{ top: 6, right: 14, bottom: 0, left: 0 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--color-line)" vertical={false} />
          <XAxis
            dataKey="level"
            tick={TICK}
            tickLine={false}
            stroke="var(--color-ink)"
            padding={{ left: 16, right: 16 }}
          />
          <YAxis
            width={44}
            domain={["auto", "auto"]}
            tick={TICK}
            tickFormatter={(v: number) => formatNumber(v, 3)}
            tickLine={false}
            axisLine={false}
          />
          {lines.map((level, b) => (
            <Line
              key={level}
              dataKey={`l${b}`}
              name={level}
              stroke={SERIES[b % SERIES.length]}
              strokeDasharray={DASHES[b % DASHES.length]}
              strokeWidth={2}
              dot={{ r: 3 }}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
      <p className="flex flex-wrap gap-x-4 text-xs">
        {lines.map((level, b) => (
          <span key={level} className="flex items-center gap-1.5">
            <LineSample at={b} /> {level}
          </span>
        ))}
        {by.words.length > MOST_LINES && (
          <span className="text-soft">and {by.words.length - MOST_LINES} levels that are not drawn</span>
        )}
      </p>
      <p className="pt-1 text-xs text-soft">Lines that run alike: the two do not depend on each other.</p>
    </figure>
  );
}

function Terms({
  terms,
  residual,
  names,
  symbol,
}: {
  terms: readonly FactorialTerm[];
  residual: { readonly df: number; readonly sumOfSquares: number };
  names: readonly string[];
  symbol: string;
}) {
  const chance = (p: number) => (Number.isNaN(p) ? "" : p < 0.0001 ? "< 0.0001" : formatNumber(p, 3));
  return (
    <table className="border-separate border-spacing-x-5 border-spacing-y-0.5" data-testid="terms">
      <thead className="text-right text-xs text-soft [&_th]:font-normal">
        <tr>
          <th className="text-left">Term</th>
          <th>Effect{symbol && `, ${symbol}`}</th>
          <th>Degrees of freedom</th>
          <th>Sum of squares</th>
          <th>F</th>
          <th>p</th>
        </tr>
      </thead>
      <tbody className="text-right">
        {terms.map(({ factors, effect, df, sumOfSquares, f, p }) => (
          <tr key={factors.join()} className={p < 0.05 ? "font-semibold" : ""}>
            <td className="text-left">{factors.map((i) => names[i]).join(" × ")}</td>
            <td className="mono">{effect === undefined ? "" : formatNumber(effect, 3)}</td>
            <td className="mono">{df}</td>
            <td className="mono">{formatNumber(sumOfSquares, 4)}</td>
            <td className="mono">{Number.isNaN(f) ? "" : formatNumber(f, 3)}</td>
            <td className="mono">{chance(p)}</td>
          </tr>
        ))}
        <tr className="text-soft">
          <td className="text-left">Residual</td>
          <td />
          <td className="mono">{residual.df}</td>
          <td className="mono">{formatNumber(residual.sumOfSquares, 4)}</td>
          <td />
          <td />
        </tr>
      </tbody>
    </table>
  );
}
