import type { ExperimentPlan, Study } from "@busy-harbor/core";
import { lazy, Suspense, useMemo, useRef } from "react";
import { create } from "zustand";
import { AllTogether } from "./AllTogether.tsx";
import { FigureTools, tablesIn } from "../../charts/FigureTools.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { ToggleGroup } from "../../ui/ToggleGroup.tsx";
import type { ToldFactor } from "../columns.tsx";
import { comparable } from "../comparable.ts";
import { type Response, type ScenarioRow, titleOf } from "../rows.ts";
import { type ReadingProps, TooFew } from "./ReadingProps.tsx";
import { Against } from "./Against.tsx";
import { AllPairs } from "./AllPairs.tsx";

const Boxes = lazy(() => import("./Boxes.tsx"));
const Effects = lazy(() => import("./Effects.tsx"));
const AlongFactor = lazy(() => import("./AlongFactor.tsx"));
const Search = lazy(() => import("./search/Search.tsx"));
const Select = lazy(() => import("./Select.tsx"));
const TwoResponses = lazy(() => import("./TwoResponses.tsx"));

const WAYS = [
  ["best", "The best"],
  ["boxes", "Boxes"],
  ["against", "Baseline"],
  ["pairs", "All pairs"],
  ["effects", "Effects"],
  ["factor", "Along a factor"],
  ["two", "Two responses"],
  ["select", "Select"],
  ["search", "Search"],
] as const;
type Way = (typeof WAYS)[number][0];

/** How each experiment was last read, for as long as the page is open. */
const useReading = create<{ of: Readonly<Record<string, { readonly way?: Way; readonly key?: string }>> }>(() => ({
  of: {},
}));

/** How the results of an experiment are read: by which response, and by which comparison. */
export function Reading({
  study,
  experiment,
  rows,
  responses,
  factors,
}: {
  study: Study;
  experiment: ExperimentPlan;
  rows: readonly ScenarioRow[];
  responses: readonly Response[];
  factors: readonly ToldFactor[];
}) {
  const { way = "best", key } = useReading((s) => s.of[experiment.id] ?? NOTHING);
  const change = (more: { readonly way?: Way; readonly key?: string }) =>
    useReading.setState(({ of }) => ({ of: { ...of, [experiment.id]: { ...of[experiment.id], ...more } } }));
  const drawn = useRef<HTMLDivElement>(null);
  const at = Math.max(
    0,
    responses.findIndex((r) => r.key === key),
  );
  const found = useMemo(() => comparable(rows, responses, at), [rows, responses, at]);
  if (responses.length === 0)
    return (
      <p className="max-w-xl text-soft">
        Choose what the scenarios are read by: the deciding measures in Frame, or a response at the left.
      </p>
    );
  const isRun = rows.some(({ of }) => of && of.run.finished > 0);
  const title = `${experiment.name}, ${WAYS.find(([id]) => id === way)![1].toLowerCase()}`;
  const props = { study, experiment, rows, responses, factors, at, found };
  return (
    <section aria-label="Reading the experiment">
      <div className="flex flex-wrap items-center gap-3 pb-3">
        <ToggleGroup label="Read as" value={way} options={WAYS} onChange={(next) => change({ way: next })} />
        <span className="w-64">
          <Choice
            label="Response"
            value={responses[at].key}
            options={responses.map((r) => ({ value: r.key, label: titleOf(r) }))}
            onChange={(next) => change({ key: next })}
          />
        </span>
        {isRun && <FigureTools name={title} drawn={drawn} numbers={() => tablesIn(drawn.current)} />}
      </div>
      {!isRun && way !== "select" && way !== "search" && (
        <p className="max-w-xl text-soft">
          Nothing has been run yet. Run all, above, starts every scenario in the background; Select has the best
          selected with replications only where they are needed.
        </p>
      )}
      <div ref={drawn}>
        <Suspense>
          {isRun && way === "best" && <Best {...props} />}
          {isRun && way === "boxes" && <Boxes {...props} />}
          {isRun && way === "against" && <Against {...props} />}
          {isRun && way === "pairs" && <AllPairs {...props} />}
          {isRun && way === "effects" && <Effects {...props} />}
          {isRun && way === "factor" && <AlongFactor {...props} />}
          {isRun && way === "two" && <TwoResponses {...props} />}
          {way === "search" && <Search {...props} />}
          {way === "select" && <Select key={responses[at].key} {...props} />}
        </Suspense>
      </div>
    </section>
  );
}

const NOTHING = {};

function Best({ study, found, at }: ReadingProps) {
  if (!found || found.rows.length < 2 || found.groups[0].length < 3 || !found.response.info) return <TooFew />;
  return (
    <AllTogether
      study={study}
      info={found.response.info}
      better={found.response.better}
      what="Scenario"
      names={found.rows.map(({ name }) => name)}
      columns={found.rows.map(({ columns }) => columns[at]!)}
      paired={found.isPaired}
    />
  );
}
