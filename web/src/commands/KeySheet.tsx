import { Dialog } from "radix-ui";
import { X } from "lucide-react";
import { allCommands, useCommands } from "./commandStore.ts";
import { Keys } from "./Palette.tsx";
import { groupBy } from "../groupBy.ts";

/** What is done with the pointer, which no command stands for. */
const BY_HAND = [
  ["Drag from an element's edge", "link it"],
  ["Drag a link", "bend it; double-click a bend to take it out"],
  ["Shift and drag", "select by a box"],
  ["Alt and drag", "move without the grid"],
  ["Wheel, or pinch", "zoom; two fingers or Shift and wheel pan"],
] as const;

/** All keys, from the commands themselves (?). */
export function KeySheet() {
  const { open, show } = useCommands();
  const groups = groupBy(open === "keys" ? allCommands().filter((c) => c.keys) : [], (c) => c.group);
  return (
    <Dialog.Root open={open === "keys"} onOpenChange={(next) => !next && show(undefined)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          className="panel float fixed top-[4vh] left-1/2 z-50 max-h-[92vh] w-[760px] -translate-x-1/2 overflow-y-auto p-5"
        >
          <div className="flex items-center justify-between pb-2">
            <Dialog.Title className="text-lg">Keys</Dialog.Title>
            <Dialog.Close className="button button-quiet" aria-label="Close">
              <X size={16} />
            </Dialog.Close>
          </div>
          <div className="columns-2 gap-8">
            {[...groups].map(([group, commands]) => (
              <section key={group} className="mb-3 break-inside-avoid">
                <h3 className="caps pb-1">{group}</h3>
                <dl>
                  {commands.map((command) => (
                    <div key={command.id} className="flex justify-between gap-4 py-0.5">
                      <dt>{command.label}</dt>
                      <dd>
                        <Keys keys={command.keys![0]} />
                      </dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
            <section className="mb-3 break-inside-avoid">
              <h3 className="caps pb-1">With the pointer</h3>
              <dl>
                {BY_HAND.map(([gesture, effect]) => (
                  <div key={gesture} className="py-0.5">
                    <dt className="inline font-medium">{gesture}</dt>: <dd className="inline text-soft">{effect}</dd>
                  </div>
                ))}
              </dl>
            </section>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
