import {
  definitionOf,
  type ExperimentPlan,
  factorSchema,
  kindOf,
  type MeasureInfo,
  occurrencesOf,
  type Study,
} from "@busy-harbor/core";
import { type Path, valueIn, wordsOfValue } from "@busy-harbor/core/experiments";
import { Plus, X } from "lucide-react";
import { useMemo } from "react";
import { KeptInput } from "../build/fields.tsx";
import { newId } from "../state/edits.ts";
import { SearchedChoice } from "../ui/SearchedChoice.tsx";
import { SortableList } from "../ui/SortableList.tsx";
import { moved } from "../ui/sorting.ts";
import type { ToldFactor } from "./columns.tsx";
import { editExperiment, factorAt } from "./edits.ts";
import { type Response, titleOf } from "./rows.ts";

/** The factors and responses of an experiment. */
export function ExperimentPane({
  study,
  experiment,
  factors,
  responses,
  measures,
}: {
  study: Study;
  experiment: ExperimentPlan;
  factors: readonly ToldFactor[];
  responses: readonly Response[];
  measures: readonly MeasureInfo[];
}) {
  const { id } = experiment;
  return (
    <>
      <h2 className="caps pb-1">Factors</h2>
      {factors.length === 0 && (
        <p className="pb-2 text-soft">
          None yet. Add one here, or point at the name of any setting in Build and use it as a factor.
        </p>
      )}
      <div className="-mx-2 pb-1">
        <SortableList
          ids={factors.map(({ factor }) => factor.id)}
          nameOf={(of) => factors.find(({ factor }) => factor.id === of)?.title ?? "factor"}
          onMove={(from, to) => editExperiment(id, "Move factor", (e) => void (e.factors = moved(e.factors, from, to)))}
        >
          {(_id, i, grip) =>
            factors[i] && (
              <FactorRow
                key={factors[i].factor.id}
                study={study}
                told={factors[i]}
                experiment={experiment}
                grip={grip}
              />
            )
          }
        </SortableList>
      </div>
      <AddFactor study={study} experiment={experiment} />
      <h2 className="caps pt-4 pb-1">Responses</h2>
      <ul className="pb-2">
        {responses.map((response) => (
          <li key={response.key} className="flex items-start justify-between gap-2 py-1">
            <span data-tip={response.info && definitionOf(response.info)}>
              {titleOf(response)}
              <span className="block text-xs text-soft">
                {[response.unit.symbol, `${response.better} is better`].filter(Boolean).join(" · ")}
                {response.decides ? " · decides" : ""}
              </span>
            </span>
            {!response.decides && (
              <button
                className="pt-0.5 text-soft"
                aria-label={`Take ${titleOf(response)} out`}
                onClick={() =>
                  editExperiment(
                    id,
                    "Take response out",
                    (e) => void (e.measures = e.measures.filter((key) => key !== response.key)),
                  )
                }
              >
                <X size={13} />
              </button>
            )}
          </li>
        ))}
      </ul>
      <SearchedChoice
        label="Add a response"
        options={measures
          .filter(({ key }) => !responses.some((r) => r.key === key))
          .map(({ key, label, owner }) => ({ value: key, label, under: owner }))}
        onChoose={(key) => editExperiment(id, "Add response", (e) => void e.measures.push(key))}
      >
        <Plus size={14} /> Response
      </SearchedChoice>
    </>
  );
}

const readName = (text: string): string | undefined => (text.trim().length <= 80 ? text.trim() : undefined);

function FactorRow({
  study,
  told,
  experiment,
  grip,
}: {
  study: Study;
  told: ToldFactor;
  experiment: ExperimentPlan;
  grip: React.ReactNode;
}) {
  const { factor, title, owner, label } = told;
  const levels = [...new Set(experiment.scenarios.map((s) => wordsOfValue(told, valueIn(study, factor, s))))].join(
    ", ",
  );
  const own = [owner, label].filter(Boolean).join(": ");
  return (
    <div className="flex items-start gap-2 px-2 py-1">
      {grip && <span className="pt-1.5">{grip}</span>}
      <span className="min-w-0 grow">
        <KeptInput
          label={`Name of the factor ${own}`}
          className="w-full"
          mono={false}
          shown={factor.name}
          placeholder={own}
          read={readName}
          wanted="At most 80 characters."
          onChange={(name) =>
            editExperiment(
              experiment.id,
              "Name factor",
              (e) => {
                const one = e.factors.find(({ id }) => id === factor.id);
                if (one) one.name = name;
              },
              `factors/${factor.id}/name`,
            )
          }
        />
        <span className="block truncate text-xs text-soft" data-tip={own} data-tip-cut="">
          {[factor.name && own, levels].filter(Boolean).join(" · ")}
        </span>
      </span>
      <button
        className="pt-1.5 text-soft"
        aria-label={`Take the factor ${title} out`}
        onClick={() =>
          editExperiment(experiment.id, "Take factor out", (e) => {
            e.factors = e.factors.filter(({ id }) => id !== factor.id);
            for (const scenario of e.scenarios) delete scenario.values[factor.id];
          })
        }
      >
        <X size={13} />
      </button>
    </div>
  );
}

/** Settings offered at most: of larger designs they are picked where they stand. */
const MOST_OFFERED = 3000;

/** Chooses any setting of the elements, a variable or a setting of the run. */
function AddFactor({ study, experiment }: { study: Study; experiment: ExperimentPlan }) {
  const options = useMemo(() => offered(study, experiment), [study, experiment]);
  return (
    <SearchedChoice
      label="Add a factor"
      options={options.map(({ path, label, under }) => ({ value: JSON.stringify(path), label, under }))}
      onChoose={(text) => {
        const path = options.find((o) => JSON.stringify(o.path) === text)?.path;
        if (!path) return;
        editExperiment(experiment.id, "Add factor", (e) => {
          if (!factorAt(e, path)) e.factors.push(factorSchema.parse({ id: newId("factor"), at: [...path] }));
        });
      }}
    >
      <Plus size={14} /> Factor
    </SearchedChoice>
  );
}

function offered(study: Study, experiment: ExperimentPlan) {
  const found: { readonly path: Path; readonly label: string; readonly under: string }[] = [];
  for (const { id, name } of study.variables ?? [])
    found.push({ path: ["variables", id, "value"], label: name, under: "Variables" });
  const ids = new Set(experiment.scenarios.map(({ design }) => design));
  const designs = study.designs.filter(({ id }) => ids.has(id));
  const seen = new Set<string>();
  for (const design of designs.length > 0 ? designs : study.designs.slice(0, 1))
    for (const element of design.elements) {
      if (seen.has(element.id) || found.length > MOST_OFFERED) continue;
      seen.add(element.id);
      if (element.family && element.family.table === "")
        found.push({ path: ["elements", element.id, "family", "count"], label: "Members", under: element.name });
      for (const { setting, key, used, value } of occurrencesOf(element, kindOf(element).settings))
        if (used && PICKED.has(setting.form) && value !== undefined)
          found.push({ path: ["elements", element.id, ...key.split(".")], label: setting.label, under: element.name });
    }
  found.push({ path: ["run", "length"], label: "Length", under: "Run settings" });
  found.push({ path: ["run", "warmUp"], label: "Warm-up", under: "Run settings" });
  return found.filter(({ path }) => !factorAt(experiment, path));
}

const PICKED: ReadonlySet<string> = new Set(["expression", "choice", "flag", "reference", "resources"]);
