import type { Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { Dialog } from "radix-ui";
import { useRef, useState } from "react";
import { SpreadsheetProblem } from "../tables/spreadsheet/guard.ts";
import { saveSheet } from "../tables/spreadsheet/openSpreadsheet.ts";
import { sheetNameRefusal } from "../tables/spreadsheet/sheetName.ts";
import { announce } from "../ui/announce.ts";
import { saveBlob, XLSX } from "../ui/saveFile.ts";
import { ToggleGroup } from "../ui/ToggleGroup.tsx";
import { runRows } from "./runRows.ts";

type Into = "new" | "clear" | "append";

/** Saves the results of a run on a named sheet: of a new spreadsheet, or of one that a person chooses. */
export default function SheetDialog({ run, study, onClose }: { run: RunSummary; study: Study; onClose: () => void }) {
  const [sheet, setSheet] = useState("Results");
  const [into, setInto] = useState<Into>("new");
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string>();
  const refusal = sheetNameRefusal(sheet);
  const chosen = useRef<HTMLInputElement>(null);
  const save = async (file: File | undefined) => {
    setProblem(undefined);
    setBusy(true);
    try {
      const { head, rows } = await runRows(run, study.units, study.run.level);
      // Runs on one sheet are told apart by their number and design.
      const bytes = await saveSheet(file && new Uint8Array(await file.arrayBuffer()), {
        sheet: sheet.trim(),
        head: ["Run", "Design", "Seed", ...head],
        rows: rows.map((row) => [run.number, run.designName, run.settings.seed, ...row]),
        mode: into === "append" ? "append" : "clear",
      });
      saveBlob(file?.name ?? `${study.name}, run ${run.number}.xlsx`, new Blob([bytes], { type: XLSX }));
      announce(`Run ${run.number} is on the sheet ${sheet.trim()}.`);
      onClose();
    } catch (error) {
      const hint = error instanceof SpreadsheetProblem ? ` ${error.hint}` : "";
      setProblem(`${error instanceof Error ? error.message : String(error)}${hint}`);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="sheet-dialog"
          className="panel float fixed top-[18vh] left-1/2 z-50 w-[min(520px,92vw)] -translate-x-1/2 p-5"
        >
          <Dialog.Title className="pb-2 text-base">Run {run.number} as a spreadsheet</Dialog.Title>
          <form
            onSubmit={(event) => {
              event.preventDefault();
              if (refusal !== undefined || busy) return;
              if (into === "new") void save(undefined);
              else chosen.current?.click();
            }}
          >
            <ToggleGroup
              label="Where it goes"
              value={into}
              options={[
                ["new", "A new file"],
                ["clear", "Replace a sheet"],
                ["append", "Add to a sheet"],
              ]}
              onChange={setInto}
            />
            <label className="block pt-3">
              <span className="text-soft">Sheet</span>
              <input
                aria-label="Sheet"
                aria-invalid={refusal !== undefined}
                className="field mt-1"
                value={sheet}
                onChange={(event) => setSheet(event.target.value)}
              />
            </label>
            <p className="pt-1 text-xs text-soft">
              {refusal ??
                {
                  new: "A spreadsheet with this one sheet.",
                  clear: "Choose a spreadsheet: what stands on this sheet gives way, its other sheets stay.",
                  append: "Choose a spreadsheet: the rows go below what stands on this sheet.",
                }[into]}
            </p>
            {problem && (
              <p role="alert" className="pt-2 text-buoy-deep">
                {problem}
              </p>
            )}
            <input
              ref={chosen}
              type="file"
              accept=".xlsx"
              className="hidden"
              data-testid="sheet-file"
              onChange={(event) => {
                const [file] = event.target.files ?? [];
                event.target.value = "";
                if (file) void save(file);
              }}
            />
            <div className="flex justify-end gap-2 pt-4">
              <button type="button" className="button" onClick={onClose}>
                Close
              </button>
              <button className="button button-main" disabled={refusal !== undefined || busy}>
                {busy ? "Saving …" : into === "new" ? "Save" : "Choose the file …"}
              </button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
