import type { Design, Table, TableLink } from "@busy-harbor/core";
import { format } from "date-fns";
import { Link2, RefreshCw } from "lucide-react";
import { lazy, Suspense, useState } from "react";
import { Checkbox } from "../../ui/Checkbox.tsx";
import { editTable } from "../edits.ts";
import { type Linked, sayFile } from "./fetchLinked.ts";

const FolderDialog = lazy(() => import("./FolderDialog.tsx"));
const RefreshDialog = lazy(() => import("./RefreshDialog.tsx"));

/** The file that a table's rows come from: what is read of it, and when. */
export function LinkSection({
  table,
  design,
  onFile,
}: {
  table: Table;
  design: Design;
  /** A file was chosen whose rows are to come in. */
  onFile: (file: { readonly folder: string; readonly path: string }) => void;
}) {
  const [choosing, setChoosing] = useState(false);
  const [refreshing, setRefreshing] = useState(false);
  const { link } = table;
  const change = (what: string, part: Partial<TableLink>) =>
    editTable(table.id, what, (t) => {
      if (t.link) Object.assign(t.link, part);
    });
  return (
    <section className="border-t border-line py-2.5" aria-label="Linked file">
      <h3 className="caps pb-1">Linked file</h3>
      {link ? (
        <>
          <p className="wrap-anywhere">{sayFile(link)}</p>
          <p className="pb-1 text-xs text-soft">
            {link.cells !== "" && (link.pinned ? `Cells ${link.cells}. ` : `From ${link.cells.split(":")[0]} on. `)}
            {link.mode === "update" ? "Updates rows of the same key. " : "Takes the place of all rows. "}
            Read {format(link.readAt || new Date(), "d MMM yyyy, HH:mm")}.
          </p>
          {link.cells !== "" && (
            <Checkbox
              checked={link.pinned}
              onChange={(pinned) => change("Pin the cells", { pinned })}
              title="Otherwise the range that begins there is read, as far as it is filled: rows added to the file come too."
            >
              Only cells {link.cells}
            </Checkbox>
          )}
          <Checkbox
            checked={link.atStart}
            disabled={link.folder === ""}
            onChange={(atStart) => change("Read at the start of runs", { atStart })}
            title={
              link.folder === ""
                ? "It is in none of the folders that the server may read, and so has to be chosen each time."
                : "A run uses the file as it is when it starts, and keeps what it read."
            }
          >
            Read anew at the start of a run
          </Checkbox>
          <div className="flex gap-2 pt-1.5">
            <button className="button" onClick={() => setRefreshing(true)}>
              <RefreshCw size={14} /> Refresh …
            </button>
            <button
              className="button"
              onClick={() => editTable(table.id, `Unlink ${table.name}`, (t) => void delete t.link)}
            >
              Unlink
            </button>
          </div>
        </>
      ) : (
        <button className="button" onClick={() => setChoosing(true)}>
          <Link2 size={14} /> Link to a file …
        </button>
      )}
      <Suspense>
        {choosing && (
          <FolderDialog
            onClose={() => setChoosing(false)}
            onChoose={(file) => {
              setChoosing(false);
              onFile(file);
            }}
          />
        )}
        {refreshing && link && (
          <RefreshDialog tables={[table as Linked]} design={design} onClose={() => setRefreshing(false)} />
        )}
      </Suspense>
    </section>
  );
}
