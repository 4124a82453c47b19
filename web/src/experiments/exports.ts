import { dimensionSymbol, type ExperimentPlan, meanInterval, type Study } from "@busy-harbor/core";
import { valueIn, wordsOfValue } from "@busy-harbor/core/experiments";
import type { ToldFactor } from "./columns.tsx";
import { saveSheet } from "../tables/spreadsheet/openSpreadsheet.ts";
import { type Response, type ScenarioRow, titleOf } from "./rows.ts";

/** An experiment with all that is known of its scenarios. */
export interface Exported {
  readonly study: Study;
  readonly experiment: ExperimentPlan;
  readonly factors: readonly ToldFactor[];
  readonly responses: readonly Response[];
  readonly rows: readonly ScenarioRow[];
}

type Cell = string | number;

const unitOf = ({ info }: Response): string => {
  const symbol = info ? dimensionSymbol(info.dimension) : "";
  return symbol === "1" ? "" : symbol;
};
const headOf = (response: Response): string => {
  const unit = unitOf(response);
  return unit === "" ? titleOf(response) : `${titleOf(response)} (${unit})`;
};
const designOf = ({ study }: Exported, { scenario }: ScenarioRow): string =>
  study.designs.find(({ id }) => id === scenario.design)?.name ?? "";
const valuesOf = ({ study, factors }: Exported, { scenario }: ScenarioRow): string[] =>
  factors.map((words) => wordsOfValue(words, valueIn(study, words.factor, scenario)));

/** A row a scenario and replication, in SI units, as `harbor experiment --csv` writes it. */
export function replicationRows(of: Exported): Cell[][] {
  const { factors, responses, rows } = of;
  return [
    ["Scenario", "Design", ...factors.map(({ title }) => title), "Replication", ...responses.map(headOf)],
    ...rows.flatMap((row) => {
      const numbers = [...new Set(row.columns.flatMap((column) => column?.replications ?? []))].sort((a, b) => a - b);
      return numbers.map((replication): Cell[] => [
        row.name,
        designOf(of, row),
        ...valuesOf(of, row),
        replication,
        ...row.columns.map((column) => {
          const value = column?.values[column.replications.indexOf(replication)];
          return value !== undefined && Number.isFinite(value) ? value : "";
        }),
      ]);
    }),
  ];
}

/** All of it as one document, as `harbor experiment --json` writes it. */
export function experimentJson(of: Exported): string {
  const { experiment, factors, responses, rows, study } = of;
  const { level } = study.run;
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  return JSON.stringify(
    {
      experiment: experiment.name,
      level,
      factors: factors.map(({ title }) => title),
      scenarios: rows.map((row) => {
        const values = valuesOf(of, row);
        return {
          name: row.name,
          design: designOf(of, row),
          values: Object.fromEntries(factors.map(({ title }, f) => [title, values[f]])),
          settings: row.of?.run.settings,
          measures: responses.flatMap((response, r) => {
            const column = row.columns[r];
            if (!column || !response.info) return [];
            const { mean, halfWidth } = meanInterval(column.values, level);
            return [
              {
                element: response.info.owner,
                measure: response.info.id,
                label: response.info.label,
                unit: dimensionSymbol(response.info.dimension),
                mean: finite(mean),
                halfWidth: finite(halfWidth),
                values: column.values.map(finite),
              },
            ];
          }),
        };
      }),
    },
    null,
    2,
  );
}

/** A spreadsheet with a sheet of the table as it is shown, and one with a row a scenario and replication. */
export async function experimentWorkbook(
  shown: readonly (readonly string[])[],
  of: Exported,
): Promise<Uint8Array<ArrayBuffer>> {
  const [head, ...rows] = shown;
  const first = await saveSheet(undefined, {
    sheet: "Scenarios",
    head: [...head],
    rows: rows.map((row) => [...row]),
    mode: "clear",
  });
  const [names, ...all] = replicationRows(of);
  return saveSheet(first, { sheet: "Replications", head: names.map(String), rows: all, mode: "clear" });
}
