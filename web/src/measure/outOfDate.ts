import { fingerprint, type Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { fingerprintNow } from "../experiments/scenarioRuns.ts";

/** Whether the study's design or settings, or the values of a scenario, have changed since the run. */
export function outOfDate(run: RunSummary, study: Study): boolean {
  // A place of a search is what it is.
  if (run.plan !== "" && run.scenario === "") return false;
  if (run.scenario !== "") {
    const plan = study.experiments?.find(({ id }) => id === run.plan);
    const scenario = plan?.scenarios.find(({ id }) => id === run.scenario);
    return !plan || !scenario || fingerprintNow(study, plan, scenario) !== run.fingerprint;
  }
  const design = study.designs.find((d) => d.id === run.designId);
  return !design || fingerprint(design, study.run, study) !== run.fingerprint;
}
