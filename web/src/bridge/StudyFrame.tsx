import { useCallback, useEffect } from "react";
import { Link, Outlet, useNavigate, useParams } from "react-router";
import { useRuns } from "../state/runs.ts";
import { useStudy } from "../state/study.ts";
import { useCommandKeys, useOffer } from "../commands/commandStore.ts";
import { KeySheet } from "../commands/KeySheet.tsx";
import { Palette } from "../commands/Palette.tsx";
import { followKeys } from "../experiments/placeAtHand.ts";
import { BridgeBar } from "./BridgeBar.tsx";
import { Conflict } from "./Conflict.tsx";
import { studyCommands } from "./studyCommands.ts";

/** The frame of every stage of a study: loads it, keeps it saved, and shows the bridge bar. */
export function StudyFrame() {
  const { id = "" } = useParams();
  const { load, loadProblem, history, id: loaded, save, saveProblem } = useStudy();
  const follow = useRuns((s) => s.follow);
  const navigate = useNavigate();

  useEffect(() => {
    void load(id);
    return follow(id);
  }, [id, load, follow]);

  useEffect(() => {
    const leave = () => void useStudy.getState().flush();
    // What could not be saved yet is kept in this browser, but nobody should find that out elsewhere.
    const warn = (event: BeforeUnloadEvent) => {
      if (useStudy.getState().save === "saved") return;
      leave();
      event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("beforeunload", warn);
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, []);

  useEffect(followKeys, []);
  useCommandKeys();
  useOffer(useCallback(() => studyCommands(navigate), [navigate]));

  if (loadProblem) {
    return (
      <main className="mx-auto max-w-xl p-10">
        <h1 className="pb-2 text-xl">This study cannot be shown</h1>
        <p className="pb-4 text-base text-soft">{loadProblem}</p>
        <Link className="button" to="/">
          To the studies
        </Link>
      </main>
    );
  }
  if (!history || loaded !== id) return <p className="p-8 text-soft">Opening the study …</p>;
  return (
    <div className="flex h-full min-w-[1024px] flex-col">
      <BridgeBar />
      <Conflict />
      {save === "held" && (
        <p role="alert" className="border-b border-buoy bg-warn px-4 py-2" data-testid="save-held">
          <strong>Your changes are not saved yet.</strong> {saveProblem} They are kept in this browser meanwhile.
        </p>
      )}
      <Outlet />
      <Palette />
      <KeySheet />
    </div>
  );
}
