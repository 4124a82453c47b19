import {
  COUNTED_IN,
  fingerprint,
  formatDuration,
  formatNumber,
  neighboursAreAlike,
  type Study,
} from "@busy-harbor/core";
import { MOST_ROWS, type RunSummary } from "@busy-harbor/core/contract";
import { ChevronDown, ChevronRight, Download, Play, Square, Trash2 } from "lucide-react";
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { api } from "../api/client.ts";
import { z } from "zod";
import { announce } from "../ui/announce.ts";
import { useKept } from "../ui/useKept.ts";
import { fingerprintNow } from "../experiments/scenarioRuns.ts";
import { useGoToProblem } from "../build/goToProblem.ts";
import { StateShares } from "./StateShares.tsx";
import { ProblemList } from "../build/ProblemList.tsx";
import { useCompiled } from "../state/compiled.ts";
import { runsOfDesigns, SHOWN_ROWS, useRuns } from "../state/runs.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { useOfferOf } from "../commands/commandStore.ts";
import { DecidingFirst } from "./DecidingFirst.tsx";
import { useChosen } from "./chosen/chosenStore.ts";
import { exportRun } from "./exportRun.ts";
import { type Reading, readingsOf } from "./readings.ts";
import { SidePane } from "../ui/SidePane.tsx";
import { ResultsTable } from "./results/ResultsTable.tsx";
import { useSlowly } from "./useSlowly.ts";
import { RunSettingsForm } from "./RunSettingsForm.tsx";

/** Writing spreadsheets is fetched when it is asked for. */
const SheetDialog = lazy(() => import("./SheetDialog.tsx"));

/** The Measure stage: settings and history of runs on the left, the reading of one run on the right. */
export function Measure() {
  const study = useStudy((s) => s.history?.present);
  const design = useDesign();
  const compilation = useCompiled();
  const { runs, refusal } = useRuns();
  const [chosen, setChosen] = useState<string>();
  const go = useGoToProblem();
  if (!study || !design) return null;
  const run = runs.find((r) => r.id === chosen) ?? runsOfDesigns(runs).find((r) => r.designId === design.id) ?? runs[0];
  return (
    <SidePane
      id="measure"
      pane={
        <aside className="min-w-0 grow overflow-y-auto border-r border-line bg-sheet p-4">
          <h2 className="caps pb-1">Run settings</h2>
          <RunSettingsForm study={study} problems={compilation?.problems ?? []} />
          <h2 className="caps pt-5 pb-1">Runs</h2>
          {runs.length === 0 && <p className="text-soft">None yet. Run starts replications of {design.name}.</p>}
          <ul className="-mx-2" data-testid="run-history">
            {historyOf(runs).map((entry) =>
              entry[0].plan === "" ? (
                <RunItem
                  key={entry[0].id}
                  run={entry[0]}
                  study={study}
                  isShown={entry[0].id === run?.id}
                  onShow={setChosen}
                />
              ) : (
                <Scenarios key={entry[0].experimentId} runs={entry} study={study} shown={run?.id} onShow={setChosen} />
              ),
            )}
          </ul>
        </aside>
      }
    >
      <main className="relative min-w-0 grow overflow-y-auto p-6">
        {refusal && refusal.problems.length > 0 && (
          <div role="alert" className="max-w-2xl pb-3">
            <p className="pb-1 font-semibold">{refusal.message}</p>
            <ProblemList problems={refusal.problems} onGo={go} />
          </div>
        )}
        {run ? (
          <RunReading key={run.id} run={run} study={study} />
        ) : (
          <NoRun runnable={compilation?.program !== undefined} />
        )}
      </main>
    </SidePane>
  );
}

/** How long the rest of a run takes, by how fast it went since it was first seen. */
function useRemaining({ id, state, finished, settings: { replications } }: RunSummary): string | undefined {
  const seen = useRef<{ readonly id: string; readonly at: number; readonly finished: number }>(undefined);
  const [words, setWords] = useState<string>();
  useEffect(() => {
    if (state !== "running") return setWords(undefined);
    const now = performance.now();
    if (seen.current?.id !== id) seen.current = { id, at: now, finished };
    const { at, finished: before } = seen.current;
    if (finished <= before) return;
    const seconds = ((now - at) / 1000 / (finished - before)) * (replications - finished);
    setWords(seconds < 1 ? "a second" : formatDuration(seconds, 2));
  }, [id, state, finished, replications]);
  return words;
}

/** Runs by what was started at once: scenarios of an experiment stand together. */
function historyOf(runs: readonly RunSummary[]): readonly (readonly RunSummary[])[] {
  const entries = new Map<string, RunSummary[]>();
  for (const run of runs) {
    const key = run.plan === "" ? run.id : run.experimentId;
    const entry = entries.get(key);
    if (entry) entry.push(run);
    else entries.set(key, [run]);
  }
  return [...entries.values()];
}

/** Scenarios that were started together, folded into one entry. */
function Scenarios({
  runs,
  study,
  shown,
  onShow,
}: {
  runs: readonly RunSummary[];
  study: Study;
  shown: string | undefined;
  onShow: (id: string) => void;
}) {
  const holdsShown = runs.some(({ id }) => id === shown);
  const [open, setOpen] = useState(holdsShown);
  const [{ number, plan, createdAt }] = runs;
  const name = study.experiments?.find(({ id }) => id === plan)?.name ?? "a deleted experiment";
  const going = runs.filter(({ state }) => state === "running" || state === "queued").length;
  return (
    <li>
      <button
        className={`w-full rounded-lg px-2 py-1.5 text-left ${holdsShown && !open ? "bg-water" : "hover:bg-paper"}`}
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <span className="flex items-center gap-1 font-medium">
          {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />} Run {number} · {name}
        </span>
        <span className="text-xs text-soft">
          {runs.length} {runs[0].scenario === "" ? "places of a search" : `scenario${runs.length === 1 ? "" : "s"}`}
          {going > 0 && `, ${going} under way`} · {timeOf(createdAt)}
        </span>
      </button>
      {open && (
        <ul className="ml-4 border-l border-line pl-1">
          {runs.map((run) => (
            <RunItem key={run.id} run={run} study={study} isShown={run.id === shown} onShow={onShow} />
          ))}
        </ul>
      )}
    </li>
  );
}

const timeOf = (at: string): string => new Date(at).toLocaleTimeString("en-GB", { hour: "numeric", minute: "2-digit" });

function RunItem({
  run,
  study,
  isShown,
  onShow,
}: {
  run: RunSummary;
  study: Study;
  isShown: boolean;
  onShow: (id: string) => void;
}) {
  const { id, number, name, designName, plan, createdAt } = run;
  return (
    <li>
      <button
        className={`w-full rounded-lg px-2 py-1.5 text-left ${isShown ? "bg-water" : "hover:bg-paper"}`}
        aria-current={isShown}
        onClick={() => onShow(id)}
      >
        <span className="block font-medium">
          {plan === "" ? `Run ${number} · ` : ""}
          {name || designName}
        </span>
        <span className="text-xs text-soft">
          {name ? `${designName} · ` : ""}
          {stateWords(run)}
          {plan === "" && ` · ${timeOf(createdAt)}`}
          {outOfDate(run, study) ? " · out of date" : ""}
        </span>
      </button>
    </li>
  );
}

function NoRun({ runnable }: { runnable: boolean }) {
  return (
    <div className="flex h-full flex-col items-center justify-center pb-24 text-center">
      <h2 className="pb-2 text-lg">Nothing has been run yet</h2>
      <p className="max-w-md text-soft">
        {runnable
          ? "Run, at the top right, starts replications in the background and shows every measure with its interval."
          : "The design has problems: its card in Build lists them."}
      </p>
    </div>
  );
}

const RUN_WORDS = {
  terminating: "replications",
  long: "batches of one long run",
  pairs: "antithetic pairs of replications",
} as const;

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);

const stateWords = (run: RunSummary): string =>
  run.held
    ? `held at ${run.finished}`
    : {
        queued: "waiting",
        running: `${run.finished} of ${run.settings.replications}`,
        done: `${run.finished} ${COUNTED_IN[run.settings.kind][1]}`,
        cancelled: `stopped at ${run.finished}`,
        failed: "stopped by a problem",
      }[run.state];

/** Whether the study's design or settings, or the values of a scenario, have changed since the run. */
export function outOfDate(run: RunSummary, study: Study): boolean {
  // A place of a search is what it is.
  if (run.plan !== "" && run.scenario === "") return false;
  if (run.scenario !== "") {
    const plan = study.experiments?.find(({ id }) => id === run.plan);
    const scenario = plan?.scenarios.find(({ id }) => id === run.scenario);
    return !plan || !scenario || fingerprintNow(study, plan, scenario) !== run.fingerprint;
  }
  const design = study.designs.find((d) => d.id === run.designId);
  return !design || fingerprint(design, study.run, study) !== run.fingerprint;
}

const WORDS = z.string();

/** What a person calls a run, and has written beside it: kept when the field is left. */
function RunNotes({ run }: { run: RunSummary }) {
  const { describe } = useRuns.getState();
  const name = useKept({
    shown: run.name,
    schema: WORDS,
    when: "leaving",
    onChange: (text) => text.trim() !== run.name && void describe(run, { name: text.trim() }),
  });
  const note = useKept({
    shown: run.note,
    schema: WORDS,
    when: "leaving",
    onChange: (text) => text !== run.note && void describe(run, { note: text }),
  });
  return (
    <div className="flex max-w-3xl items-start gap-2 pb-1">
      <input
        className="field w-52! shrink-0"
        aria-label="Name of the run"
        placeholder="Name this run"
        maxLength={120}
        value={name.text}
        onChange={({ target }) => name.onChange(target.value)}
        onBlur={name.onBlur}
      />
      <textarea
        className="field field-sizing-content min-h-[30px] grow resize-none"
        rows={1}
        aria-label="Note beside the run"
        placeholder="A note: why it was run, what it showed"
        maxLength={4000}
        value={note.text}
        onChange={({ target }) => note.onChange(target.value)}
        onBlur={note.onBlur}
      />
    </div>
  );
}

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

function RunReading({ run, study }: { run: RunSummary; study: Study }) {
  const { figures, fetchFigures, followFigures, cancel, goOn, remove } = useRuns();
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
        {outOfDate(run, study) && (
          <span
            className="rounded-full border border-buoy px-2.5 text-xs text-buoy-deep"
            data-tip="The design or the settings have changed since; the run is kept as it was."
          >
            out of date
          </span>
        )}
        <span className="grow" />
        {active && (
          <button className="button" onClick={() => void cancel(run.id)} data-testid="cancel">
            <Square size={12} /> Stop
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
