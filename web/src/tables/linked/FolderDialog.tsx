import type { Folder } from "@busy-harbor/core/contract";
import { formatNumber } from "@busy-harbor/core";
import { format } from "date-fns";
import { FileSpreadsheet } from "lucide-react";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { api } from "../../api/client.ts";

/** Lets a person choose a file of the folders that the server may read. */
export default function FolderDialog({
  onChoose,
  onClose,
}: {
  onChoose: (file: { readonly folder: string; readonly path: string }) => void;
  onClose: () => void;
}) {
  const [folders, setFolders] = useState<readonly Folder[]>();
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    let isOpen = true;
    api.folders().then(
      (found) => isOpen && setFolders(found),
      (error: unknown) => isOpen && setProblem(error instanceof Error ? error.message : String(error)),
    );
    return () => void (isOpen = false);
  }, []);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="folders"
          className="panel float fixed top-[12vh] left-1/2 z-50 max-h-[76vh] w-[min(620px,92vw)] -translate-x-1/2 overflow-auto p-5"
        >
          <Dialog.Title className="pb-2 text-base">Link to a file</Dialog.Title>
          {problem && <p className="text-buoy-deep">{problem}</p>}
          {!folders && !problem && <p className="text-soft">Looking …</p>}
          {folders?.map((folder) => (
            <section key={folder.name} className="pb-3">
              <h3 className="caps pb-1">{folder.name}</h3>
              <p className="pb-1 text-xs wrap-anywhere text-soft">{folder.path}</p>
              {folder.files.length === 0 && (
                <p className="text-soft">No XLSX, CSV, TSV or TXT file is there. Put one into the folder.</p>
              )}
              <ul>
                {folder.files.map(({ path, bytes, changedAt }) => (
                  <li key={path}>
                    <button
                      className="flex w-full items-center gap-2 rounded-md px-2 py-1 text-left hover:bg-water"
                      onClick={() => onChoose({ folder: folder.name, path })}
                    >
                      <FileSpreadsheet size={14} className="shrink-0 text-soft" />
                      <span className="min-w-0 grow truncate">{path}</span>
                      <span className="shrink-0 text-xs text-soft tabular-nums">{sizeOf(bytes)}</span>
                      <span className="shrink-0 text-xs text-soft tabular-nums">
                        {format(changedAt, "d MMM yyyy, HH:mm")}
                      </span>
                    </button>
                  </li>
                ))}
              </ul>
            </section>
          ))}
          <p className="pt-1 text-xs text-soft">
            The server reads spreadsheets and texts of these folders only. Others are named in HARBOR_FOLDERS when Busy
            Harbor is started.
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const sizeOf = (bytes: number): string =>
  bytes < 1e6 ? `${formatNumber(Math.max(0.1, bytes / 1000), 2)} kB` : `${formatNumber(bytes / 1e6, 2)} MB`;
