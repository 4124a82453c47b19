import { type ExperimentPlan, formatNumber, MOST_SCENARIOS, type Study } from "@busy-harbor/core";
import { scenarioNames, valueOfWords } from "@busy-harbor/core/experiments";
import { subsetOfBest } from "@busy-harbor/core/inference";
import { ArrowDown, ArrowUp, Copy, Plus, Power, Square, Table2, Trash2 } from "lucide-react";
import { lazy, Suspense, useMemo, useState } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { KeptInput } from "../build/fields.tsx";
import { useOfferOf } from "../commands/commandStore.ts";
import type { Entry } from "../grid/column.ts";
import { writeBlock, writeCsv } from "../grid/cells.ts";
import { ColumnsMenu } from "../grid/ColumnsMenu.tsx";
import { Grid } from "../grid/Grid.tsx";
import type { Cell } from "../grid/range.ts";
import { useGrid } from "../grid/useGrid.ts";
import { useRuns } from "../state/runs.ts";
import { useStudy } from "../state/study.ts";
import { type Exported, experimentJson, experimentWorkbook, replicationRows } from "./exports.ts";
import { SaveMenu } from "../ui/SaveMenu.tsx";
import { announce } from "../ui/announce.ts";
import { saveBlob, saveFile, XLSX } from "../ui/saveFile.ts";
import { useSameList } from "../ui/useSameList.ts";
import { ToggleGroup } from "../ui/ToggleGroup.tsx";
import { experimentColumns, RESPONSE, type ToldFactor } from "./columns.tsx";
import { comparable } from "./comparable.ts";
import { duplicateRows, editExperiment, moveRows, newScenario } from "./edits.ts";
import { Reading } from "./reading/Reading.tsx";
import { type Response, rowsOf, type ScenarioRow } from "./rows.ts";
import { isActive, lackOf, replicationsOf, scenarioRuns, stateWords } from "./scenarioRuns.ts";
import { useProblems } from "./useProblems.ts";
import { useResponses } from "./useResponses.ts";

const MakeDialog = lazy(() => import("./MakeDialog.tsx"));

const rowId = ({ scenario }: ScenarioRow): string => scenario.id;
const NOBODY: readonly string[] = [];

/** An experiment: its scenarios in a grid, with what came out of them, and how that is read. */
export function ExperimentEditor({
  study,
  experiment,
  factors,
  responses,
}: {
  study: Study;
  experiment: ExperimentPlan;
  factors: readonly ToldFactor[];
  responses: readonly Response[];
}) {
  const { id } = experiment;
  const [selected, setSelected] = useState<readonly string[]>(NOBODY);
  const [making, setMaking] = useState(false);
  const [starting, setStarting] = useState(false);
  const runs = useRuns((s) => s.runs);
  const refusal = useRuns((s) => s.refusal);
  const ofRow = useMemo(() => scenarioRuns(study, experiment, runs), [study, experiment, runs]);
  const names = useMemo(() => scenarioNames(study, experiment), [study, experiment]);
  const shownRuns = useMemo(() => [...ofRow.values()].map(({ run }) => run), [ofRow]);
  const keys = useMemo(() => responses.map(({ key }) => key), [responses]);
  const columnOf = useResponses(shownRuns, keys);
  const rows = useMemo(
    () =>
      rowsOf(study, experiment, names, ofRow, responses, columnOf, (scenario, of) => stateWords(study, scenario, of)),
    [study, experiment, names, ofRow, responses, columnOf],
  );
  // An edit of a row changes none of what was measured.
  const measured = useSameList(rows.map(({ scenario, columns: [first] }) => (scenario.off ? undefined : first)));
  const best = useMemo(
    () => bestRows(rows, responses, study.run.level),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- as said
    [measured, responses, study.run.level],
  );
  const axis = useMemo(() => axisOf(rows), [rows]);
  const columns = useMemo(
    () => experimentColumns(study, experiment, responses, axis, best),
    [study, experiment, responses, axis, best],
  );
  const model = useGrid({ id: `experiment/${id}`, rows, columns, rowId });
  const problemsAt = useProblems(study, experiment);
  const chosen = useMemo(() => {
    const ids = new Set(selected);
    return rows.filter(({ scenario }) => ids.has(scenario.id));
  }, [rows, selected]);

  const lacking = rows.filter(
    ({ scenario, of }) => !scenario.off && ["all", "more"].includes(lackOf(study, scenario, of)),
  );
  const active = rows.filter(({ of }) => of && isActive(of.run));
  const begin = async (some: readonly ScenarioRow[]) => {
    setStarting(true);
    const more = some.filter(({ scenario, of }) => lackOf(study, scenario, of) === "more");
    const anew = some.filter((row) => !more.includes(row) && lackOf(study, row.scenario, row.of) !== "under way");
    const { startScenarios, goOn } = useRuns.getState();
    const isStarted =
      anew.length === 0 ||
      (await startScenarios(
        id,
        anew.map(({ scenario }) => scenario.id),
      ));
    if (isStarted)
      await goOn(more.map(({ scenario, of }) => ({ id: of!.run.id, replications: replicationsOf(study, scenario) })));
    else announce(useRuns.getState().refusal?.message ?? "The scenarios could not be started.", true);
    setStarting(false);
  };
  const stop = () => {
    for (const { of } of active) void useRuns.getState().cancel(of!.run.id);
  };
  useOfferOf([
    {
      id: "run-lacking",
      label: "Run the scenarios that are out of date",
      group: "Runs",
      refusal: () =>
        starting ? "They are being started." : lacking.length === 0 ? "Every scenario is up to date." : undefined,
      run: () => void begin(lacking),
    },
    {
      id: "stop-scenarios",
      label: "Stop the scenarios that run",
      group: "Runs",
      refusal: () => (active.length === 0 ? "No scenario runs." : undefined),
      run: stop,
    },
  ]);

  const write = (what: string, entries: readonly Entry<ScenarioRow>[]): string | undefined => {
    const byRow = new Map(experiment.scenarios.map((s) => [s.id, s]));
    for (const { row, column, text } of entries) {
      const why = refusalOf(study, column.id, text.trim());
      if (why !== undefined || !byRow.has(row.scenario.id)) return why ?? "This row is gone.";
    }
    editExperiment(id, what || `Change ${entries[0].column.label.toLowerCase()}`, (e) => {
      for (const { row, column, text } of entries)
        put(study, factors, e, row.scenario.id, column.id, text.trim(), names.get(row.scenario.id));
    });
    return undefined;
  };
  const paste = (cells: string[][], { row, column }: Cell) => {
    const width = Math.max(...cells.map((line) => line.length));
    const into = model.columns.slice(column, column + width);
    const wrong = cells
      .flatMap((line) => into.map((c, j) => refusalOf(study, c.id, (line[j] ?? "").trim())))
      .find((why) => why !== undefined);
    if (wrong !== undefined) return announce(wrong, true);
    const behind = row + cells.length - model.found.length;
    if (experiment.scenarios.length + Math.max(0, behind) > MOST_SCENARIOS)
      return announce(`An experiment has at most ${MOST_SCENARIOS} scenarios.`, true);
    editExperiment(id, "Paste scenarios", (e) => {
      const design = e.scenarios.at(-1)?.design ?? study.designs[0].id;
      cells.forEach((line, i) => {
        let at = model.found[row + i]?.scenario.id;
        if (at === undefined) {
          const made = newScenario({ design });
          e.scenarios.push(made);
          at = made.id;
        }
        into.forEach((c, j) => put(study, factors, e, at, c.id, (line[j] ?? "").trim(), names.get(at)));
      });
    });
  };
  const add = () =>
    editExperiment(id, "Add scenario", (e) => {
      if (e.scenarios.length >= MOST_SCENARIOS) return;
      const last = e.scenarios.at(-1);
      e.scenarios.push(
        newScenario({ design: last?.design ?? study.designs[0].id, values: last ? { ...last.values } : {} }),
      );
    });
  const remove = () => {
    const gone = new Set(selected);
    const count = experiment.scenarios.filter((s) => gone.has(s.id)).length;
    editExperiment(id, count === 1 ? "Delete scenario" : `Delete ${count} scenarios`, (e) => {
      e.scenarios = e.scenarios.filter((s) => !gone.has(s.id));
    });
    setSelected(NOBODY);
    announce(
      count === 1 ? "The scenario is deleted; its runs stay." : `${count} scenarios are deleted; their runs stay.`,
      false,
      {
        label: "Undo",
        run: () => useStudy.getState().undo(),
      },
    );
  };
  const turn = () => {
    const ids = new Set(selected);
    const off = !chosen.every(({ scenario }) => scenario.off);
    editExperiment(id, off ? "Switch scenarios off" : "Switch scenarios on", (e) => {
      for (const s of e.scenarios) if (ids.has(s.id)) s.off = off || undefined;
    });
  };
  const block = (): string[][] => {
    const shown = model.columns.filter((c) => c.id !== "interval");
    return [shown.map((c) => c.label), ...model.found.map((row) => shown.map((c) => c.read(row)))];
  };
  const copy = () =>
    void navigator.clipboard.writeText(writeBlock(block())).then(
      () => announce(`${rows.length} rows are copied, as a spreadsheet takes them.`),
      () => announce("The browser does not let this page write to the clipboard.", true),
    );

  const fileName = `${study.name}, ${experiment.name}`;
  const exported = (): Exported => ({ study, experiment, factors, responses, rows });
  const saveXlsx = () =>
    experimentWorkbook(block(), exported()).then(
      (bytes) => saveBlob(`${fileName}.xlsx`, new Blob([bytes], { type: XLSX })),
      (error: unknown) => announce(error instanceof Error ? error.message : String(error), true),
    );

  const total = active.reduce((sum, { of }) => sum + of!.run.settings.replications, 0);
  const done = active.reduce((sum, { of }) => sum + of!.run.finished, 0);
  const none = selected.length === 0;
  return (
    <main className="flex min-h-0 min-w-0 grow flex-col">
      <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-line px-4 py-2">
        <KeptInput
          label="Name of the experiment"
          className="w-52! font-semibold"
          mono={false}
          shown={experiment.name}
          read={(text) => (text.trim() !== "" && text.trim().length <= 120 ? text.trim() : undefined)}
          wanted="A name is needed."
          when="leaving"
          onChange={(name) => editExperiment(id, "Rename experiment", (e) => void (e.name = name))}
        />
        <ToggleGroup
          label="Random numbers"
          value={experiment.random}
          options={[
            ["common", "Common random numbers"],
            ["independent", "Independent"],
          ]}
          onChange={(random) => editExperiment(id, "Change random numbers", (e) => void (e.random = random))}
        />
        <Level study={study} />
        <span className="ml-auto flex items-center gap-2">
          {active.length > 0 && (
            <>
              <span role="status" className="text-soft tabular-nums" data-testid="experiment-progress">
                {done} of {total} replications
              </span>
              <button className="button" onClick={stop}>
                <Square size={13} /> Stop
              </button>
            </>
          )}
          <button
            className="button"
            disabled={none || starting}
            data-tip="Run the selected scenarios, and go on with those that were stopped"
            onClick={() => void begin(chosen.filter(({ scenario }) => !scenario.off))}
          >
            Run selected
          </button>
          {lacking.length === 0 && active.length === 0 ? (
            <span className="text-soft">Up to date</span>
          ) : (
            <button
              className="button button-main"
              data-testid="run-lacking"
              disabled={starting || lacking.length === 0}
              data-tip="Run every scenario that has not run as it is now"
              onClick={() => void begin(lacking)}
            >
              {lacking.length === rows.length || lacking.length === 0 ? "Run all" : `Run ${lacking.length} out of date`}
            </button>
          )}
        </span>
      </div>
      {refusal && refusal.problems.some((p) => p.scenario !== undefined) && (
        <p role="alert" className="border-b border-line bg-warn px-4 py-1.5">
          {refusal.message} The cells at fault are marked; rest the pointer on one to read what is wrong.
        </p>
      )}
      <div className="flex shrink-0 flex-wrap items-center gap-2 px-4 py-1.5">
        <button
          className="button px-2!"
          data-testid="make-scenarios"
          disabled={factors.length === 0}
          onClick={() => setMaking(true)}
        >
          Make scenarios …
        </button>
        <button className="button px-2!" onClick={add}>
          <Plus size={14} /> Scenario
        </button>
        <Tool label="Duplicate the selected scenarios" disabled={none} onClick={() => duplicateRows(id, selected)}>
          <Copy size={14} />
        </Tool>
        <Tool label="Move the selected scenarios up" disabled={none} onClick={() => moveRows(id, selected, -1)}>
          <ArrowUp size={14} />
        </Tool>
        <Tool label="Move the selected scenarios down" disabled={none} onClick={() => moveRows(id, selected, 1)}>
          <ArrowDown size={14} />
        </Tool>
        <Tool label="Switch the selected scenarios off or on" disabled={none} onClick={turn}>
          <Power size={14} />
        </Tool>
        <Tool label="Delete the selected scenarios" disabled={none} onClick={remove}>
          <Trash2 size={14} />
        </Tool>
        {chosen.length === 1 && !chosen[0].isBaseline && !chosen[0].scenario.off && (
          <button
            className="button px-2!"
            onClick={() => editExperiment(id, "Choose baseline", (e) => void (e.baseline = chosen[0].scenario.id))}
          >
            Make it the baseline
          </button>
        )}
        <span className="ml-auto flex items-center gap-2">
          <ColumnsMenu model={model} />
          <Tool label="Copy the table" disabled={rows.length === 0} onClick={copy}>
            <Table2 size={14} />
          </Tool>
          <SaveMenu
            ways={[
              ["This table as CSV", () => void saveFile(`${fileName}.csv`, writeCsv(block()), "text/csv")],
              [
                "Every replication as CSV",
                () => void saveFile(`${fileName}, replications.csv`, writeCsv(replicationRows(exported())), "text/csv"),
              ],
              ["Both as XLSX", () => void saveXlsx()],
              ["All as JSON", () => void saveFile(`${fileName}.json`, experimentJson(exported()), "application/json")],
            ]}
          />
        </span>
      </div>
      <Group orientation="vertical" className="min-h-0 grow">
        <Panel defaultSize={heightOf(rows.length)} minSize={120} className="flex flex-col border-t border-line">
          <Grid
            model={model}
            label={`Scenarios of ${experiment.name}`}
            testId="scenarios"
            numbered
            selection={selected}
            onSelect={setSelected}
            onWrite={write}
            onPaste={paste}
            problemsAt={problemsAt}
            empty="No scenarios. Make some from levels of the factors, add one, or paste rows from a spreadsheet."
          />
        </Panel>
        <Separator className="h-1 border-t border-line hover:bg-action focus-visible:bg-action" />
        <Panel minSize={120}>
          <div className="relative h-full overflow-y-auto px-4 py-3">
            <Reading study={study} experiment={experiment} rows={rows} responses={responses} factors={factors} />
          </div>
        </Panel>
      </Group>
      {making && (
        <Suspense>
          <MakeDialog study={study} experiment={experiment} factors={factors} onClose={() => setMaking(false)} />
        </Suspense>
      )}
    </main>
  );
}

function Tool({
  label,
  disabled,
  onClick,
  children,
}: {
  label: string;
  disabled: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button className="button px-2!" aria-label={label} data-tip={label} disabled={disabled} onClick={onClick}>
      {children}
    </button>
  );
}

/** Pixels for the grid at first: up to eight rows are in sight; of more it scrolls. */
const heightOf = (rows: number): number => 28 * Math.min(Math.max(rows, 2), 8) + 46;

const readLevel = (text: string): number | undefined => {
  const level = Number(text.replace("%", "").trim()) / 100;
  return level >= 0.5 && level < 0.99999 ? level : undefined;
};

function Level({ study }: { study: Study }) {
  const percent = formatNumber(study.run.level * 100, 6);
  return (
    <label className="flex items-center gap-1.5 text-soft">
      Level
      <KeptInput
        label="Confidence level, percent"
        className="w-16"
        shown={percent}
        read={(text) => (readLevel(text) === undefined ? undefined : text.replace("%", "").trim())}
        wanted="From 50 to 99.99."
        when="leaving"
        onChange={(text) =>
          useStudy.getState().change("Change level", (s) => void (s.run.level = readLevel(text)!), "run/level")
        }
      />
      %
    </label>
  );
}

/** Why a text cannot stand in a column; what a factor may be is told where it stands. */
function refusalOf(study: Study, column: string, text: string): string | undefined {
  if (column.startsWith(RESPONSE) || column === "interval" || column === "state")
    return "This column is filled by runs.";
  if (column === "design" && !designNamed(study, text)) return `There is no design "${text}".`;
  if (column !== "replications" || text === "") return undefined;
  const n = Number(text);
  return Number.isInteger(n) && n >= 1 && n <= 100_000 ? undefined : "A whole number from 1 to 100,000 is wanted.";
}

const designNamed = ({ designs }: Study, text: string) =>
  designs.find(({ name }) => name.toLowerCase() === text.toLowerCase());

/** Puts a text into a cell of a draft. */
function put(
  study: Study,
  factors: readonly ToldFactor[],
  experiment: ExperimentPlan,
  row: string,
  column: string,
  text: string,
  shownName: string | undefined,
): void {
  const scenario = experiment.scenarios.find(({ id }) => id === row);
  if (!scenario) return;
  if (column === "name") {
    // Its own name, given by itself, is none that a person gave.
    if (text !== shownName || scenario.name !== "") scenario.name = text.slice(0, 120);
  } else if (column === "design") scenario.design = designNamed(study, text)?.id ?? scenario.design;
  else if (column === "replications") scenario.replications = text === "" ? undefined : Number(text);
  else {
    const told = factors.find(({ factor }) => factor.id === column);
    if (!told) return;
    if (text === "") delete scenario.values[column];
    else scenario.values[column] = valueOfWords(told, text);
  }
}

/** Rows that may be the best by the first response. */
function bestRows(rows: readonly ScenarioRow[], responses: readonly Response[], level: number): ReadonlySet<string> {
  const found = comparable(rows, responses, 0, 3);
  if (!found || found.rows.length < 2) return NO_ROWS;
  const subset = subsetOfBest(found.groups, level, found.response.better, found.isPaired);
  return new Set(found.rows.filter((_, i) => subset[i]).map(({ scenario }) => scenario.id));
}

const NO_ROWS: ReadonlySet<string> = new Set();

/** The ends of what the intervals of the first response span. */
function axisOf(rows: readonly ScenarioRow[]): readonly [number, number] | undefined {
  const ends = rows.flatMap(({ intervals: [first] }) => {
    if (!first || !Number.isFinite(first.mean)) return [];
    const half = Number.isFinite(first.halfWidth) ? first.halfWidth : 0;
    return [first.mean - half, first.mean + half];
  });
  return ends.length === 0 ? undefined : [Math.min(...ends), Math.max(...ends)];
}
