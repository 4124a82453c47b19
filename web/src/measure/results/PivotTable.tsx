import { formatNumber } from "@busy-harbor/core";
import { useMemo, useState } from "react";
import type { GridColumn } from "../../grid/column.ts";
import { ColumnsMenu } from "../../grid/ColumnsMenu.tsx";
import { CopyTable } from "../../grid/CopyTable.tsx";
import { Grid } from "../../grid/Grid.tsx";
import { ROW_HEIGHT } from "../../grid/GridRow.tsx";
import { useGrid } from "../../grid/useGrid.ts";
import { groupBy } from "../../groupBy.ts";
import { Choice } from "../../ui/Choice.tsx";
import { meanText, type Reading } from "../readings.ts";
import { type Belongs, type Grouping, GROUPINGS } from "./grouping.ts";

/** What a cell of the table shows. */
const SHOWN = {
  mean: "mean",
  interval: "mean ± half-width",
  halfWidth: "half-width",
  sd: "standard deviation",
  min: "least",
  max: "most",
} as const;
type Shown = keyof typeof SHOWN;

/** By what rows and columns are made: a grouping, or the single figure. */
type Axis = Grouping | "figure";
const AXES: readonly (readonly [Axis, string])[] = [...GROUPINGS, ["figure", "figure"]];

/** Columns of more would be read by nobody. */
const MOST_COLUMNS = 200;

interface PivotRow {
  readonly name: string;
  readonly cells: ReadonlyMap<string, readonly Reading[]>;
}

/** Measures as a table whose rows, columns and values one chooses. */
export function PivotTable({ readings, belongs }: { readings: readonly Reading[]; belongs: Belongs }) {
  const [down, setDown] = useState<Axis>("owner");
  const [across, setAcross] = useState<Axis>("figure");
  const [shown, setShown] = useState<Shown>("interval");
  const { rows, names } = useMemo(() => {
    const placeOf = (reading: Reading, axis: Axis) => (axis === "figure" ? withUnit(reading) : belongs(reading, axis));
    const names = [...new Set(readings.map((r) => placeOf(r, across)))];
    const rows = [...groupBy(readings, (r) => placeOf(r, down))].map(([name, of]): PivotRow => ({
      name,
      cells: groupBy(of, (r) => placeOf(r, across)),
    }));
    return { rows, names };
  }, [readings, belongs, down, across]);
  const columns = useMemo(
    (): readonly GridColumn<PivotRow>[] => [
      { id: "name", label: labelOf(down), width: 190, frozen: true, read: ({ name }) => name },
      ...names.slice(0, MOST_COLUMNS).map((name): GridColumn<PivotRow> => ({
        id: `of ${name}`,
        label: name,
        width: Math.min(260, Math.max(shown === "interval" ? 160 : 130, 20 + 7 * name.length)),
        mono: true,
        align: "right",
        read: ({ cells }) => cellText(told(cells.get(name) ?? []), shown, across === "figure" || down === "figure"),
        value: ({ cells }) => {
          const of = told(cells.get(name) ?? []);
          return of.length === 1 && shown !== "interval" ? figureOf(of[0], shown) : undefined;
        },
      })),
    ],
    [names, shown, down, across],
  );
  const model = useGrid({ id: "pivot", rows, columns, rowId: rowName });
  const several = rows.some(({ cells }) => [...cells.values()].some((of) => told(of).length > 1));
  const axisChoice = (label: string, value: Axis, not: Axis, onChange: (axis: Axis) => void) => (
    <label className="flex items-center gap-1.5 text-soft">
      {label}
      <Choice
        label={label}
        className="w-32!"
        value={value}
        options={AXES.filter(([axis]) => axis !== not).map(([axis, words]) => ({ value: axis, label: words }))}
        onChange={onChange}
      />
    </label>
  );
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 pb-2">
        {axisChoice("Rows", down, across, setDown)}
        {axisChoice("Columns", across, down, setAcross)}
        <label className="flex items-center gap-1.5 text-soft">
          Values
          <Choice
            label="Values"
            className="w-44!"
            value={shown}
            options={Object.entries(SHOWN).map(([value, label]) => ({ value: value as Shown, label }))}
            onChange={setShown}
          />
        </label>
        <ColumnsMenu model={model} />
        <CopyTable model={model} />
        <span className="text-soft">
          {rows.length} rows, {names.length} columns
          {names.length > MOST_COLUMNS && `, of which the first ${MOST_COLUMNS} are shown: find what you look for`}
          {several && "; where several fall into one cell it shows the least and the most of them"}
        </span>
      </div>
      <div
        className="panel flex flex-col overflow-hidden"
        style={{ height: `min(${(model.rows.length + 1) * ROW_HEIGHT + 16}px, 70vh)` }}
      >
        <Grid model={model} label="Measures as a table" testId="pivot" empty="No measure is called that." />
      </div>
    </>
  );
}

/** Of the figures of one measure of one thing its mean stands for all. */
function told(of: readonly Reading[]): readonly Reading[] {
  const [first] = of;
  const isOne = of.every(({ measure: { ownerId, measure, each } }) => {
    const { measure: wanted } = first;
    return ownerId === wanted.ownerId && measure === wanted.measure && each === wanted.each;
  });
  const mean = isOne ? of.find(({ measure }) => measure.part === "mean") : undefined;
  return mean ? [mean] : of;
}

const rowName = ({ name }: PivotRow) => name;
const labelOf = (axis: Axis): string => {
  const words = AXES.find(([id]) => id === axis)![1];
  return words.charAt(0).toUpperCase() + words.slice(1);
};
const withUnit = ({ measure, unit }: Reading): string => (unit === "" ? measure.label : `${measure.label}, ${unit}`);

const figureOf = ({ interval }: Reading, shown: Exclude<Shown, "interval">): number => interval[shown];

/** One figure in full words; of several the least and the most. Units stand in the head where it tells them. */
function cellText(of: readonly Reading[], shown: Shown, isHeaded: boolean): string {
  if (of.length === 0) return "";
  const textOf = (reading: Reading): string => {
    const unit = isHeaded || reading.unit === "" ? "" : ` ${reading.unit}`;
    if (shown !== "interval") return `${formatNumber(figureOf(reading, shown))}${unit}`;
    const { mean, halfWidth } = meanText(reading.interval);
    return `${mean}${halfWidth === "" ? "" : ` ± ${halfWidth}`}${unit}`;
  };
  if (of.length === 1) return textOf(of[0]);
  // Only what is told in one unit can be put in order.
  if (new Set(of.map(({ unit }) => unit)).size > 1) return `${of.length} figures`;
  const by = shown === "interval" ? "mean" : shown;
  const values = of.map((r) => figureOf(r, by)).filter(Number.isFinite);
  if (values.length === 0) return "";
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return low === high ? formatNumber(low) : `${formatNumber(low)} … ${formatNumber(high)}`;
}
