import { definitionOf, formatNumber } from "@busy-harbor/core";
import { quantileBetween } from "../../experiments/reading/quartiles.ts";
import type { GridColumn } from "../../grid/column.ts";
import type { Column } from "../../state/figures.ts";
import { meanText, type Reading } from "../readings.ts";
import type { Beside } from "./beside.ts";
import { DotStrip } from "./DotStrip.tsx";
import { type Belongs, GROUPINGS } from "./grouping.ts";

const DOTS_WIDTH = 190;
/** Quantiles over replications that there is a column of. */
const QUANTILES = [
  [0.05, "5 % quantile"],
  [0.25, "Lower quartile"],
  [0.5, "Median"],
  [0.75, "Upper quartile"],
  [0.95, "95 % quantile"],
] as const;

/** A column of numbers, shown in the unit of the row. */
const figure = (
  id: string,
  label: string,
  width: number,
  of: (reading: Reading) => number | undefined,
  more: Partial<GridColumn<Reading>> = {},
): GridColumn<Reading> => ({
  id,
  label,
  width,
  mono: true,
  align: "right",
  unsearched: true,
  read: (reading) => textOf(of(reading)),
  value: (reading) => (Number.isFinite(of(reading)) ? of(reading) : undefined),
  ...more,
});

const textOf = (value: number | undefined): string =>
  value === undefined || !Number.isFinite(value) ? "" : formatNumber(value);

/** As box plots over replications have it. */
const quantileOver = (values: readonly number[], p: number): number =>
  quantileBetween(
    values.filter(Number.isFinite).sort((a, b) => a - b),
    p,
  );

export interface ColumnsOf {
  readonly belongs: Belongs;
  readonly fetched: ReadonlyMap<number, Column> | undefined;
  /** Numbers of the replications that have a column each; none where these are not wanted. */
  readonly replications: readonly number[];
  /** Another run beside this one: its name, its mean in the unit shown, and how a measure differs from it. */
  readonly other?: {
    readonly name: string;
    readonly mean: (reading: Reading) => number | undefined;
    readonly of: (reading: Reading) => Beside | undefined;
  };
}

/** Columns of the table of measures; those of quantiles and of replications have the values that were fetched. */
export function columnsOf({ belongs, fetched, replications, other }: ColumnsOf): readonly GridColumn<Reading>[] {
  const inUnit = (value: number | undefined, { factor }: Reading) => (value === undefined ? undefined : value / factor);
  return [
    ...GROUPINGS.map(([id, label]) => ({
      id,
      label: id === "owner" ? "Of" : label.charAt(0).toUpperCase() + label.slice(1),
      width: 150,
      hiddenAtFirst: id !== "owner",
      // What is not in sight is not looked in: half of the rows are of some group called so.
      unsearched: id !== "owner",
      read: (reading: Reading) => belongs(reading, id),
    })),
    {
      id: "measure",
      label: "Figure",
      width: 240,
      frozen: true,
      read: ({ measure }) => measure.label,
      hint: ({ measure }) => definitionOf(measure),
    },
    figure("mean", "Mean", 90, (r) => r.interval.mean, { read: (r) => meanText(r.interval).mean }),
    figure("halfWidth", "± half-width", 104, (r) => r.interval.halfWidth, {
      read: (r) => meanText(r.interval).halfWidth,
    }),
    { id: "unit", label: "Unit", width: 60, unsearched: true, read: ({ unit }) => unit },
    ...(other
      ? [
          figure("other", other.name, 104, other.mean),
          figure("difference", "Difference", 96, (r) => inUnit(other.of(r)?.difference, r)),
          figure("differenceHalfWidth", "± of it", 80, (r) => inUnit(other.of(r)?.halfWidth, r), {
            read: (r) => {
              const half = inUnit(other.of(r)?.halfWidth, r);
              return half === undefined || !Number.isFinite(half) ? "" : formatNumber(half, 2);
            },
          }),
        ]
      : []),
    {
      id: "dots",
      label: "Replications, interval",
      width: DOTS_WIDTH,
      unsearched: true,
      read: () => "",
      show: ({ index, factor, interval }) => (
        <span className="flex h-full items-center">
          <DotStrip values={fetched?.get(index)?.values} factor={factor} interval={interval} />
        </span>
      ),
    },
    figure("low", "From", 84, (r) => r.interval.mean - r.interval.halfWidth, { hiddenAtFirst: true }),
    figure("high", "To", 84, (r) => r.interval.mean + r.interval.halfWidth, { hiddenAtFirst: true }),
    figure("sd", "Std deviation", 104, (r) => r.interval.sd, { read: (r) => formatNumber(r.interval.sd, 3) }),
    figure("min", "Least", 84, (r) => r.interval.min),
    figure("max", "Most", 84, (r) => r.interval.max),
    figure("n", "Defined in", 84, (r) => r.interval.n, { hiddenAtFirst: true }),
    ...QUANTILES.map(([p, label]) =>
      figure(`q${100 * p}`, label, 110, (r) => inUnit(quantileOver(fetched?.get(r.index)?.values ?? [], p), r), {
        hiddenAtFirst: true,
      }),
    ),
    ...replications.map((replication, i) =>
      figure(`r${replication}`, `Replication ${replication}`, 110, (r) => inUnit(fetched?.get(r.index)?.values[i], r)),
    ),
  ];
}

/** Columns whose values must be fetched for all rows to be sorted and copied, by their ids. */
export const needsValues = (id: string): boolean => /^(q|r)\d/.test(id) || id === "difference";
