import { displayUnit, formatNumber, meanInterval } from "@busy-harbor/core";
import { constantOf, valueIn } from "@busy-harbor/core/experiments";
import { polynomialFit } from "@busy-harbor/core/inference";
import { useMemo, useState } from "react";
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, Scatter, XAxis, YAxis } from "recharts";
import { Choice } from "../../ui/Choice.tsx";
import { ToggleGroup } from "../../ui/ToggleGroup.tsx";
import { titleOf } from "../rows.ts";
import { factorLevels } from "./levels.ts";
import { type ReadingProps, TooFew } from "./ReadingProps.tsx";

const STEPS = 60;
const TICK = { fontSize: 12, fill: "var(--color-soft)" };

/** A response against a factor that is a number, with a curve of least squares and the band of its mean. */
export default function AlongFactor({ study, factors, found }: ReadingProps) {
  const [chosen, setChosen] = useState<string>();
  const [degree, setDegree] = useState<"1" | "2" | "none">("2");
  const numeric = useMemo(
    () => (found ? factorLevels(study, factors, found.rows).filter(({ numbers }) => numbers) : []),
    [study, factors, found],
  );
  const along = numeric.find(({ told }) => told.factor.id === chosen) ?? numeric[0];
  const { level } = study.run;
  const drawn = useMemo(() => {
    if (!found || !along) return undefined;
    const dimension = constantOf(valueIn(study, along.told.factor, found.rows[0].scenario))?.dimension;
    const unit = dimension ? displayUnit(dimension, study.units) : { symbol: "", factor: 1 };
    const places = found.rows.map((_, i) => along.numbers![along.of[i]] / unit.factor);
    const points = found.groups.map((values, i) => {
      const { mean, halfWidth } = meanInterval(values, level);
      return { x: places[i], mean, ends: [mean - halfWidth, mean + halfWidth], name: found.rows[i].name };
    });
    const fit =
      degree === "none"
        ? undefined
        : polynomialFit(
            found.groups.flatMap((values, i) => values.map(() => places[i])),
            found.groups.flat(),
            Number(degree),
          );
    const [low, high] = [Math.min(...places), Math.max(...places)];
    const curve =
      fit &&
      Array.from({ length: STEPS + 1 }, (_, i) => {
        const x = low + ((high - low) * i) / STEPS;
        const at = fit.at(x);
        const half = fit.halfWidth(x, level);
        return { x, curve: at, band: [at - half, at + half] };
      });
    return { unit, points, fit, curve, domain: [low, high] };
  }, [found, along, degree, level, study]);
  if (!found) return <TooFew />;
  if (!along || !drawn)
    return <p className="text-soft">No factor whose levels are numbers has several of them among these scenarios.</p>;
  const { response } = found;
  const { unit, points, fit, curve, domain } = drawn;
  const others = numeric.length > 1 || factorLevels(study, factors, found.rows).length > 1;
  return (
    <figure
      className="panel px-4 py-3"
      aria-label={`${titleOf(response)} along ${along.told.title}`}
      data-testid="along"
    >
      <figcaption className="flex flex-wrap items-center gap-3 pb-2">
        <span>
          <b className="font-semibold">{titleOf(response)}</b>
          <span className="text-soft">{response.unit.symbol && `, ${response.unit.symbol}`} along</span>
        </span>
        <span className="w-60">
          <Choice
            label="Factor"
            value={along.told.factor.id}
            options={numeric.map(({ told }) => ({ value: told.factor.id, label: told.title }))}
            onChange={setChosen}
          />
        </span>
        <ToggleGroup
          label="Curve"
          value={degree}
          options={[
            ["none", "No curve"],
            ["1", "Line"],
            ["2", "Parabola"],
          ]}
          onChange={setDegree}
        />
      </figcaption>
      <ResponsiveContainer height={300}>
        <ComposedChart margin={{ top: 8, right: 16, bottom: 4, left: 4 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--color-line)" vertical={false} />
          <XAxis
            type="number"
            dataKey="x"
            domain={domain}
            padding={{ left: 20, right: 20 }}
            tick={TICK}
            tickFormatter={(v: number) => formatNumber(v, 3)}
            stroke="var(--color-ink)"
            unit={unit.symbol && ` ${unit.symbol}`}
          />
          <YAxis
            domain={["auto", "auto"]}
            width={56}
            tick={TICK}
            tickFormatter={(v: number) => formatNumber(v, 3)}
            stroke="var(--color-ink)"
          />
          {curve && (
            <Area
              data={curve}
              dataKey="band"
              stroke="none"
              fill="var(--color-action)"
              fillOpacity={0.14}
              isAnimationActive={false}
              activeDot={false}
            />
          )}
          {curve && (
            <Line
              data={curve}
              dataKey="curve"
              stroke="var(--color-action)"
              strokeWidth={2}
              dot={false}
              activeDot={false}
              isAnimationActive={false}
            />
          )}
          <Scatter data={points} dataKey="mean" isAnimationActive={false} fill="var(--color-ink)" />
        </ComposedChart>
      </ResponsiveContainer>
      <p className="max-w-3xl pt-1 text-xs text-soft">
        A point for the mean of each scenario
        {found.groups[0].length > 1 && `, of ${found.groups[0].length} replications`}.
        {fit &&
          ` The curve is of least squares over all replications; it tells ${formatNumber(fit.rSquared * 100, 3)} % of their variance. Band: interval of its mean at ${formatNumber(level * 100)} % (Draper and Smith 1998, section 3.1), which takes replications as independent and of one variance${found.isPaired ? "; under common random numbers they are not, so it is a guide only" : ""}.`}
        {!fit && degree !== "none" && " There are too few levels for this curve."}
        {others && " The other factors are not held: what they do is part of the scatter."}
      </p>
    </figure>
  );
}
