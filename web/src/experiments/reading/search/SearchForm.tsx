import { type ExperimentPlan, formatNumber, type SearchPlan, type Study, usuallyBetter } from "@busy-harbor/core";
import type { SearchOrNot } from "@busy-harbor/core/experiments";
import { allowedSize } from "@busy-harbor/core/inference";
import { useMemo } from "react";
import { KeptInput } from "../../../build/fields.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { editExperiment } from "../../edits.ts";
import type { useMeasures } from "../../useMeasures.ts";
import type { ReadingProps } from "../ReadingProps.tsx";
import type { EditSearch } from "./editSearch.ts";
import { FactorLimits } from "./FactorLimits.tsx";
import { FurtherMeasures } from "./FurtherMeasures.tsx";

/** Replications of each place with which trying all of them is counted. */
const TO_TRY_ALL = 10;

/** What a search goes through, what it is to find, and with what budget. */
export function SearchForm({
  study,
  experiment,
  plan,
  factors,
  measures,
  read,
  isStarting,
  onStart,
}: {
  study: Study;
  experiment: ExperimentPlan;
  plan: SearchPlan;
  factors: ReadingProps["factors"];
  measures: ReturnType<typeof useMeasures>;
  read: SearchOrNot;
  isStarting: boolean;
  onStart: () => void;
}) {
  const problems = read.ok ? {} : read.problems;
  const edit: EditSearch = (what, recipe, key) =>
    editExperiment(
      experiment.id,
      what,
      (e) => {
        e.search ??= structuredClone(plan);
        recipe(e.search);
      },
      key && `search/${key}`,
    );
  const options = measures.map(({ key, label, owner }) => ({ value: key, label: `${owner}: ${label}` }));
  const settings = read.ok ? read.search.settings : undefined;
  const size = useMemo(() => (settings ? allowedSize(settings) : undefined), [settings]);
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
    <form
      className="panel mb-3 px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault();
        onStart();
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
      <FurtherMeasures
        study={study}
        plan={plan}
        measures={measures}
        options={options}
        problem={problems.also}
        edit={edit}
      />
      <FactorLimits plan={plan} factors={factors} problem={problems.constraints} edit={edit} />
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
        <button className="button button-main ml-auto" disabled={!read.ok || size === 0 || isStarting}>
          Search
        </button>
      </div>
      <p className="pt-2 text-soft" role="status">
        {Object.entries(problems)
          .filter(([key]) => !factors.some(({ factor }) => factor.id === key))
          .map(([, message]) => message)
          .join(" ")}
        {read.ok && (size === undefined ? "Very many places. " : `${formatNumber(size)} places. `)}
        {size === 0 && "The limits forbid all of them."}
        {size !== undefined &&
          size > 0 &&
          size * TO_TRY_ALL <= plan.budget &&
          `Trying all of them with ten replications each is no dearer: make scenarios of all combinations, and ${plan.as === "front" ? "read their efficient front" : "select the best"}.`}
      </p>
    </form>
  );
}

const isBudget = (n: number): boolean => Number.isInteger(n) && n >= 50 && n <= 1_000_000;
