import { Redo2, Undo2 } from "lucide-react";
import { useStudy } from "../state/study.ts";

/** Undo and redo for the pointer, each saying what it would take back. */
export function UndoButtons() {
  const { history, undo, redo } = useStudy();
  const last = history?.past.at(-1)?.name;
  const next = history?.future[0]?.name;
  const undoWords = last ? `Undo: ${last.toLowerCase()} (Ctrl Z)` : "Nothing to undo";
  const redoWords = next ? `Redo: ${next.toLowerCase()} (Ctrl Y)` : "Nothing to redo";
  return (
    <div className="panel flex">
      <button
        className="p-1.5 disabled:text-soft/50"
        aria-label={undoWords}
        data-tip={undoWords}
        disabled={!last}
        onClick={undo}
      >
        <Undo2 size={14} />
      </button>
      <button
        className="p-1.5 disabled:text-soft/50"
        aria-label={redoWords}
        data-tip={redoWords}
        disabled={!next}
        onClick={redo}
      >
        <Redo2 size={14} />
      </button>
    </div>
  );
}
