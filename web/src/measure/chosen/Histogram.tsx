import { formatNumber } from "@busy-harbor/core";
import type { DistributionReading } from "@busy-harbor/core/contract";
import { memo, useMemo, useRef, useState } from "react";
import { Area, CartesianGrid, ComposedChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { api } from "../../api/client.ts";
import { below, beside, of, roundTicks, TICK, widthOf } from "../../charts/axes.ts";
import { FigureTools } from "../../charts/FigureTools.tsx";
import { type ChosenProps, nameOf, titleOf, versionOf } from "./ChosenProps.ts";
import { Fetching } from "./Fetching.tsx";
import { NumberBox } from "../../ui/NumberBox.tsx";
import { NumbersTable } from "./NumbersTable.tsx";
import { useReading } from "./useReading.ts";

type Found = NonNullable<DistributionReading>;

/** Bins as a person has set them, in the unit shown. */
interface Own {
  readonly start?: number;
  readonly width?: number;
  readonly count?: number;
}

/** How what was observed is distributed, in bins that one sets; of a level, how long it was at what. */
export default function Histogram({ run, kept, source, reading }: ChosenProps) {
  const { factor } = reading;
  const [own, setOwn] = useState<Own>({});
  const { isLevel } = kept.sources[source];
  const query = {
    factor,
    start: own.start === undefined ? undefined : own.start * factor,
    width: own.width === undefined ? undefined : own.width * factor,
    count: own.count,
  };
  const fetched = useReading(`${versionOf(run)} ${source} ${JSON.stringify(query)}`, () =>
    api.distribution(run.id, source, query),
  );
  return (
    <Fetching of={fetched}>
      {(found) =>
        found ? (
          <Drawn found={found} isLevel={isLevel} own={own} onOwn={setOwn} reading={reading} />
        ) : (
          <p className="pt-8 text-center text-soft">Nothing was observed in this run.</p>
        )
      }
    </Fetching>
  );
}

const tidy = (value: number) => Number(value.toPrecision(12));

function Drawn({
  found,
  isLevel,
  own,
  onOwn,
  reading: { measure, factor, unit },
}: {
  found: Found;
  isLevel: boolean;
  own: Own;
  onOwn: (own: Own) => void;
  reading: ChosenProps["reading"];
}) {
  const drawn = useRef<HTMLDivElement>(null);
  const { bins, weights, weight } = found;
  const [start, width] = [tidy(bins.start / factor), tidy(bins.width / factor)];
  const rows = useMemo(() => {
    let sum = found.below;
    return weights.map((w, i) => {
      sum += w;
      return [tidy(start + i * width), tidy(start + (i + 1) * width), w, w / weight, sum / weight] as const;
    });
  }, [found, weights, weight, start, width]);
  const what = isLevel ? "Time, h" : "Observations";
  const shown = (w: number) => (isLevel ? w / 3600 : w);
  const name = titleOf(measure);
  // Once one is set all are told: what is seen is what is kept to.
  const change = (changed: Own) => onOwn({ start, width, count: bins.count, ...own, ...changed });
  const unitWords = unit === "" ? "" : `, ${unit}`;
  return (
    <>
      <div className="flex flex-wrap items-end gap-2 pb-2" data-testid="bins">
        <NumberBox label={`Start${unitWords}`} value={start} onChange={(v) => change({ start: v })} />
        <NumberBox label={`Width${unitWords}`} value={width} least={1e-9} onChange={(v) => change({ width: v })} />
        <NumberBox label="Bins" value={bins.count} least={1} most={1000} whole onChange={(v) => change({ count: v })} />
        {own.width !== undefined && (
          <button className="button" onClick={() => onOwn({})}>
            Round bins
          </button>
        )}
        <span className="grow" />
        <FigureTools
          name={`${name}, histogram`}
          drawn={drawn}
          numbers={() => [
            [`From${unitWords}`, `To below${unitWords}`, what, "Share", "Share up to here"],
            ...rows.map(([from, to, w, share, sum]) => [from, to, shown(w), share, sum]),
          ]}
        />
      </div>
      <div ref={drawn} className="h-56" role="img" aria-label={`${name}: histogram of ${rows.length} bins`}>
        <Bars rows={rows} isLevel={isLevel} mean={found.mean / factor} unit={unit} label={nameOf(measure)} />
      </div>
      <p className="pt-1 text-xs text-soft" data-testid="histogram-words">
        {isLevel
          ? `Over ${formatNumber(weight / 3600)} h of ${found.replications} replications; bars are shares of that time.`
          : `${formatNumber(weight, 12)} observations in ${found.replications} ${found.replications === 1 ? "replication" : "replications"}.`}{" "}
        {found.below > 0 && `${percent(found.below / weight)} % lie below the first bin. `}
        {found.above > 0 && `${percent(found.above / weight)} % lie above the last bin. `}
        Each bin reaches from its start to below its end. Line: the mean.
      </p>
      <NumbersTable
        label={`Numbers of the histogram of ${name}`}
        head={[`From${unitWords}`, `To below${unitWords}`, what, "Share, %", "Up to here, %"]}
        rows={rows.map(([from, to, w, share, sum]) => [
          formatNumber(from, 6),
          formatNumber(to, 6),
          formatNumber(shown(w), isLevel ? 4 : 12),
          percent(share),
          percent(sum),
        ])}
      />
    </>
  );
}

const percent = (share: number): string => (100 * share).toFixed(2);

const Bars = memo(function Bars({
  rows,
  isLevel,
  mean,
  unit,
  label,
}: {
  rows: readonly (readonly [number, number, number, number, number])[];
  isLevel: boolean;
  mean: number;
  unit: string;
  label: string;
}) {
  const [from, to] = [rows[0][0], rows[rows.length - 1][1]];
  const steps = useMemo(
    () => [...rows.map(([at, , w, share]) => ({ at, n: isLevel ? 100 * share : w })), { at: to, n: 0 }],
    [rows, isLevel, to],
  );
  const highest = Math.max(...steps.map(({ n }) => n)) * 1.05 || 1;
  const ticks = roundTicks(0, highest);
  return (
    <ResponsiveContainer>
      <ComposedChart margin={{ top: 8, right: 14, bottom: 20, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid stroke="var(--color-line)" vertical={false} />
        <XAxis
          type="number"
          dataKey="at"
          domain={[from, to]}
          allowDataOverflow
          ticks={roundTicks(from, to)}
          tick={TICK}
          tickFormatter={(v: number) => formatNumber(v)}
          stroke="var(--color-ink)"
          label={below(of(label, unit))}
        />
        <YAxis
          width={widthOf(ticks)}
          domain={[0, highest]}
          ticks={ticks}
          tick={TICK}
          tickFormatter={(v: number) => formatNumber(v)}
          axisLine={false}
          tickLine={false}
          label={beside(isLevel ? "Time, %" : "Observations")}
        />
        <Area
          data={steps}
          dataKey="n"
          type="stepAfter"
          fill="var(--color-action)"
          fillOpacity={0.3}
          stroke="var(--color-action)"
          activeDot={false}
          isAnimationActive={false}
        />
        {mean >= from && mean <= to && <ReferenceLine x={mean} stroke="var(--color-ink)" strokeWidth={1.5} />}
      </ComposedChart>
    </ResponsiveContainer>
  );
});
