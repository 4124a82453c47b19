import { COUNTED_IN, formatNumber, neighboursAreAlike, type Study } from "@busy-harbor/core";
import { MOST_ROWS, type RunSummary } from "@busy-harbor/core/contract";
import { Download, Play, Repeat2, Square, Trash2 } from "lucide-react";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { api } from "../api/client.ts";
import { useGoToProblem } from "../build/goToProblem.ts";
import { ProblemList } from "../build/ProblemList.tsx";
import { useOfferOf } from "../commands/commandStore.ts";
import { SHOWN_ROWS, useRuns } from "../state/runs.ts";
import { announce } from "../ui/announce.ts";
import { useChosen } from "./chosen/chosenStore.ts";
import { DecidingFirst } from "./DecidingFirst.tsx";
import { exportRun } from "./exportRun.ts";
import { outOfDate } from "./outOfDate.ts";
import { type Reading, readingsOf } from "./readings.ts";
import { ResultsTable } from "./results/ResultsTable.tsx";
import { Repeats } from "./Repeats.tsx";
import { RunNotes } from "./RunNotes.tsx";
import { Since } from "./Since.tsx";
import { StateShares } from "./StateShares.tsx";
import { TimeOfTypes } from "./TimeOfTypes.tsx";
import { useRemaining } from "./useRemaining.ts";
import { VehicleShares } from "./VehicleShares.tsx";
import { useSlowly } from "./useSlowly.ts";

/** Writing spreadsheets is fetched when it is asked for. */
const SheetDialog = lazy(() => import("./SheetDialog.tsx"));

const RUN_WORDS = {
  terminating: "replications",
  long: "batches of one long run",
  pairs: "antithetic pairs of replications",
} as const;

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);

/** Names of the tables that steps of a run write rows into, asked for once some may be there. */
function useWritten({ id, finished }: RunSummary): readonly string[] {
  const [names, setNames] = useState<readonly string[]>([]);
  const some = finished > 0;
  useEffect(() => {
    if (!some) return;
    let wanted = true;
    api.written(id).then(
      (found) => wanted && setNames(found),
      // The figures are told of what keeps the server from answering.
      () => undefined,
    );
    return () => void (wanted = false);
  }, [id, some]);
  return names;
}

/** One run: what it is, how far it is, and all that was measured. */
export function RunReading({
  run,
  study,
  onShow,
}: {
  run: RunSummary;
  study: Study;
  /** Shows another run. */
  onShow: (id: string) => void;
}) {
  const { figures, fetchFigures, followFigures, cancel, goOn, remove, repeat } = useRuns();
  const [trouble, setTrouble] = useState<string>();
  const [saving, setSaving] = useState(false);
  const active = run.state === "running" || run.state === "queued";
  const loaded = figures.get(run.id);
  useEffect(() => {
    // While it goes on, what is new comes by itself; when it is over, the figures are those of all in their order.
    let wanted = true;
    const stop = active ? followFigures(run.id) : undefined;
    fetchFigures(run.id).then(
      () => wanted && setTrouble(undefined),
      (error: unknown) => wanted && setTrouble(error instanceof Error ? error.message : String(error)),
    );
    return () => {
      wanted = false;
      stop?.();
    };
  }, [run.id, active, fetchFigures, followFigures]);
  const written = useWritten(run);
  const left = useRemaining(run);
  const readings = useMemo(
    () => (loaded ? readingsOf(loaded, study.units, study.run.level) : []),
    [loaded, study.units, study.run.level],
  );
  const n = readings.length > 0 ? run.finished : 0;
  const slow = useSlowly(useMemo(() => ({ key: run.id, readings }), [run.id, readings]));
  const settled = active ? slow.readings : readings;
  const { picked, pick: setPicked } = useChosen();
  const pick = (key: string) => {
    setPicked(key);
    document.getElementById("measure-chart")?.scrollIntoView({ block: "center", behavior: "smooth" });
  };
  const exportCsv = () =>
    void exportRun(run, study.units, study.run.level).catch((error: unknown) =>
      announce(error instanceof Error ? error.message : String(error), true),
    );
  useOfferOf([
    {
      id: "stop-run",
      label: `Stop run ${run.number}`,
      group: "Runs",
      refusal: () => (active ? undefined : `Run ${run.number} is over.`),
      run: () => void cancel(run.id),
    },
    {
      id: "export-run",
      label: `Export run ${run.number} as CSV`,
      group: "Runs",
      refusal: () => (n > 0 ? undefined : "No replication has ended yet."),
      run: exportCsv,
    },
    {
      id: "export-run-sheet",
      label: `Export run ${run.number} as XLSX`,
      group: "Runs",
      refusal: () => (n > 0 && n <= MOST_ROWS ? undefined : "No replication has ended yet, or too many have."),
      run: () => setSaving(true),
    },
  ]);
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 pb-1">
        <h1 className="text-lg">
          Run {run.number}: {run.designName}
        </h1>
        {outOfDate(run, study) && <Since run={run} study={study} />}
        <span className="grow" />
        {active && (
          <button className="button" onClick={() => void cancel(run.id)} data-testid="cancel">
            <Square size={12} /> Stop
          </button>
        )}
        {!active && (
          <button
            className="button"
            data-tip="Run anew exactly what made this run: its design, data, settings and seed as they were"
            onClick={() => void repeat(run).then((again) => again && onShow(again.id))}
          >
            <Repeat2 size={14} /> Repeat
          </button>
        )}
        {run.state === "cancelled" && (
          <button
            className="button"
            data-testid="go-on"
            onClick={() => void goOn([{ id: run.id, replications: run.settings.replications }])}
          >
            <Play size={12} /> Go on
          </button>
        )}
        {n > 0 && (
          <>
            <button className="button" onClick={exportCsv}>
              <Download size={14} /> CSV
            </button>
            <button className="button" disabled={n > MOST_ROWS} onClick={() => setSaving(true)}>
              <Download size={14} /> XLSX …
            </button>
            <a className="button" href={`/api/runs/${run.id}/results`} download={`run-${run.number}.json`}>
              <Download size={14} /> JSON
            </a>
            {run.settings.observations && (
              <a className="button" href={`/api/runs/${run.id}/observations.csv`} download>
                <Download size={14} /> Observations
              </a>
            )}
            {written.map((name, table) => (
              <a key={name} className="button" href={`/api/runs/${run.id}/rows/${table}.csv`} download>
                <Download size={14} /> {name}
              </a>
            ))}
          </>
        )}
        <button
          className="button px-2!"
          aria-label={`Take run ${run.number} away`}
          data-tip="Take this run away; Undo brings it back"
          onClick={() => void remove([run])}
        >
          <Trash2 size={14} />
        </button>
      </div>
      {saving && (
        <Suspense>
          <SheetDialog run={run} study={study} onClose={() => setSaving(false)} />
        </Suspense>
      )}
      <RunNotes run={run} />
      <Repeats key={run.id} run={run} />
      <p className="pb-3 text-soft" data-testid="run-words" data-state={run.state}>
        {`${n} of ${run.settings.replications} ${RUN_WORDS[run.settings.kind]}`} of {run.settings.length}, warm-up{" "}
        {run.settings.warmUp}, seed {run.settings.seed}.{" "}
        {n === 1
          ? `A single ${COUNTED_IN[run.settings.kind][0]}: no interval can be given.`
          : n > 1
            ? `Mean ± half-width of the Student t interval at ${formatNumber(study.run.level * 100)} %.`
            : ""}
        {run.settings.precision &&
          (active
            ? " It goes on until the precision is reached; how many that takes is told from the first ten."
            : run.state === "done"
              ? " It stopped at the precision it was run to, or at the most replications: the level holds approximately."
              : "")}
        {left !== undefined && ` About ${left} left.`}
      </p>
      {active && (
        <div
          className="mb-3 h-1.5 overflow-hidden rounded-full bg-line"
          role="progressbar"
          aria-label="Replications finished"
          aria-valuenow={run.finished}
          aria-valuemax={run.settings.replications}
        >
          <div className="h-full bg-action" style={{ width: `${(run.finished / run.settings.replications) * 100}%` }} />
        </div>
      )}
      {run.held && (
        <p
          role="alert"
          className="mb-3 max-w-2xl rounded-md border-l-[3px] border-buoy bg-warn px-3 py-1.5"
          data-testid="held"
        >
          <strong className="font-semibold">This run is held.</strong> {run.held}
        </p>
      )}
      {trouble && (
        <p role="alert" className="mb-3 max-w-2xl rounded-md border-l-[3px] border-buoy bg-warn px-3 py-1.5">
          The figures cannot be fetched: {trouble}
        </p>
      )}
      {run.failure && (
        <div role="alert" className="mb-3 max-w-2xl">
          <FailureWords run={run} />
        </div>
      )}
      {run.settings.kind === "long" && n > 2 && <BatchCheck readings={readings} />}
      {n > 0 && <DecidingFirst study={study} readings={settled} onPick={pick} />}
      {n > 0 && <StateShares readings={readings} />}
      {n > 0 && <VehicleShares readings={settled} />}
      {n > 0 && <TimeOfTypes readings={settled} />}
      {n > 0 && (
        <ResultsTable
          run={run}
          study={study}
          readings={readings}
          one={COUNTED_IN[run.settings.kind][0]}
          picked={picked}
          onPick={setPicked}
        />
      )}
      {n > SHOWN_ROWS && (
        <p className="pt-2 text-xs text-soft">
          Dots are those of the first {formatNumber(SHOWN_ROWS)} {COUNTED_IN[run.settings.kind][1]}; means and intervals
          are of all.
        </p>
      )}
    </>
  );
}

/** Whether the batches of a long run are long enough to be taken for independent. */
function BatchCheck({ readings }: { readings: readonly Reading[] }) {
  const tested = readings
    .map((r) => neighboursAreAlike(r.interval.n, r.squares, r.differences))
    .filter((alike) => alike !== undefined);
  const found = tested.filter(Boolean);
  // At 5 %, one in twenty is found by chance alone.
  const many = found.length > 0.1 * tested.length;
  return (
    <p
      className={`mb-3 rounded-md border-l-[3px] px-3 py-1.5 ${many ? "border-buoy bg-warn" : "border-amber bg-water"}`}
      data-testid="batch-check"
    >
      <strong className="font-semibold">
        {found.length} of {tested.length} measures have batches that are like their neighbours
      </strong>{" "}
      (von Neumann's ratio, one-sided at 5 %: one in twenty is so by chance).{" "}
      {many
        ? "Their intervals are too narrow: lengthen the run, or cut it into fewer batches."
        : "The batches may be taken for independent."}
    </p>
  );
}

function FailureWords({ run }: { run: RunSummary }) {
  const go = useGoToProblem();
  const f = run.failure!;
  return (
    <ProblemList
      problems={[
        {
          code: f.code,
          severity: "error",
          message: `${capital(COUNTED_IN[run.settings.kind][0])} ${f.replication} stopped at ${formatNumber(f.time)} s. ${f.message}`,
          hint: f.hint,
          path: [],
          designId: run.designId,
          id: f.id,
          field: f.field,
        },
      ]}
      onGo={go}
    />
  );
}
