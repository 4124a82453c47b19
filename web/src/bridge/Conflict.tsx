import { useMemo, useState } from "react";
import { useStudy } from "../state/study.ts";
import { studyDifferences } from "../state/studyDifferences.ts";
import { announce } from "../ui/announce.ts";

/**
 * Says that the study was changed elsewhere, shows how the two versions differ, and lets the person decide; neither
 * version is lost.
 */
export function Conflict() {
  const { conflict, history, keepMine, takeTheirs, keepBoth } = useStudy();
  const [open, setOpen] = useState(false);
  const mine = history?.present;
  const found = useMemo(
    () => (conflict && mine && open ? studyDifferences(conflict.study, mine) : []),
    [conflict, mine, open],
  );
  if (!conflict || !mine) return null;
  const both = () =>
    void keepBoth().then(
      (id) => id && announce("Your version is a study of its own now, on the home page.", false),
      (error: unknown) => announce(error instanceof Error ? error.message : String(error), true),
    );
  return (
    <div role="alert" className="border-b border-buoy bg-warn px-4 py-2" data-testid="conflict">
      <div className="flex flex-wrap items-center gap-2">
        <p className="w-full">
          <strong>This study was changed elsewhere</strong>, in another tab or window, to revision {conflict.revision}.
          Your changes are not saved yet.
        </p>
        <button className="button" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Hide the differences" : "Show the differences"}
        </button>
        <button className="button" onClick={() => void keepMine()}>
          Save mine over it
        </button>
        <button className="button" onClick={takeTheirs}>
          Take the other (undo brings mine back)
        </button>
        <button className="button" onClick={both}>
          Keep both (mine as a study of its own)
        </button>
      </div>
      {open && (
        <div className="max-h-60 overflow-y-auto pt-2">
          <h2 className="font-semibold">Yours, against the other</h2>
          {found.length === 0 ? (
            <p className="text-soft">They differ in nothing that can be put in words.</p>
          ) : (
            <ul className="list-disc pl-5" data-testid="conflict-differences">
              {found.map((sentence, i) => (
                <li key={i}>{sentence}</li>
              ))}
            </ul>
          )}
        </div>
      )}
    </div>
  );
}
