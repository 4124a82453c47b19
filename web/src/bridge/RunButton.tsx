import { fingerprint } from "@busy-harbor/core";
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { runsOfDesigns, useRuns } from "../state/runs.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { runShownDesign } from "./runShownDesign.ts";

/** Starts a run of the design on screen, and shows how far it is. */
export function RunButton() {
  const all = useRuns((s) => s.runs);
  const runs = useMemo(() => runsOfDesigns(all), [all]);
  const design = useDesign();
  const study = useStudy((s) => s.history?.present);
  const studyId = useStudy((s) => s.id);
  const navigate = useNavigate();
  if (!design || !study) return null;
  const active = runs.find((r) => (r.state === "running" || r.state === "queued") && r.designId === design.id);
  const latest = runs.find((r) => r.designId === design.id && r.state === "done");
  const stale = latest !== undefined && latest.fingerprint !== fingerprint(design, study.run, study);
  if (active) {
    const share = active.finished / active.settings.replications;
    return (
      <button
        className="button relative w-32 shrink-0 justify-center overflow-hidden"
        data-testid="run"
        onClick={() => void navigate(`/study/${studyId}/measure`)}
      >
        <span className="absolute inset-y-0 left-0 bg-water" style={{ width: `${share * 100}%` }} />
        <span className="relative tabular-nums">
          {active.state === "queued" ? "Waiting" : `${active.finished} of ${active.settings.replications}`}
        </span>
      </button>
    );
  }
  return (
    <button
      className="button button-main shrink-0"
      data-testid="run"
      data-tip={stale ? "The design has changed since its latest run" : "Run replications of this design"}
      onClick={() => void runShownDesign(navigate)}
    >
      {study.run.precision ? "Run to precision" : `Run ${study.run.replications}`}
      {stale ? " again" : ""}
    </button>
  );
}
