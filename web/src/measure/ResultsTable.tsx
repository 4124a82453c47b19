import { allKinds, definitionOf, formatNumber } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from "react";
import type { GridColumn } from "../grid/column.ts";
import { ColumnsMenu } from "../grid/ColumnsMenu.tsx";
import { Grid } from "../grid/Grid.tsx";
import { ROW_HEIGHT } from "../grid/GridRow.tsx";
import { useGrid } from "../grid/useGrid.ts";
import type { Column } from "../state/figures.ts";
import { useRuns } from "../state/runs.ts";
import { Choice } from "../ui/Choice.tsx";
import { DotStrip } from "./DotStrip.tsx";
import { meanText, type Reading } from "./readings.ts";
import { ReplicationChart } from "./ReplicationChart.tsx";
import { useSlowly } from "./useSlowly.ts";

/** How those are called that are measured, but for elements, whose kinds say so. */
const OWNERS: Readonly<Record<string, string>> = {
  custom: "measures of your own",
  run: "the run",
  group: "groups",
  link: "links",
  "entity type": "entity types",
};
const ownersIn = (ownerKind: string): string =>
  OWNERS[ownerKind] ?? allKinds.find(({ kind }) => kind === ownerKind)?.plural.toLowerCase() ?? ownerKind;

/** So many measures are put in order and drawn anew once a second at most, while figures grow. */
const MANY = 2000;
const DOTS_WIDTH = 190;

/** All measures of a run, of which only the rows in sight are drawn and have their values fetched. */
export function ResultsTable({
  run,
  readings,
  one,
  picked,
  onPick,
}: {
  run: RunSummary;
  readings: readonly Reading[];
  /** What a dot is. */ one: string;
  /** Key of the measure that is drawn; undefined for the one that is drawn at first. */
  picked: string | undefined;
  onPick: (key: string) => void;
}) {
  const [filter, setFilter] = useState("");
  const [kind, setKind] = useState("");
  const [seen, setSeen] = useState<readonly number[]>(NONE);
  const slow = useSlowly(useMemo(() => ({ key: run.id, readings }), [run.id, readings]));
  const shown = readings.length > MANY ? slow.readings : readings;
  const kinds = useMemo(() => [...new Set(shown.map((r) => r.measure.ownerKind))], [shown]);
  const [withZeros, setWithZeros] = useState(false);
  const ofKind = useMemo(() => (kind ? shown.filter((r) => r.measure.ownerKind === kind) : shown), [shown, kind]);
  // What is 0 in every replication tells nothing by itself: it is left out, and said.
  const told = useMemo(() => ofKind.filter(({ interval }) => !isAlwaysZero(interval)), [ofKind]);
  const zeros = ofKind.length - told.length;
  // Who searches finds it.
  const rows = withZeros || filter.trim() !== "" ? ofKind : told;
  const current =
    shown.find((r) => r.measure.key === picked) ??
    shown.find((r) => r.measure.measure === "timeInSystem" && r.measure.part === "mean") ??
    shown[0];
  const key = current?.measure.key;

  const wanted = useMemo(() => [...new Set(current ? [current.index, ...seen] : seen)], [current, seen]);
  const fetched = useColumns(run, wanted);
  const values = useMemo(
    () => inUnit(current && fetched?.get(current.index), current?.factor ?? 1),
    [fetched, current],
  );
  const columns = useMemo(() => columnsOf(fetched), [fetched]);
  const model = useGrid({ id: "results", rows, columns, rowId, filter: useDeferredValue(filter), groupBy: "owner" });
  const onSight = useCallback(
    (inSight: readonly Reading[]) =>
      setSeen((before) => {
        const now = inSight.map((r) => r.index);
        return now.length === before.length && now.every((index, i) => index === before[i]) ? before : now;
      }),
    [],
  );
  // Of a block of rows the one that was there stays.
  const pick = useCallback((ids: readonly string[]) => ids.length === 1 && onPick(ids[0]), [onPick]);

  return (
    <>
      <div id="measure-chart" />
      {current && <ReplicationChart reading={current} values={values} one={one} />}
      <div className="flex flex-wrap items-center gap-2 pt-4 pb-2">
        <input
          className="field w-56!"
          placeholder="Find a measure"
          aria-label="Find a measure"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
        />
        <Choice
          label="Show"
          className="w-44!"
          value={kind}
          options={[{ value: "", label: "everything" }, ...kinds.map((k) => ({ value: k, label: ownersIn(k) }))]}
          onChange={setKind}
        />
        <ColumnsMenu model={model} />
        <span className="text-soft">
          {model.found.length} measures
          {zeros > 0 && rows === told && `; ${zeros} that are always 0 are left out`}
        </span>
        {zeros > 0 && filter.trim() === "" && (
          <button
            className="text-action underline-offset-2 hover:underline"
            onClick={() => setWithZeros(!withZeros)}
            data-testid="zeros"
          >
            {withZeros ? "Leave out what is always 0" : "Show them"}
          </button>
        )}
      </div>
      <div
        className="panel flex flex-col overflow-hidden"
        style={{ height: `min(${(model.rows.length + 1) * ROW_HEIGHT + 16}px, 70vh)` }}
      >
        <Grid
          model={model}
          label="Measures"
          testId="results"
          selection={useMemo(() => (key === undefined ? NO_IDS : [key]), [key])}
          onSelect={pick}
          onSight={onSight}
          headingOf={heading}
          empty="No measure is called that."
        />
      </div>
    </>
  );
}

/** Whether a figure was 0 in every replication. */
const isAlwaysZero = ({ n, min, max }: Reading["interval"]): boolean => n > 0 && min === 0 && max === 0;

const NONE: readonly number[] = [];
const NO_IDS: readonly string[] = [];
const rowId = ({ measure }: Reading) => measure.key;

function heading({ measure }: Reading) {
  return (
    <>
      {measure.owner} <span className="font-normal text-soft">{measure.ownerKind}</span>
    </>
  );
}

/** A column of numbers of each reading's interval. */
const figure = (
  id: string,
  label: string,
  width: number,
  of: (reading: Reading) => number,
  text: (reading: Reading) => string,
): GridColumn<Reading> => ({
  id,
  label,
  width,
  mono: true,
  align: "right",
  unsearched: true,
  read: text,
  value: (reading) => (Number.isFinite(of(reading)) ? of(reading) : undefined),
});

function columnsOf(fetched: ReadonlyMap<number, Column> | undefined): readonly GridColumn<Reading>[] {
  return [
    { id: "owner", label: "Of", width: 170, read: ({ measure }) => measure.owner },
    {
      id: "measure",
      label: "Measure",
      width: 240,
      frozen: true,
      read: ({ measure }) => measure.label,
      hint: ({ measure }) => definitionOf(measure),
    },
    figure(
      "mean",
      "Mean",
      90,
      (r) => r.interval.mean,
      (r) => meanText(r.interval).mean,
    ),
    figure(
      "halfWidth",
      "± half-width",
      104,
      (r) => r.interval.halfWidth,
      (r) => meanText(r.interval).halfWidth,
    ),
    { id: "unit", label: "Unit", width: 60, unsearched: true, read: ({ unit }) => unit },
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
    figure(
      "sd",
      "Std deviation",
      104,
      (r) => r.interval.sd,
      (r) => formatNumber(r.interval.sd, 3),
    ),
    figure(
      "min",
      "Least",
      84,
      (r) => r.interval.min,
      (r) => formatNumber(r.interval.min),
    ),
    figure(
      "max",
      "Most",
      84,
      (r) => r.interval.max,
      (r) => formatNumber(r.interval.max),
    ),
  ];
}

const inUnit = (column: Column | undefined, factor: number): number[] => column?.values.map((v) => v / factor) ?? [];

/** Values of the measures that are wanted, fetched when these change or more replications have ended. */
function useColumns(run: RunSummary, wanted: readonly number[]): ReadonlyMap<number, Column> | undefined {
  const columns = useRuns((s) => s.figures.get(run.id)?.columns);
  const fetchColumns = useRuns((s) => s.fetchColumns);
  const list = wanted.join(",");
  useEffect(() => {
    // Scrolling passes many rows; those it rests on are fetched. What fails is tried again with the next change.
    const timer = setTimeout(
      () => void fetchColumns(run.id, list === "" ? [] : list.split(",").map(Number)).catch(() => undefined),
      60,
    );
    return () => clearTimeout(timer);
  }, [run.id, run.finished, list, fetchColumns]);
  return columns;
}
