import { COUNTED_IN, type Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { ChevronDown, ChevronRight } from "lucide-react";
import { useState } from "react";
import { outOfDate } from "./outOfDate.ts";

/** All runs of a study, the latest first; one of them is shown. */
export function RunHistory({
  runs,
  study,
  shown,
  onShow,
}: {
  runs: readonly RunSummary[];
  study: Study;
  shown: string | undefined;
  onShow: (id: string) => void;
}) {
  return (
    <ul className="-mx-2" data-testid="run-history">
      {historyOf(runs).map((entry) =>
        entry[0].plan === "" ? (
          <RunItem key={entry[0].id} run={entry[0]} study={study} isShown={entry[0].id === shown} onShow={onShow} />
        ) : (
          <Scenarios key={entry[0].experimentId} runs={entry} study={study} shown={shown} onShow={onShow} />
        ),
      )}
    </ul>
  );
}

/** Runs by what was started at once: scenarios of an experiment stand together. */
function historyOf(runs: readonly RunSummary[]): readonly (readonly RunSummary[])[] {
  const entries = new Map<string, RunSummary[]>();
  for (const run of runs) {
    const key = run.plan === "" ? run.id : run.experimentId;
    const entry = entries.get(key);
    if (entry) entry.push(run);
    else entries.set(key, [run]);
  }
  return [...entries.values()];
}

/** Scenarios that were started together, folded into one entry. */
function Scenarios({
  runs,
  study,
  shown,
  onShow,
}: {
  runs: readonly RunSummary[];
  study: Study;
  shown: string | undefined;
  onShow: (id: string) => void;
}) {
  const holdsShown = runs.some(({ id }) => id === shown);
  const [open, setOpen] = useState(holdsShown);
  const [{ number, plan, createdAt }] = runs;
  const name = study.experiments?.find(({ id }) => id === plan)?.name ?? "a deleted experiment";
  const going = runs.filter(({ state }) => state === "running" || state === "queued").length;
  return (
    <li>
      <button
        className={`w-full rounded-lg px-2 py-1.5 text-left ${holdsShown && !open ? "bg-water" : "hover:bg-paper"}`}
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <span className="flex items-center gap-1 font-medium">
          {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />} Run {number} · {name}
        </span>
        <span className="text-xs text-soft">
          {runs.length} {runs[0].scenario === "" ? "places of a search" : `scenario${runs.length === 1 ? "" : "s"}`}
          {going > 0 && `, ${going} under way`} · {timeOf(createdAt)}
        </span>
      </button>
      {open && (
        <ul className="ml-4 border-l border-line pl-1">
          {runs.map((run) => (
            <RunItem key={run.id} run={run} study={study} isShown={run.id === shown} onShow={onShow} />
          ))}
        </ul>
      )}
    </li>
  );
}

const timeOf = (at: string): string => new Date(at).toLocaleTimeString("en-GB", { hour: "numeric", minute: "2-digit" });

function RunItem({
  run,
  study,
  isShown,
  onShow,
}: {
  run: RunSummary;
  study: Study;
  isShown: boolean;
  onShow: (id: string) => void;
}) {
  const { id, number, name, designName, plan, createdAt } = run;
  return (
    <li>
      <button
        className={`w-full rounded-lg px-2 py-1.5 text-left ${isShown ? "bg-water" : "hover:bg-paper"}`}
        aria-current={isShown}
        onClick={() => onShow(id)}
      >
        <span className="block font-medium">
          {plan === "" ? `Run ${number} · ` : ""}
          {name || designName}
        </span>
        <span className="text-xs text-soft">
          {name ? `${designName} · ` : ""}
          {stateWords(run)}
          {plan === "" && ` · ${timeOf(createdAt)}`}
          {outOfDate(run, study) ? " · out of date" : ""}
        </span>
      </button>
    </li>
  );
}

const stateWords = (run: RunSummary): string =>
  run.held
    ? `held at ${run.finished}`
    : {
        queued: "waiting",
        running: `${run.finished} of ${run.settings.replications}`,
        done: `${run.finished} ${COUNTED_IN[run.settings.kind][1]}`,
        cancelled: `stopped at ${run.finished}`,
        failed: "stopped by a problem",
      }[run.state];
