import type { Design } from "@busy-harbor/core";
import { Dialog } from "radix-ui";
import { useEffect, useMemo, useState } from "react";
import type { GridColumn } from "../../grid/column.ts";
import { Grid } from "../../grid/Grid.tsx";
import { useGrid } from "../../grid/useGrid.ts";
import { useStudy } from "../../state/study.ts";
import { announce } from "../../ui/announce.ts";
import { type RowChange, sayChanges } from "./changes.ts";
import { type Fetched, fetchLinked, type Linked, sayFile } from "./fetchLinked.ts";
import { putRefreshed } from "./putRefreshed.ts";

/** What the files of linked tables would change, row by row, before it is taken in. */
export default function RefreshDialog({
  tables,
  design,
  onClose,
}: {
  tables: readonly Linked[];
  design: Design;
  onClose: () => void;
}) {
  const [fetched, setFetched] = useState<readonly Fetched[]>();
  // What is read is what the tables were when it was asked for.
  const [asked] = useState(tables);
  useEffect(() => {
    const abort = new AbortController();
    void (async () => {
      const found: Fetched[] = [];
      // One after the other: each may ask for its file.
      for (const table of asked) found.push(await fetchLinked(table, abort.signal));
      if (!abort.signal.aborted) setFetched(found);
    })();
    return () => abort.abort();
  }, [asked]);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="refresh"
          className="panel float fixed top-[8vh] left-1/2 z-50 flex h-[min(620px,84vh)] w-[min(900px,94vw)] -translate-x-1/2 flex-col gap-2 p-5"
        >
          <Dialog.Title className="text-base">What would change</Dialog.Title>
          {fetched ? (
            <Found fetched={fetched} design={design} onClose={onClose} />
          ) : (
            <p role="status" className="flex grow items-center gap-3 text-soft">
              Reading {asked.map(({ link }) => sayFile(link)).join("; ")} …
              <button className="button" onClick={onClose}>
                Stop
              </button>
            </p>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

interface Line extends RowChange {
  readonly id: string;
  readonly table: string;
}

const WHAT: Readonly<Record<RowChange["what"], string>> = { new: "new row", gone: "row gone", changed: "changed" };
const lineId = ({ id }: Line) => id;
const COLUMNS: readonly GridColumn<Line>[] = [
  { id: "table", label: "Table", width: 120, read: (line) => line.table },
  { id: "row", label: "Row", width: 130, read: (line) => line.row },
  { id: "what", label: "What", width: 90, read: (line) => WHAT[line.what] },
  { id: "column", label: "Column", width: 130, read: (line) => line.column },
  { id: "was", label: "Was", width: 250, mono: true, read: (line) => line.was },
  { id: "becomes", label: "Becomes", width: 250, mono: true, read: (line) => line.becomes },
];

function Found({ fetched, design, onClose }: { fetched: readonly Fetched[]; design: Design; onClose: () => void }) {
  const lines = useMemo(
    () =>
      fetched.flatMap((one) =>
        one.ok
          ? one.changes.map((change, i): Line => ({ ...change, id: `${one.before.id} ${i}`, table: one.before.name }))
          : [],
      ),
    [fetched],
  );
  const columns = useMemo(() => (fetched.length > 1 ? COLUMNS : COLUMNS.slice(1)), [fetched.length]);
  const model = useGrid({ id: "refresh", rows: lines, columns, rowId: lineId, filter: "" });
  const canTake = fetched.some((one) => one.ok && one.changes.length > 0);
  const take = () => {
    const taken = fetched.filter((one) => one.ok);
    putRefreshed(taken.length === 1 ? `Refresh ${taken[0].before.name}` : "Refresh linked tables", taken, design.id);
    announce(`Taken in: ${taken.map((one) => `${one.before.name}, ${sayChanges(one.changes)}`).join("; ")}.`, false, {
      label: "Undo",
      run: useStudy.getState().undo,
    });
    onClose();
  };
  return (
    <>
      <ul className="max-h-[30%] shrink-0 overflow-auto">
        {fetched.map((one) => (
          <li key={one.before.id} className="py-0.5">
            <strong>{one.before.name}</strong> <span className="text-soft">from {sayFile(one.before.link)}: </span>
            {one.ok ? sayChanges(one.changes) : <span className="text-buoy-deep">{one.message}</span>}
            {one.ok && one.missing.length > 0 && (
              <span className="text-buoy-deep">
                {" "}
                The file has no column {one.missing.join(", ")} any more: those cells stay as they are.
              </span>
            )}
            {one.ok && one.unused.length > 0 && (
              <span className="text-soft"> Left out: {one.unused.join(", ")}, which go nowhere.</span>
            )}
          </li>
        ))}
      </ul>
      <div className="flex min-h-0 grow flex-col rounded-md border border-line">
        <Grid model={model} label="What would change" testId="refresh-grid" empty="Nothing has changed." />
      </div>
      <div className="flex justify-end gap-2 pt-1">
        <button className="button" onClick={onClose}>
          {canTake ? "Leave as it is" : "Close"}
        </button>
        {canTake && (
          <button autoFocus className="button button-main" onClick={take}>
            Take in
          </button>
        )}
      </div>
    </>
  );
}
