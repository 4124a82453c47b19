import type { RunSummary } from "@busy-harbor/core/contract";
import { z } from "zod";
import { useRuns } from "../state/runs.ts";
import { useKept } from "../ui/useKept.ts";

const WORDS = z.string();

/** What a person calls a run, and has written beside it: kept when the field is left. */
export function RunNotes({ run }: { run: RunSummary }) {
  const { describe } = useRuns.getState();
  const name = useKept({
    shown: run.name,
    schema: WORDS,
    when: "leaving",
    onChange: (text) => text.trim() !== run.name && void describe(run, { name: text.trim() }),
  });
  const note = useKept({
    shown: run.note,
    schema: WORDS,
    when: "leaving",
    onChange: (text) => text !== run.note && void describe(run, { note: text }),
  });
  return (
    <div className="flex max-w-3xl items-start gap-2 pb-1">
      <input
        className="field w-52! shrink-0"
        aria-label="Name of the run"
        placeholder="Name this run"
        maxLength={120}
        value={name.text}
        onChange={({ target }) => name.onChange(target.value)}
        onBlur={name.onBlur}
      />
      <textarea
        className="field field-sizing-content min-h-[30px] grow resize-none"
        rows={1}
        aria-label="Note beside the run"
        placeholder="A note: why it was run, what it showed"
        maxLength={4000}
        value={note.text}
        onChange={({ target }) => note.onChange(target.value)}
        onBlur={note.onBlur}
      />
    </div>
  );
}
