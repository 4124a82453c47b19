import { type ExperimentPlan, type SearchPlan, searchPlanSchema } from "@busy-harbor/core";
import { readSearch } from "@busy-harbor/core/experiments";
import { useMemo, useState } from "react";
import { useRuns } from "../../../state/runs.ts";
import { announce } from "../../../ui/announce.ts";
import { editExperiment } from "../../edits.ts";
import type { Response } from "../../rows.ts";
import { useMeasures } from "../../useMeasures.ts";
import type { ReadingProps } from "../ReadingProps.tsx";
import { useLatest } from "../useLatest.ts";
import { Found } from "./Found.tsx";
import { SearchForm } from "./SearchForm.tsx";

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
  const start = async () => {
    setStarting(true);
    if (!experiment.search)
      editExperiment(experiment.id, "Plan a search", (e) => void (e.search ??= structuredClone(plan)));
    if (!(await useRuns.getState().startSearch(experiment.id)))
      announce(
        useRuns.getState().refusal?.problems[0]?.message ??
          useRuns.getState().refusal?.message ??
          "The search could not be begun.",
        true,
      );
    setStarting(false);
  };
  return (
    <div data-testid="search">
      <SearchForm
        study={study}
        experiment={experiment}
        plan={plan}
        factors={factors}
        measures={measures}
        read={read}
        isStarting={starting}
        onStart={() => void start()}
      />
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
