import { formatNumber, type Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { useCallback, useDeferredValue, useMemo, useState } from "react";
import { ColumnsMenu } from "../../grid/ColumnsMenu.tsx";
import { CopyTable } from "../../grid/CopyTable.tsx";
import { Grid } from "../../grid/Grid.tsx";
import { ROW_HEIGHT } from "../../grid/GridRow.tsx";
import { useGrid } from "../../grid/useGrid.ts";
import type { Column } from "../../state/figures.ts";
import { useRuns } from "../../state/runs.ts";
import { Checkbox } from "../../ui/Checkbox.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { ToggleGroup } from "../../ui/ToggleGroup.tsx";
import { ChosenMeasure } from "../chosen/ChosenMeasure.tsx";
import type { Reading } from "../readings.ts";
import { useSlowly } from "../useSlowly.ts";
import { arePaired, besideOf } from "./beside.ts";
import { columnsOf, needsValues } from "./columns.tsx";
import { belongsIn, type Grouping, GROUPINGS, ownersIn } from "./grouping.ts";
import { PivotTable } from "./PivotTable.tsx";
import { useColumns } from "./useColumns.ts";
import { useOther } from "./useOther.ts";

/** So many measures are put in order and drawn anew once a second at most, while figures grow. */
const MANY = 2000;
/** Values of so many measures are fetched where all are wanted, and so many replications have a column each. */
const MOST_FETCHED = 3000;
const MOST_REPLICATIONS = 200;

/** All measures of a run, of which only the rows in sight are drawn and have their values fetched. */
export function ResultsTable({
  run,
  study,
  readings,
  one,
  picked,
  onPick,
}: {
  run: RunSummary;
  study: Study;
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

  const [by, setBy] = useState<Grouping>("owner");
  const [each, setEach] = useState(false);
  const [isPivot, setIsPivot] = useState(false);
  const [otherId, setOtherId] = useState("");
  const runs = useRuns((s) => s.runs);
  const other = useOther(otherId === run.id ? "" : otherId, study);
  const [isWhole, setIsWhole] = useState(false);
  const wanted = useMemo(() => {
    const some = isWhole && rows.length <= MOST_FETCHED ? rows.map(({ index }) => index) : seen;
    return [...new Set(current ? [current.index, ...some] : some)];
  }, [current, seen, isWhole, rows]);
  const fetched = useColumns(run, wanted);
  const theirWanted = useMemo(
    () => (other ? wanted.flatMap((index) => other.indexOf.get(shown[index]?.measure.key ?? "") ?? []) : NONE),
    [other, wanted, shown],
  );
  const theirs = useColumns(other?.run, theirWanted);
  const values = useMemo(
    () => inUnit(current && fetched?.get(current.index), current?.factor ?? 1),
    [fetched, current],
  );
  const belongs = useMemo(() => belongsIn(study, run), [study, run]);
  const replications = useMemo(
    () => (each && current ? (fetched?.get(current.index)?.replications ?? []).slice(0, MOST_REPLICATIONS) : NONE),
    [each, current, fetched],
  );
  const columns = useMemo(
    () =>
      columnsOf({
        belongs,
        fetched,
        replications,
        ...(other && {
          other: {
            name: `Run ${other.run.number}`,
            mean: ({ measure }: Reading) => other.readings[other.indexOf.get(measure.key) ?? -1]?.interval.mean,
            of: ({ measure, index }: Reading) => {
              const [mine, their] = [fetched?.get(index), theirs?.get(other.indexOf.get(measure.key) ?? -1)];
              return mine && their && besideOf(mine, their, arePaired(run, other.run), study.run.level);
            },
          },
        }),
      }),
    [belongs, fetched, replications, other, theirs, run, study.run.level],
  );
  const model = useGrid({ id: "results", rows, columns, rowId, filter: useDeferredValue(filter), groupBy: by });
  const selection = useMemo(() => (key === undefined ? NO_IDS : [key]), [key]);
  // What is sorted or shown by values of replications needs those of all rows.
  const whole = model.columns.some(({ id }) => needsValues(id));
  if (whole !== isWhole) setIsWhole(whole);
  const onSight = useCallback(
    (inSight: readonly Reading[]) =>
      setSeen((before) => {
        const now = inSight.map((r) => r.index);
        return now.length === before.length && now.every((index, i) => index === before[i]) ? before : now;
      }),
    [],
  );
  const headingOf = useCallback(
    (reading: Reading) => (
      <>
        {belongs(reading, by)}{" "}
        {by === "owner" && <span className="font-normal text-soft">{reading.measure.ownerKind}</span>}
      </>
    ),
    [belongs, by],
  );
  // Of a block of rows the one that was there stays.
  const pick = useCallback((ids: readonly string[]) => ids.length === 1 && onPick(ids[0]), [onPick]);

  return (
    <>
      <div id="measure-chart" />
      {current && (
        <ChosenMeasure run={run} study={study} reading={current} readings={shown} values={values} one={one} />
      )}
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
        {!isPivot && (
          <label className="flex items-center gap-1.5 text-soft">
            by
            <Choice
              label="Put together by"
              className="w-32!"
              value={by}
              options={GROUPINGS.map(([value, label]) => ({ value, label }))}
              onChange={setBy}
            />
          </label>
        )}
        <ToggleGroup
          label="Laid out as"
          value={isPivot ? "pivot" : "list"}
          options={[
            ["list", "List"],
            ["pivot", "Pivot"],
          ]}
          onChange={(as) => setIsPivot(as === "pivot")}
        />
        {!isPivot && (
          <>
            <ColumnsMenu model={model} />
            <CopyTable model={model} omit={DRAWN} />
            <Checkbox checked={each} onChange={setEach} className="flex items-center gap-1.5">
              Every {one}
            </Checkbox>
            {runs.length > 1 && (
              <Choice
                label="Beside another run"
                className="w-44!"
                value={otherId === run.id ? "" : otherId}
                options={[
                  { value: "", label: "beside no other run" },
                  ...runs
                    .filter(({ id, finished }) => id !== run.id && finished > 0)
                    .slice(0, MOST_OTHERS)
                    .map((r) => ({ value: r.id, label: `beside run ${r.number}, ${r.name || r.designName}` })),
                ]}
                onChange={setOtherId}
              />
            )}
          </>
        )}
        <span className="text-soft">
          {model.found.length} measures
          {zeros > 0 && rows === told && `; ${zeros} that are always 0, or have no value, are left out`}
        </span>
        {zeros > 0 && filter.trim() === "" && (
          <button
            className="text-action underline-offset-2 hover:underline"
            onClick={() => setWithZeros(!withZeros)}
            data-testid="zeros"
          >
            {withZeros ? "Leave them out" : "Show them"}
          </button>
        )}
      </div>
      {isPivot ? (
        <PivotTable readings={model.found} belongs={belongs} />
      ) : (
        <div
          className="panel flex flex-col overflow-hidden"
          style={{ height: `min(${(model.rows.length + 1) * ROW_HEIGHT + 16}px, 70vh)` }}
        >
          <Grid
            model={model}
            label="Measures"
            testId="results"
            selection={selection}
            onSelect={pick}
            onSight={onSight}
            headingOf={headingOf}
            empty="No measure is called that."
          />
        </div>
      )}
      {other && !isPivot && (
        <p className="pt-2 text-xs text-soft">
          {arePaired(run, other.run)
            ? `Differences to run ${other.run.number}: both have the same random numbers, so replications are paired; Student t interval of the differences`
            : `Differences to run ${other.run.number}: the runs have random numbers of their own; Welch's interval`}
          {` at ${formatNumber(100 * study.run.level)} %.`}
        </p>
      )}
    </>
  );
}

/** Whether a figure was 0 in every replication, or had no value in any. */
const isAlwaysZero = ({ n, min, max }: Reading["interval"]): boolean => n === 0 || (min === 0 && max === 0);

const NONE: readonly number[] = [];
const NO_IDS: readonly string[] = [];
/** What is drawn has no text to copy. */
const DRAWN = ["dots"];
const MOST_OTHERS = 200;
const rowId = ({ measure }: Reading) => measure.key;

const inUnit = (column: Column | undefined, factor: number): number[] => column?.values.map((v) => v / factor) ?? [];
