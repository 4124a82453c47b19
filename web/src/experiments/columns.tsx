import { definitionOf, type Study } from "@busy-harbor/core";
import { type FactorWords, factorWords, valueIn, wordsOfValue } from "@busy-harbor/core/experiments";
import type { ExperimentPlan, Factor } from "@busy-harbor/core";
import type { GridColumn } from "../grid/column.ts";
import { Interval } from "./reading/Interval.tsx";
import { intervalText, type Response, type ScenarioRow, titleOf } from "./rows.ts";

export type ToldFactor = FactorWords & { readonly factor: Factor; readonly title: string };

/** The columns that are filled from runs. */
export const RESPONSE = "response:";

/** Columns of an experiment: what is planned, then what came out. */
export function experimentColumns(
  study: Study,
  experiment: ExperimentPlan,
  responses: readonly Response[],
  /** Where the interval of the first response is drawn: the ends of its axis, in the unit shown. */
  axis: readonly [number, number] | undefined,
  best: ReadonlySet<string>,
): readonly GridColumn<ScenarioRow>[] {
  const told = factorWords(study, experiment);
  return [
    {
      id: "name",
      label: "Scenario",
      help: "Named after its values, unless you name it. Empty it to have it named by itself again.",
      width: 224,
      frozen: true,
      read: ({ name }) => name,
      show: (row) => <Name row={row} mayBeBest={best.has(row.scenario.id)} />,
    },
    {
      id: "design",
      label: "Design",
      width: 116,
      choices: () => study.designs.map(({ name }) => name),
      read: ({ scenario }) => study.designs.find(({ id }) => id === scenario.design)?.name ?? "a deleted design",
    },
    ...told.map((words) => factorColumn(study, words, shortTitle(words, told))),
    ...responses.flatMap((response, i) => responseColumns(response, i, i === 0 ? axis : undefined, best)),
    {
      id: "replications",
      label: "Replications",
      help: "Empty: as many as the run settings say.",
      width: 98,
      align: "right",
      mono: true,
      read: ({ scenario }) => String(scenario.replications ?? study.run.replications),
      value: ({ scenario }) => scenario.replications ?? study.run.replications,
      show: ({ scenario }) => (
        <span className={scenario.replications === undefined ? "text-soft" : ""}>
          {scenario.replications ?? study.run.replications}
        </span>
      ),
    },
    { id: "state", label: "State", width: 128, read: ({ state }) => state, show: (row) => <State row={row} /> },
  ];
}

/** Its name, or its setting alone where no other factor is called so. */
const shortTitle = ({ factor, label, title }: ToldFactor, all: readonly ToldFactor[]): string =>
  factor.name === "" && all.filter((other) => other.label === label).length === 1 ? label : title;

function factorColumn(study: Study, words: ToldFactor, shown: string): GridColumn<ScenarioRow> {
  const { factor, title, help, choices, isExpression } = words;
  const read = ({ scenario }: ScenarioRow) => wordsOfValue(words, valueIn(study, factor, scenario));
  return {
    id: factor.id,
    label: shown,
    help: `${title}. ${help ? `${help} ` : ""}Empty: as the design has it.`,
    width: Math.min(220, Math.max(84, 8 * shown.length + 24)),
    mono: true,
    ...(choices ? { choices: () => choices.map(([, name]) => name) } : isExpression ? { expression: {} } : {}),
    read,
    value: (row) => {
      const text = read(row);
      return Number.isFinite(Number.parseFloat(text)) ? Number.parseFloat(text) : text;
    },
    show: (row) => {
      const own = row.scenario.values[factor.id] ?? "";
      return <span className={own.trim() === "" ? "text-soft" : ""}>{read(row)}</span>;
    },
  };
}

function responseColumns(
  response: Response,
  i: number,
  axis: readonly [number, number] | undefined,
  best: ReadonlySet<string>,
): GridColumn<ScenarioRow>[] {
  const { unit, info } = response;
  const label = `${titleOf(response)}${unit.symbol ? `, ${unit.symbol}` : ""}`;
  const figures: GridColumn<ScenarioRow> = {
    id: `${RESPONSE}${response.key}`,
    label,
    help: info && definitionOf(info),
    width: Math.min(250, Math.max(130, 7.2 * label.length + 24)),
    align: "right",
    read: ({ intervals }) => intervalText(intervals[i]),
    value: ({ intervals }) => intervals[i]?.mean,
    show: ({ intervals, of, columns }) =>
      columns[i] === null ? (
        <span className="text-soft">not measured</span>
      ) : (
        <span className={`tabular-nums ${of?.isOld ? "text-soft" : ""}`}>{intervalText(intervals[i])}</span>
      ),
  };
  if (!axis) return [figures];
  return [
    figures,
    {
      id: "interval",
      label: "Interval of the mean",
      help: `Of ${titleOf(response)}. Dotted: the mean of the baseline.`,
      width: 190,
      read: () => "",
      show: ({ intervals, scenario }) => (
        <Interval interval={intervals[i]} axis={axis} marked={best.has(scenario.id)} width={166} />
      ),
    },
  ];
}

/** The name, and beside it how the row stands where it is not simply done. */
function Name({ row, mayBeBest }: { row: ScenarioRow; mayBeBest: boolean }) {
  const { name, scenario, isBaseline, state, of } = row;
  return (
    <span className="flex items-center gap-1.5">
      {of?.run.state === "running" && (
        <span
          aria-hidden
          className="absolute inset-y-0 left-0 bg-action/15"
          style={{ width: `${(100 * of.run.finished) / of.run.settings.replications}%` }}
        />
      )}
      {mayBeBest && (
        <span role="img" aria-label="may be the best" className="h-2 w-2 shrink-0 rounded-full bg-action" />
      )}
      <span
        className={`relative truncate ${mayBeBest ? "font-semibold" : ""} ${scenario.off ? "text-soft line-through" : ""}`}
      >
        {name}
      </span>
      {isBaseline && <span className="relative shrink-0 text-soft">baseline</span>}
      {state !== "done" && (
        <span className="relative ml-auto shrink-0 pl-1 text-xs">
          <State row={row} />
        </span>
      )}
    </span>
  );
}

function State({ row: { state } }: { row: ScenarioRow }) {
  return (
    <span className={/out of date|failed|stopped|held/.test(state) ? "text-buoy-deep" : "text-soft"}>{state}</span>
  );
}
