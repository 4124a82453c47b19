import { useStudy } from "../state/study.ts";

/** Says that the study was changed elsewhere, and lets the person decide; neither version is lost. */
export function Conflict() {
  const { conflict, keepMine, takeTheirs } = useStudy();
  if (!conflict) return null;
  return (
    <div role="alert" className="flex items-center gap-3 border-b border-buoy bg-warn px-4 py-2">
      <p className="grow">
        <strong>This study was changed elsewhere</strong>, in another tab or window, to revision {conflict.revision}. Your changes are not saved yet.
      </p>
      <button className="button" onClick={() => void keepMine()}>Save mine over it</button>
      <button className="button" onClick={takeTheirs}>Take the other (undo brings mine back)</button>
    </div>
  );
}
