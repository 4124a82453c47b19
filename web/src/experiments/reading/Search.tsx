import {
  displayUnit,
  type ExperimentPlan,
  formatNumber,
  meanInterval,
  type SearchPlan,
  searchPlanSchema,
  usuallyBetter,
} from "@busy-harbor/core";
import { readSearch, valueOfWords } from "@busy-harbor/core/experiments";
import { searchSize } from "@busy-harbor/core/inference";
import type { Experiment } from "@busy-harbor/core/contract";
import { Square } from "lucide-react";
import { useMemo, useState } from "react";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { api } from "../../api/client.ts";
import { useRuns } from "../../state/runs.ts";
import { announce } from "../../ui/announce.ts";
import { KeptInput } from "../../build/fields.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { editExperiment, newScenario } from "../edits.ts";
import { useMeasures } from "../useMeasures.ts";
import { useResponses } from "../useResponses.ts";
import type { ReadingProps } from "./ReadingProps.tsx";
import type { Response } from "../rows.ts";
import { useLatest } from "./useLatest.ts";

const TICK = { fontSize: 11, fill: "var(--color-soft)" };
/** Places told at first, the best of them. */
const MOST_SHOWN = 15;
/** Replications of each place with which trying all of them is counted. */
const TO_TRY_ALL = 10;

/** Looks for the best values of the factors over ranges, with a budget of replications. */
export default function Search({ study, experiment, responses, at, factors }: ReadingProps) {
  const plan = useMemo(
    () => experiment.search ?? fresh(study, experiment, responses[at]),
    [study, experiment, responses, at],
  );
  const searched = useMemo(
    () => ({ scenarios: [{ design: plan.design }] as ExperimentPlan["scenarios"] }),
    [plan.design],
  );
  const measures = useMeasures(study, searched);
  const [starting, setStarting] = useState(false);
  const [known, setKnown] = useLatest(experiment.id, ({ searchState }) => searchState !== null);
  const read = useMemo(
    () => readSearch(study, { ...experiment, search: plan }, measures),
    [study, experiment, plan, measures],
  );
  const problems = read.ok ? {} : read.problems;
  const edit = (what: string, recipe: (search: SearchPlan) => void, key?: string) =>
    editExperiment(
      experiment.id,
      what,
      (e) => {
        e.search ??= structuredClone(plan);
        recipe(e.search);
      },
      key && `search/${key}`,
    );
  const start = async () => {
    setStarting(true);
    if (!experiment.search) edit("Plan a search", () => undefined);
    if (!(await useRuns.getState().startSearch(experiment.id)))
      announce(
        useRuns.getState().refusal?.problems[0]?.message ??
          useRuns.getState().refusal?.message ??
          "The search could not be begun.",
        true,
      );
    setStarting(false);
  };
  const options = measures.map(({ key, label, owner }) => ({ value: key, label: `${owner}: ${label}` }));
  const size = read.ok ? searchSize(read.search.settings.factors) : 0;
  const field = (label: string, value: string, change: (text: string) => void, wrong?: string, width = "w-28!") => (
    <label className="flex items-center gap-2">
      <span className="text-soft">{label}</span>
      <input
        className={`field mono ${width}`}
        value={value}
        spellCheck={false}
        autoComplete="off"
        aria-invalid={wrong !== undefined}
        onChange={({ target }) => change(target.value)}
      />
    </label>
  );
  return (
    <div data-testid="search">
      <form
        className="panel mb-3 px-4 py-3"
        onSubmit={(event) => {
          event.preventDefault();
          void start();
        }}
      >
        {factors.length === 0 && <p className="text-soft">Add a factor at the left first.</p>}
        <table className="border-separate border-spacing-x-3 border-spacing-y-1">
          <thead className="text-left text-xs text-soft [&_th]:font-normal">
            <tr>
              <th>Factor</th>
              <th>From</th>
              <th>To</th>
              <th>or choices, separated by commas</th>
            </tr>
          </thead>
          <tbody>
            {factors.map(({ factor, title }) => {
              const range = plan.ranges[factor.id] ?? { from: "", to: "", steps: 20, choices: "" };
              const set = (part: "from" | "to" | "choices", text: string) =>
                edit(
                  "Change range",
                  (s) => {
                    const now = { ...(s.ranges[factor.id] ?? range), [part]: text };
                    if (now.from === "" && now.to === "" && now.choices === "") delete s.ranges[factor.id];
                    else s.ranges[factor.id] = now;
                  },
                  `${factor.id}/${part}`,
                );
              return (
                <tr key={factor.id}>
                  <td className="max-w-56 truncate">{title}</td>
                  {(["from", "to", "choices"] as const).map((part) => (
                    <td key={part}>
                      <input
                        className={`field mono ${part === "choices" ? "w-64!" : "w-28!"}`}
                        aria-label={`${{ from: "From", to: "To", choices: "Choices" }[part]}, ${title}`}
                        spellCheck={false}
                        autoComplete="off"
                        aria-invalid={problems[factor.id] !== undefined}
                        value={range[part]}
                        onChange={({ target }) => set(part, target.value)}
                      />
                    </td>
                  ))}
                  <td className="text-xs text-buoy-deep">{problems[factor.id]}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <div className="flex flex-wrap items-center gap-x-5 gap-y-2 pt-2">
          <span className="w-44">
            <Choice
              label="Design that is searched"
              value={plan.design}
              options={study.designs.map(({ id, name }) => ({ value: id, label: name }))}
              onChange={(design) => edit("Change search", (s) => void (s.design = design))}
            />
          </span>
          <span className="w-72">
            <Choice
              label="Measure that is to be the best"
              value={plan.measure}
              options={options}
              onChange={(measure) =>
                edit("Change search", (s) => {
                  s.measure = measure;
                  const info = measures.find(({ key }) => key === measure);
                  if (info) s.better = usuallyBetter(info);
                })
              }
            />
          </span>
          <span className="w-36">
            <Choice
              label="Which direction is better"
              value={plan.better}
              options={[
                { value: "less", label: "less is better" },
                { value: "more", label: "more is better" },
              ]}
              onChange={(better) => edit("Change search", (s) => void (s.better = better))}
            />
          </span>
          {field(
            "Difference that matters",
            plan.matters,
            (text) => edit("Change search", (s) => void (s.matters = text), "matters"),
            problems.matters,
          )}
          <span className="flex items-center gap-2">
            <span className="text-soft">Replications in all</span>
            <KeptInput
              label="Replications in all"
              className="w-28"
              shown={String(plan.budget)}
              read={(text) => (isBudget(Number(text)) ? text : undefined)}
              wanted="A whole number from 50 to 1,000,000 is wanted."
              onChange={(text) => edit("Change search", (s) => void (s.budget = Number(text)), "budget")}
            />
          </span>
        </div>
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2 pt-2">
          <span className="text-soft">while</span>
          <span className="w-72">
            <Choice
              label="Measure that is bounded"
              value={plan.bound?.measure ?? ""}
              options={[{ value: "", label: "nothing else is bounded" }, ...options]}
              onChange={(measure) =>
                edit("Change search", (s) => {
                  s.bound = measure === "" ? undefined : { is: "at most", value: "", ...s.bound, measure };
                })
              }
            />
          </span>
          {plan.bound && (
            <>
              <span className="w-28">
                <Choice
                  label="How it is bounded"
                  value={plan.bound.is}
                  options={[
                    { value: "at most", label: "is at most" },
                    { value: "at least", label: "is at least" },
                  ]}
                  onChange={(is) => edit("Change search", (s) => void (s.bound!.is = is))}
                />
              </span>
              {field(
                "",
                plan.bound.value,
                (text) => edit("Change search", (s) => void (s.bound!.value = text), "bound"),
                problems.bound,
              )}
            </>
          )}
          <button className="button button-main ml-auto" disabled={!read.ok || starting}>
            Search
          </button>
        </div>
        <p className="pt-2 text-soft" role="status">
          {Object.entries(problems)
            .filter(([key]) => !factors.some(({ factor }) => factor.id === key))
            .map(([, message]) => message)
            .join(" ")}
          {read.ok &&
            `${formatNumber(size)} places. ${
              size * TO_TRY_ALL <= plan.budget
                ? "Trying all of them with ten replications each is no dearer: make scenarios of all combinations, and select the best."
                : ""
            }`}
        </p>
      </form>
      {known && (
        <Found
          known={known}
          study={study}
          experiment={experiment}
          factors={factors}
          measures={measures}
          onChange={setKnown}
        />
      )}
    </div>
  );
}

const isBudget = (n: number): boolean => Number.isInteger(n) && n >= 50 && n <= 1_000_000;

/** What a search begins with: the response at hand, with what matters of it. */
function fresh(
  { designs, frame }: ReadingProps["study"],
  { scenarios }: ExperimentPlan,
  response: Response,
): SearchPlan {
  const { key, better } = response;
  const matters = frame?.deciding.find(({ measure }) => measure === key)?.matters ?? "";
  return searchPlanSchema.parse({ design: scenarios[0]?.design ?? designs[0].id, measure: key, better, matters });
}

function Found({
  known: { id, number, points, searchState },
  study,
  experiment,
  factors,
  measures,
  onChange,
}: Pick<ReadingProps, "study" | "experiment" | "factors"> & {
  readonly known: Experiment;
  readonly onChange: (experiment: Experiment) => void;
  readonly measures: ReturnType<typeof useMeasures>;
}) {
  const keys = useMemo(
    () => (searchState ? [searchState.measure, ...(searchState.bounded === null ? [] : [searchState.bounded])] : []),
    [searchState],
  );
  const columnOf = useResponses(points, keys);
  if (!searchState) return null;
  const { phase, best, path, finalists, holds, budget, problem, measure, bounded, stopped } = searchState;
  const info = measures.find(({ key }) => key === measure);
  const boundInfo = measures.find(({ key }) => key === bounded);
  const unit = info ? displayUnit(info.dimension, study.units) : { symbol: "", factor: 1 };
  const boundUnit = boundInfo ? displayUnit(boundInfo.dimension, study.units) : { symbol: "", factor: 1 };
  const meanOf = (run: string, key: string, factor: number) => {
    const column = columnOf(run, key);
    return column
      ? meanInterval(
          column.values.map((v) => v / factor),
          study.run.level,
        )
      : undefined;
  };
  const places = points.map((point, i) => ({
    point,
    i,
    interval: meanOf(point.id, measure, unit.factor),
    limited: bounded === null ? undefined : meanOf(point.id, bounded, boundUnit.factor),
  }));
  const sign = experiment.search?.better === "more" ? -1 : 1;
  const order = [...places].sort(
    (a, b) =>
      Number(b.i === best) - Number(a.i === best) ||
      Number(finalists.includes(b.i)) - Number(finalists.includes(a.i)) ||
      sign * ((a.interval?.mean ?? Infinity) - (b.interval?.mean ?? Infinity)),
  );
  const spent = points.reduce((sum, { finished }) => sum + finished, 0);
  const line = path.map((place, round) => ({ round: round + 1, mean: places[place]?.interval?.mean }));
  const take = () => {
    const place = best === null ? undefined : points[best];
    if (!place) return;
    // The server tells values in words, by the titles of their factors.
    const values = Object.fromEntries(
      factors.flatMap((told): [string, string][] => {
        const words = place.factors[told.title.slice(0, 80)];
        return words === undefined ? [] : [[told.factor.id, valueOfWords(told, String(words))]];
      }),
    );
    editExperiment(experiment.id, "Take what was found", (e) => {
      e.scenarios.push(newScenario({ design: place.designId, values }));
    });
    announce(`${place.name} stands among the scenarios now.`);
  };
  return (
    <section className="panel px-4 py-3" aria-label="What the search found" data-testid="found">
      <p className="pb-2" role="status" data-testid="search-words">
        <span className="text-soft">Run {number}. </span>
        {problem !== undefined ? (
          <span className="text-buoy-deep">{problem}</span>
        ) : phase === "over" && best === null ? (
          "No place keeps within the bound."
        ) : phase === "over" ? (
          <>
            <b className="font-semibold">{points[best!].name}</b> is the best found
            {holds
              ? ", selected among the finalists with the chance that was asked for"
              : "; the budget did not last to promise it among the finalists"}
            .{" "}
          </>
        ) : phase === "selecting" ? (
          `The best of ${finalists.length} finalists is being selected. `
        ) : best === null ? (
          "The first places are being tried. "
        ) : (
          <>
            Best so far: <b className="font-semibold">{points[best].name}</b>.{" "}
          </>
        )}
        {formatNumber(points.length)} places, {formatNumber(spent)} of {formatNumber(budget)} replications.
        {phase !== "over" && problem === undefined && (
          <button
            type="button"
            className="button ml-3"
            onClick={() =>
              void (stopped ? api.continueSearch(id) : api.stopSearch(id)).then(onChange, (error: unknown) =>
                announce(error instanceof Error ? error.message : String(error), true),
              )
            }
          >
            {stopped ? (
              "Go on"
            ) : (
              <>
                <Square size={12} /> Stop
              </>
            )}
          </button>
        )}
        {phase === "over" && best !== null && (
          <button type="button" className="button ml-3" onClick={take}>
            Make it a scenario
          </button>
        )}
      </p>
      {line.length > 1 && (
        <figure aria-label="The path of the search">
          <figcaption className="text-xs text-soft">
            Best place after each round, by the mean of all its replications{unit.symbol && `, ${unit.symbol}`}
          </figcaption>
          <ResponsiveContainer height={130}>
            <LineChart data={line} margin={{ top: 6, right: 14, bottom: 0, left: 0 }} accessibilityLayer={false}>
              <CartesianGrid stroke="var(--color-line)" vertical={false} />
              <XAxis dataKey="round" tick={TICK} tickLine={false} stroke="var(--color-ink)" />
              <YAxis
                width={50}
                domain={["auto", "auto"]}
                tick={TICK}
                tickFormatter={(v: number) => formatNumber(v, 3)}
                tickLine={false}
                axisLine={false}
              />
              <Line dataKey="mean" stroke="var(--color-action)" strokeWidth={2} dot={false} isAnimationActive={false} />
            </LineChart>
          </ResponsiveContainer>
        </figure>
      )}
      <table className="mt-2 border-separate border-spacing-x-4 border-spacing-y-0.5" data-search={id}>
        <thead className="text-left text-xs text-soft [&_th]:font-normal">
          <tr>
            <th>Place</th>
            <th className="text-right">Replications</th>
            <th className="text-right">
              {info?.label ?? measure}
              {unit.symbol && `, ${unit.symbol}`}
            </th>
            {bounded !== null && (
              <th className="text-right">
                {boundInfo?.label ?? bounded}
                {boundUnit.symbol && `, ${boundUnit.symbol}`}
              </th>
            )}
            <th />
          </tr>
        </thead>
        <tbody>
          {order.slice(0, MOST_SHOWN).map(({ point, i, interval, limited }) => (
            <tr key={point.id} className={i === best ? "font-semibold" : ""}>
              <td>{point.name}</td>
              <td className="mono text-right">{point.finished}</td>
              <td className="mono text-right">{interval && figures(interval)}</td>
              {bounded !== null && <td className="mono text-right">{limited && figures(limited)}</td>}
              <td className="text-soft">{i === best ? "best" : finalists.includes(i) ? "finalist" : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {order.length > MOST_SHOWN && (
        <p className="pt-1 text-soft">and {order.length - MOST_SHOWN} places that are worse; all are in Measure.</p>
      )}
      <p className="max-w-3xl pt-2 text-xs text-soft">
        Latin hypercube, then adaptive hyperboxes (Xu, Nelson and Hong 2013), then places anywhere; the finalists by
        replications of their own (Kim and Nelson 2001). It finds good places, and cannot promise the best of all. Means
        of different numbers of replications are not to be held against each other: the finalists have seen more.
      </p>
    </section>
  );
}

const figures = ({ mean, halfWidth }: { readonly mean: number; readonly halfWidth: number }): string =>
  Number.isFinite(halfWidth) ? `${formatNumber(mean)} ± ${formatNumber(halfWidth, 2)}` : formatNumber(mean);
