import { ContextMenu } from "radix-ui";
import { Keys } from "../commands/Palette.tsx";
import { perform } from "../commands/commandStore.ts";
import { buildCommands } from "./buildCommands.ts";
import { useBuild } from "./buildStore.ts";

/** The context menu of the floor: commands that can be done to what is selected. */
export function FloorMenu() {
  return (
    <ContextMenu.Portal>
      <ContextMenu.Content className="panel float z-40 min-w-60 p-1" onCloseAutoFocus={backToFloor}>
        <Entries />
      </ContextMenu.Content>
    </ContextMenu.Portal>
  );
}

/** Keys go on where the menu was opened; quick-add, if the menu opened it, keeps them. */
function backToFloor(event: Event): void {
  event.preventDefault();
  if (!useBuild.getState().quickAdd) document.querySelector<HTMLElement>("[data-testid=floor]")?.focus();
}

/** Mounted when the menu opens, so that it offers what can be done then. */
function Entries() {
  return buildCommands
    .filter((c) => c.menu && !c.refusal?.())
    .map((command) => (
      <ContextMenu.Item
        key={command.id}
        onSelect={() => perform(command)}
        className="flex cursor-pointer items-center justify-between gap-6 rounded-md px-2.5 py-1.5 outline-none data-[highlighted]:bg-water"
      >
        {command.label}
        {command.keys && <Keys keys={command.keys[0]} />}
      </ContextMenu.Item>
    ));
}
