import { useState } from "react";
import { useGoToProblem } from "../build/goToProblem.ts";
import { ProblemList } from "../build/ProblemList.tsx";
import { useCompiled } from "../state/compiled.ts";
import { runsOfDesigns, useRuns } from "../state/runs.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { SidePane } from "../ui/SidePane.tsx";
import { RunHistory } from "./RunHistory.tsx";
import { RunReading } from "./RunReading.tsx";
import { RunSettingsForm } from "./RunSettingsForm.tsx";

/** The Measure stage: settings and history of runs on the left, the reading of one run on the right. */
export function Measure() {
  const study = useStudy((s) => s.history?.present);
  const design = useDesign();
  const compilation = useCompiled();
  const { runs, refusal } = useRuns();
  const [chosen, setChosen] = useState<string>();
  const go = useGoToProblem();
  if (!study || !design) return null;
  const run = runs.find((r) => r.id === chosen) ?? runsOfDesigns(runs).find((r) => r.designId === design.id) ?? runs[0];
  return (
    <SidePane
      id="measure"
      pane={
        <aside className="min-w-0 grow overflow-y-auto border-r border-line bg-sheet p-4">
          <h2 className="caps pb-1">Run settings</h2>
          <RunSettingsForm study={study} problems={compilation?.problems ?? []} />
          <h2 className="caps pt-5 pb-1">Runs</h2>
          {runs.length === 0 && <p className="text-soft">None yet. Run starts replications of {design.name}.</p>}
          <RunHistory runs={runs} study={study} shown={run?.id} onShow={setChosen} />
        </aside>
      }
    >
      <main className="relative min-w-0 grow overflow-y-auto p-6">
        {refusal && refusal.problems.length > 0 && (
          <div role="alert" className="max-w-2xl pb-3">
            <p className="pb-1 font-semibold">{refusal.message}</p>
            <ProblemList problems={refusal.problems} onGo={go} />
          </div>
        )}
        {run ? (
          <RunReading key={run.id} run={run} study={study} onShow={setChosen} />
        ) : (
          <NoRun runnable={compilation?.program !== undefined} />
        )}
      </main>
    </SidePane>
  );
}

function NoRun({ runnable }: { runnable: boolean }) {
  return (
    <div className="flex h-full flex-col items-center justify-center pb-24 text-center">
      <h2 className="pb-2 text-lg">Nothing has been run yet</h2>
      <p className="max-w-md text-soft">
        {runnable
          ? "Run, at the top right, starts replications in the background and shows every measure with its interval."
          : "The design has problems: its card in Build lists them."}
      </p>
    </div>
  );
}
