import { formatNumber } from "@busy-harbor/core";
import {
  bonferroni,
  equalVariances,
  oneWay,
  type Pair,
  pairedAnova,
  tukey,
  welchAnova,
} from "@busy-harbor/core/inference";
import { useMemo, useState } from "react";
import type { GridColumn } from "../../grid/column.ts";
import { Grid } from "../../grid/Grid.tsx";
import { useGrid } from "../../grid/useGrid.ts";
import { ToggleGroup } from "../../ui/ToggleGroup.tsx";
import { anovaWords } from "./AllTogether.tsx";
import { type ReadingProps, TooFew } from "./ReadingProps.tsx";

type Method = "tukey" | "bonferroni";
interface Row {
  readonly id: string;
  readonly first: string;
  readonly second: string;
  readonly pair: Pair;
}
const rowId = ({ id }: Row): string => id;

/** Pairs beyond which only intervals are worked out, as each chance of Tukey's takes a while. */
const MOST_CHANCES = 300;

/** Every two scenarios, at a joint level. */
export function AllPairs({ study, found, experiment }: ReadingProps) {
  const { level } = study.run;
  const [method, setMethod] = useState<Method>(found?.isPaired ? "bonferroni" : "tukey");
  const result = useMemo(() => {
    if (!found || found.rows.length < 2 || found.groups[0].length < 2) return undefined;
    const { groups, isPaired } = found;
    const variances = equalVariances(groups);
    return {
      variances,
      anova: isPaired ? pairedAnova(groups) : variances < 0.05 ? welchAnova(groups) : oneWay(groups),
      pairs: method === "tukey" ? tukey(groups, level) : bonferroni(groups, level, isPaired),
    };
  }, [found, method, level]);
  const rows = useMemo<readonly Row[]>(
    () =>
      result?.pairs.map((pair) => ({
        id: `${pair.a}/${pair.b}`,
        first: found!.rows[pair.a].name,
        second: found!.rows[pair.b].name,
        pair,
      })) ?? NO_ROWS,
    [result, found],
  );
  const unit = found?.response.unit.symbol ?? "";
  const columns = useMemo(() => columnsOf(unit, rows.length <= MOST_CHANCES), [unit, rows.length]);
  const model = useGrid({ id: `pairs/${experiment.id}`, rows, columns, rowId });
  if (!found || !result) return <TooFew />;
  const percent = `${formatNumber(level * 100)} %`;
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 pb-2">
        <ToggleGroup
          label="Method"
          value={method}
          options={[
            ["tukey", "Tukey"],
            ["bonferroni", found.isPaired ? "Bonferroni, paired" : "Bonferroni, Welch"],
          ]}
          onChange={setMethod}
        />
        <span className="text-soft">
          {rows.filter(({ pair }) => pair.low > 0 || pair.high < 0).length} of {rows.length} pairs can be told apart at{" "}
          {percent}, jointly.
        </span>
      </div>
      <div className="flex flex-col border border-line" style={{ height: `min(${28 * rows.length + 48}px, 360px)` }}>
        <Grid model={model} label="All pairs" testId="all-pairs" empty="" />
      </div>
      <p className="max-w-3xl pt-2 text-xs text-soft">
        {anovaWords(result.anova)}{" "}
        {method === "tukey"
          ? `Tukey's studentized range (Tukey 1953; Kramer 1956) assumes independent observations of one variance${found.isPaired ? "; under common random numbers they are not independent, and the intervals are wider than they need be" : ""}.`
          : found.isPaired
            ? "Paired t of each pair, at a level that is the stricter the more pairs there are (Bonferroni): it holds under common random numbers and with any variances."
            : "Welch's t of each pair, at a level that is the stricter the more pairs there are (Bonferroni)."}{" "}
        {result.variances < 0.05
          ? `Variances differ (Brown and Forsythe 1974, p = ${formatNumber(result.variances, 2)})${method === "tukey" ? ": take Bonferroni's" : ""}.`
          : `Nothing speaks against equal variances (Brown and Forsythe 1974, p = ${formatNumber(result.variances, 2)}).`}
      </p>
    </>
  );
}

const NO_ROWS: readonly Row[] = [];

function columnsOf(unit: string, withChances: boolean): readonly GridColumn<Row>[] {
  const figure = (id: string, label: string, of: (pair: Pair) => number): GridColumn<Row> => ({
    id,
    label: `${label}${unit && id !== "p" ? `, ${unit}` : ""}`,
    width: 110,
    align: "right",
    mono: true,
    read: ({ pair }) => formatNumber(of(pair), 3),
    value: ({ pair }) => of(pair),
  });
  return [
    { id: "second", label: "Scenario", width: 230, read: ({ second }) => second },
    { id: "first", label: "Minus", width: 230, read: ({ first }) => first },
    figure("difference", "Difference", ({ difference }) => difference),
    figure("low", "From", ({ low }) => low),
    figure("high", "To", ({ high }) => high),
    ...(withChances ? [figure("p", "p, adjusted", ({ p }) => p)] : []),
    {
      id: "apart",
      label: "Told apart",
      width: 96,
      read: ({ pair }) => (pair.low > 0 || pair.high < 0 ? "yes" : "no"),
      show: ({ pair }) =>
        pair.low > 0 || pair.high < 0 ? <b className="font-semibold">yes</b> : <span className="text-soft">no</span>,
    },
  ];
}
