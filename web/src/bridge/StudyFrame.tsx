import { useEffect } from "react";
import { Link, Outlet, useParams } from "react-router";
import { useRuns } from "../state/runs.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { BridgeBar } from "./BridgeBar.tsx";
import { Conflict } from "./Conflict.tsx";

/** The frame of every stage of a study: loads it, keeps it saved, and shows the bridge bar. */
export function StudyFrame() {
  const { id = "" } = useParams();
  const { load, loadProblem, history, id: loaded } = useStudy();
  const follow = useRuns((s) => s.follow);

  useEffect(() => {
    void load(id);
    return follow(id);
  }, [id, load, follow]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey)) return;
      const key = event.key.toLowerCase();
      const { undo, redo, history: now, flush } = useStudy.getState();
      if (key === "z" || key === "y") {
        event.preventDefault();
        const again = key === "y" || event.shiftKey;
        const step = again ? now?.future[0] : now?.past.at(-1);
        if (!step) return announce(again ? "Nothing to redo." : "Nothing to undo.");
        (again ? redo : undo)();
        announce(`${again ? "Redone" : "Undone"}: ${step.name.toLowerCase()}.`);
      } else if (key === "s") {
        event.preventDefault();
        void flush();
      }
    };
    const leave = () => void useStudy.getState().flush();
    window.addEventListener("keydown", keys);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("keydown", keys);
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, []);

  if (loadProblem) {
    return (
      <main className="mx-auto max-w-xl p-10">
        <h1 className="pb-2 text-xl">This study cannot be shown</h1>
        <p className="pb-4 text-base text-soft">{loadProblem}</p>
        <Link className="button" to="/">To the studies</Link>
      </main>
    );
  }
  if (!history || loaded !== id) return <p className="p-8 text-soft">Opening the study …</p>;
  return (
    <div className="flex h-full min-w-[1024px] flex-col">
      <BridgeBar />
      <Conflict />
      <Outlet />
    </div>
  );
}
