import { definitionOf, formatNumber, sourceOf, type Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { lazy, Suspense } from "react";
import { useRuns } from "../../state/runs.ts";
import { useStudy } from "../../state/study.ts";
import { ToggleGroup } from "../../ui/ToggleGroup.tsx";
import { meanText, type Reading } from "../readings.ts";
import { ReplicationDots } from "../ReplicationDots.tsx";
import { useChosen, VIEWS } from "./chosenStore.ts";
import { titleOf } from "./ChosenProps.ts";
import { positionOf } from "./sources.ts";
import { useKeptIn } from "./useKeptIn.ts";

const Histogram = lazy(() => import("./Histogram.tsx"));
const Spread = lazy(() => import("./Spread.tsx"));
const OverTime = lazy(() => import("./OverTime.tsx"));
const StatesOverTime = lazy(() => import("./StatesOverTime.tsx"));
const ByHour = lazy(() => import("./ByHour.tsx"));

/** The chosen measure: its figures, and beside them its replications, or what was observed one by one. */
export function ChosenMeasure({
  run,
  study,
  reading,
  readings,
  values,
  one,
}: {
  run: RunSummary;
  study: Study;
  reading: Reading;
  readings: readonly Reading[];
  /** By replication, in the unit shown. */
  values: readonly number[];
  /** What a dot is. */
  one: string;
}) {
  const { view, show } = useChosen();
  const kept = useKeptIn(run);
  const { measure, interval, unit } = reading;
  const { mean, halfWidth } = meanText(interval);
  const source = kept && positionOf(reading, kept);
  const { level } = study.run;
  const props = kept && source !== undefined && { run, kept, source, reading, level, readings };
  return (
    <figure className="panel flex gap-6 px-5 pt-4 pb-3" aria-label={`${measure.owner}: ${measure.label}`}>
      <figcaption className="w-56 shrink-0">
        <p className="text-soft">{measure.owner}</p>
        <p className="font-semibold">{measure.label}</p>
        <p className="pt-2 text-lg tabular-nums" data-testid="chosen-mean">
          {mean} {halfWidth && <span className="text-soft">± {halfWidth}</span>} {unit}
        </p>
        <p className="text-soft">
          standard deviation {formatNumber(interval.sd, 3)} {unit}
        </p>
        <p className="pt-2 text-xs text-soft">
          {definitionOf(measure)}{" "}
          {view === "replications" &&
            `One dot a ${one}${unit && `, in ${unit}`}; the band is the interval of the mean.`}
        </p>
        {props && (
          <a
            className="inline-block pt-2 text-action hover:underline"
            href={`/api/runs/${run.id}/kept/${source}.csv`}
            download
          >
            All that was kept, as CSV
          </a>
        )}
      </figcaption>
      <div className="min-w-0 grow" data-testid="chosen-view">
        <div className="pb-2">
          <ToggleGroup label="What is shown of it" value={view} options={VIEWS} onChange={show} />
        </div>
        {view === "replications" ? (
          <div className="h-44">
            <ReplicationDots reading={reading} values={values} />
          </div>
        ) : !props ? (
          <NotKept key={measure.key} run={run} study={study} reading={reading} />
        ) : (
          <Suspense>
            {view === "histogram" && <Histogram key={source} {...props} />}
            {(view === "function" || view === "box") && <Spread key={source} as={view} values={values} {...props} />}
            {view === "time" &&
              (measure.measure === "state" ? (
                <StatesOverTime key={source} {...props} />
              ) : (
                <OverTime key={source} {...props} />
              ))}
            {view === "hours" && <ByHour key={source} {...props} />}
          </Suspense>
        )}
      </div>
    </figure>
  );
}

/** Why there is nothing to be drawn, and the way to it. */
function NotKept({ run, study, reading: { measure } }: { run: RunSummary; study: Study; reading: Reading }) {
  const change = useStudy((s) => s.change);
  const start = useRuns((s) => s.start);
  const id = sourceOf(measure);
  const name = titleOf(measure);
  if (id === undefined)
    return (
      <p className="max-w-md pt-6 text-soft">
        Of a figure like this there is one value a replication. Lines, stays, waits, times in system, levels and shares
        of time in states can be kept one by one.
      </p>
    );
  const isAsked = study.run.kept?.includes(id) ?? false;
  const keep = () =>
    isAsked || change(`Keep ${name} one by one`, (s) => void (s.run.kept = [...(s.run.kept ?? []), id]));
  const canRun = run.plan === "" && study.designs.some((d) => d.id === run.designId);
  return (
    <div className="max-w-md pt-6">
      <p className="pb-3 text-soft">
        In this run single observations of it were not kept, only figures of each replication.
        {isAsked && " They are kept from the next run on."}
      </p>
      {canRun ? (
        <button
          className="button button-main"
          onClick={() => {
            keep();
            void start(run.designId);
          }}
        >
          Keep them, and run again
        </button>
      ) : (
        !isAsked && (
          <button className="button" onClick={keep}>
            Keep them from the next run on
          </button>
        )
      )}
    </div>
  );
}
