import { changesSince, readStudy, type Study } from "@busy-harbor/core";
import { scenarioStudy } from "@busy-harbor/core/experiments";
import type { RunSummary } from "@busy-harbor/core/contract";
import { Popover } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client.ts";
import { announce } from "../ui/announce.ts";

/** Differences that are listed; of more their number is told. */
const MOST = 40;

/** Says that a run does not match what stands in the study now, and lists in what. */
export function Since({ run, study }: { run: RunSummary; study: Study }) {
  const [found, setFound] = useState<readonly string[]>();
  const [problem, setProblem] = useState<string>();
  const [isOpening, setIsOpening] = useState(false);
  const navigate = useNavigate();
  const open = async () => {
    setIsOpening(true);
    try {
      const made = readStudy(await api.studyOf(run.id));
      if (!made.ok) throw new Error("What the run was made with cannot be read by this version.");
      const name = `${made.study.name}, run ${run.number}`;
      const { id } = await api.openFile({ ...made.study, name });
      await navigate(`/study/${id}/build`);
    } catch (error) {
      announce(error instanceof Error ? error.message : String(error), true);
    } finally {
      setIsOpening(false);
    }
  };
  const look = async () => {
    setFound(undefined);
    setProblem(undefined);
    try {
      const then = readStudy(await api.studyOf(run.id));
      if (!then.ok) throw new Error("What the run was made with cannot be read by this version.");
      setFound(changesSince(then.study, nowOf(run, study), run.designId));
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Popover.Root onOpenChange={(open) => open && void look()}>
      <Popover.Trigger
        className="rounded-full border border-buoy px-2.5 text-xs text-buoy-deep hover:bg-warn"
        data-tip="The design or the settings have changed since; the run is kept as it was. Click: in what"
        data-testid="out-of-date"
      >
        out of date
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="panel float z-40 max-h-(--radix-popover-content-available-height) w-[min(460px,92vw)] overflow-y-auto p-4"
          data-testid="since"
        >
          <h2 className="pb-1 font-semibold">Changed since this run</h2>
          {problem && (
            <p role="alert" className="text-buoy-deep">
              {problem}
            </p>
          )}
          {!problem && !found && <p className="text-soft">Looking …</p>}
          {found?.length === 0 && (
            <p className="text-soft">Only what no sentence tells, such as the order of things.</p>
          )}
          <ul className="list-disc pl-5">
            {found?.slice(0, MOST).map((sentence, i) => (
              <li key={i}>{sentence}</li>
            ))}
          </ul>
          {found && found.length > MOST && <p className="pt-1 text-soft">And {found.length - MOST} more.</p>}
          <button className="button mt-3" disabled={isOpening} onClick={() => void open()}>
            Open it as it was, as a study of its own
          </button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The study as the run would be made with it now: as its scenario has it, where it is of one. */
function nowOf({ plan, scenario }: RunSummary, study: Study): Study {
  const experiment = study.experiments?.find(({ id }) => id === plan);
  const row = experiment?.scenarios.find(({ id }) => id === scenario);
  if (!experiment || !row) return study;
  const applied = scenarioStudy(study, experiment, row);
  return applied.ok ? applied.study : study;
}
