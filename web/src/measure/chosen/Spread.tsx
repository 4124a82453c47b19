import { formatNumber } from "@busy-harbor/core";
import type { DistributionReading } from "@busy-harbor/core/contract";
import { memo, useMemo, useRef } from "react";
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { api } from "../../api/client.ts";
import { below, beside, of, roundTicks, TICK } from "../../charts/axes.ts";
import { type Box, BoxPlot } from "../../charts/BoxPlot.tsx";
import { FigureTools } from "../../charts/FigureTools.tsx";
import { quartiles } from "../../experiments/reading/quartiles.ts";
import { type ChosenProps, nameOf, titleOf, versionOf } from "./ChosenProps.ts";
import { Fetching } from "./Fetching.tsx";
import { NumbersTable } from "./NumbersTable.tsx";
import { useReading } from "./useReading.ts";

type Found = NonNullable<DistributionReading>;

/** What was observed as its distribution function, or as a box beside that of the replications. */
export default function Spread({
  as,
  values,
  ...props
}: ChosenProps & {
  as: "function" | "box";
  /** Of the chosen figure by replication, in the unit shown. */
  values: readonly number[];
}) {
  const { run, source, reading, kept } = props;
  const fetched = useReading(`${versionOf(run)} ${source}`, () =>
    api.distribution(run.id, source, { factor: reading.factor }),
  );
  const { isLevel } = kept.sources[source];
  return (
    <Fetching of={fetched}>
      {(found) =>
        !found ? (
          <p className="pt-8 text-center text-soft">Nothing was observed in this run.</p>
        ) : as === "function" ? (
          <Curve found={found} isLevel={isLevel} reading={reading} />
        ) : (
          <Boxes found={found} isLevel={isLevel} reading={reading} values={values} />
        )
      }
    </Fetching>
  );
}

interface DrawnProps {
  readonly found: Found;
  readonly isLevel: boolean;
  readonly reading: ChosenProps["reading"];
}

function Curve({ found, isLevel, reading: { measure, factor, unit } }: DrawnProps) {
  const drawn = useRef<HTMLDivElement>(null);
  const name = titleOf(measure);
  const points = useMemo(
    () => found.values.map((value, i) => ({ at: value / factor, share: 100 * found.shares[i] })),
    [found, factor],
  );
  const unitWords = unit === "" ? "" : `, ${unit}`;
  return (
    <>
      <div className="flex pb-2">
        <span className="grow" />
        <FigureTools
          name={`${name}, distribution function`}
          drawn={drawn}
          numbers={() => [[`Value${unitWords}`, "Share at or below"], ...points.map((p) => [p.at, p.share / 100])]}
        />
      </div>
      <div ref={drawn} className="h-56" role="img" aria-label={`${name}: distribution function`}>
        <Steps points={points} label={of(nameOf(measure), unit)} isLevel={isLevel} median={found.box.median / factor} />
      </div>
      <p className="pt-1 text-xs text-soft">
        The share {isLevel ? "of time" : "of observations"} at or below each value.
        {found.error > 0
          ? ` Quantiles are off by ${formatNumber(found.error / factor, 2)} ${unit} at most, as there are very many values.`
          : " Quantiles are exact: the smallest value at or below which the share lies."}
      </p>
      <NumbersTable
        label={`Quantiles of ${name}`}
        head={["Quantile, %", `Value${unitWords}`]}
        rows={found.quantiles.map(({ p, value }) => [formatNumber(100 * p), formatNumber(value / factor, 5)])}
      />
    </>
  );
}

const Steps = memo(function Steps({
  points,
  label,
  isLevel,
  median,
}: {
  points: readonly { readonly at: number; readonly share: number }[];
  label: string;
  isLevel: boolean;
  median: number;
}) {
  const [from, to] = [points[0].at, points[points.length - 1].at];
  return (
    <ResponsiveContainer>
      <LineChart margin={{ top: 8, right: 14, bottom: 20, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid stroke="var(--color-line)" />
        <XAxis
          type="number"
          dataKey="at"
          domain={to > from ? [from, to] : [from - 1, from + 1]}
          ticks={roundTicks(from, to)}
          tick={TICK}
          tickFormatter={(v: number) => formatNumber(v)}
          stroke="var(--color-ink)"
          label={below(label)}
        />
        <YAxis
          width={52}
          domain={[0, 100]}
          ticks={[0, 25, 50, 75, 100]}
          tick={TICK}
          axisLine={false}
          tickLine={false}
          label={beside(isLevel ? "Time, %" : "Observations, %")}
        />
        <ReferenceLine x={median} stroke="var(--color-soft)" strokeDasharray="3 3" />
        <Line
          data={[...points]}
          dataKey="share"
          type="stepAfter"
          stroke="var(--color-action)"
          strokeWidth={2}
          dot={false}
          activeDot={false}
          isAnimationActive={false}
        />
      </LineChart>
    </ResponsiveContainer>
  );
});

function Boxes({
  found,
  isLevel,
  reading: { measure, factor, unit, interval },
  values,
}: DrawnProps & { values: readonly number[] }) {
  const drawn = useRef<HTMLDivElement>(null);
  const name = titleOf(measure);
  const { box } = found;
  const boxes = useMemo((): Box[] => {
    const all: Box = {
      name: isLevel ? "The level, over time" : "Observations",
      range: [found.least / factor, found.most / factor],
      values: [],
      first: box.lower / factor,
      median: box.median / factor,
      third: box.upper / factor,
      whiskers: [box.low / factor, box.high / factor],
      mean: found.mean / factor,
      halfWidth: 0,
      mayBeBest: true,
    };
    const means = values.filter(Number.isFinite);
    if (means.length < 2) return [all];
    const { first, median, third, whiskers } = quartiles(means);
    const range = [Math.min(...means), Math.max(...means)] as const;
    const { mean, halfWidth } = interval;
    const of = { name: measure.label, range, values: means, first, median, third, whiskers, mean, halfWidth };
    return [all, { ...of, mayBeBest: false }];
  }, [found, box, factor, isLevel, values, interval, measure.label]);
  const cells = boxes.map((b) => [
    b.name,
    b.range[0],
    b.whiskers[0],
    b.first,
    b.median,
    b.third,
    b.whiskers[1],
    b.range[1],
  ]);
  const head = ["", "Least", "Lower whisker", "Lower quartile", "Median", "Upper quartile", "Upper whisker", "Most"];
  return (
    <>
      <div className="flex pb-2">
        <span className="grow" />
        <FigureTools name={`${name}, box plot`} drawn={drawn} numbers={() => [head, ...cells]} />
      </div>
      <div ref={drawn} role="img" aria-label={`${name}: box plot`}>
        <BoxPlot boxes={boxes} as="boxes" target={undefined} />
      </div>
      <p className="pt-1 text-xs text-soft">
        {unit !== "" && `In ${unit}. `}Box of quartiles, line at the median, whiskers to the last value within 1.5 times
        the box (Tukey 1977). {percent(box.below)} % of {isLevel ? "the time" : "the observations"} lie below the
        whiskers, {percent(box.above)} % above.
        {boxes.length > 1 && " Below: one dot a replication."}
      </p>
      <NumbersTable
        label={`Numbers of the box plot of ${name}`}
        head={head}
        rows={cells.map(([first, ...rest]) => [String(first), ...rest.map((v) => formatNumber(Number(v), 4))])}
      />
    </>
  );
}

const percent = (share: number): string => formatNumber(100 * Math.max(0, share), 3);
