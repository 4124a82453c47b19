import type { NavigateFunction } from "react-router";
import { useRuns } from "../state/runs.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";

/** Starts a run of the design on screen and goes to where it is read; says why when it cannot. */
export async function runShownDesign(navigate: NavigateFunction): Promise<void> {
  const { id, designId } = useStudy.getState();
  void navigate(`/study/${id}/measure`);
  const started = await useRuns.getState().start(designId);
  if (!started) announce(useRuns.getState().refusal?.message ?? "The run could not be started.", true);
}
