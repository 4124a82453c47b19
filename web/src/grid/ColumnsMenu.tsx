import { Columns3, Pin } from "lucide-react";
import { Popover } from "radix-ui";
import { Checkbox } from "../ui/Checkbox.tsx";
import { SortableList } from "../ui/SortableList.tsx";
import { moved } from "../ui/sorting.ts";
import type { GridModel, RowData } from "./useGrid.ts";

/** Which columns are shown, in what order, and which stay at the left. */
export function ColumnsMenu<R extends RowData>({ model: { table, allColumns } }: { model: GridModel<R> }) {
  const nameOf = (id: string) => allColumns.find((c) => c.id === id)?.label ?? id;
  const ids = allColumns.map((c) => c.id);
  return (
    <Popover.Root>
      <Popover.Trigger className="button px-2!" data-tip="Columns" aria-label="Columns">
        <Columns3 size={14} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          collisionPadding={8}
          className="panel float z-40 flex max-h-(--radix-popover-content-available-height) w-64 flex-col"
        >
          <div className="min-h-0 grow overflow-y-auto p-2">
            <SortableList ids={ids} nameOf={nameOf} onMove={(from, to) => table.setColumnOrder(moved(ids, from, to))}>
              {(id, _index, grip) => {
                const column = table.getColumn(id)!;
                const stays = column.getIsPinned() === "start";
                return (
                  <div className="flex items-center gap-2 py-0.5">
                    {grip}
                    <Checkbox
                      className="flex min-w-0 grow items-center gap-2"
                      checked={column.getIsVisible()}
                      onChange={(on) => column.toggleVisibility(on)}
                    >
                      <span className="truncate">{nameOf(id)}</span>
                    </Checkbox>
                    <button
                      type="button"
                      className={`rounded p-0.5 ${stays ? "text-action" : "text-soft/50 hover:text-ink"}`}
                      aria-pressed={stays}
                      aria-label={`Keep ${nameOf(id)} at the left`}
                      data-tip="Keep at the left"
                      onClick={() => column.pin(stays ? false : "start")}
                    >
                      <Pin size={13} />
                    </button>
                  </div>
                );
              }}
            </SortableList>
          </div>
          <p className="border-t border-line px-3 py-2 text-xs text-soft">
            In the table: Alt ↑ ↓ sorts by the column at hand, Alt ← → sizes it.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
