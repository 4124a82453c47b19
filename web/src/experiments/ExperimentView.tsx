import type { ExperimentPlan, Study } from "@busy-harbor/core";
import { factorWords } from "@busy-harbor/core/experiments";
import { useEffect, useMemo } from "react";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { SidePane } from "../ui/SidePane.tsx";
import { ExperimentEditor } from "./ExperimentEditor.tsx";
import { ExperimentList, useChosenExperiment } from "./ExperimentList.tsx";
import { ExperimentPane } from "./ExperimentPane.tsx";
import { useAtHand } from "./placeAtHand.ts";
import { responsesOf } from "./rows.ts";
import { useMeasures } from "./useMeasures.ts";

/** One experiment, with all that can be compared at its left. */
export function ExperimentView({ study, experiment }: { study: Study; experiment: ExperimentPlan }) {
  const { show } = useChosenExperiment(study);
  useEffect(() => useAtHand.setState({ experiment: experiment.id }), [experiment.id]);
  const factors = useMemo(() => factorWords(study, experiment), [study, experiment]);
  const measures = useMeasures(study, experiment);
  const { frame, units } = study;
  const responses = useMemo(
    () => responsesOf({ ...study, frame, units }, experiment, measures),
    // Edits of other parts change no response.
    // eslint-disable-next-line react-hooks/exhaustive-deps -- as said
    [frame, units, experiment.measures, measures],
  );
  const remove = () => {
    useStudy.getState().change(`Delete ${experiment.name}`, (s) => {
      s.experiments = s.experiments?.filter(({ id }) => id !== experiment.id);
    });
    show(undefined);
    announce(`${experiment.name} is deleted; its runs stay in Measure.`, false, {
      label: "Undo",
      run: () => useStudy.getState().undo(),
    });
  };
  return (
    <SidePane
      id="compare"
      pane={
        <aside className="min-w-0 grow overflow-y-auto border-r border-line bg-sheet p-4">
          <ExperimentList study={study} />
          <ExperimentPane
            study={study}
            experiment={experiment}
            factors={factors}
            responses={responses}
            measures={measures}
          />
          <button className="button mt-6" onClick={remove}>
            Delete this experiment
          </button>
        </aside>
      }
    >
      <ExperimentEditor
        key={experiment.id}
        study={study}
        experiment={experiment}
        factors={factors}
        responses={responses}
      />
    </SidePane>
  );
}
