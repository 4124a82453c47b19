import type { Design } from "@busy-harbor/core";
import { DropdownMenu } from "radix-ui";
import { Plus } from "lucide-react";
import { DISPLAY_LABELS, type DisplayKind, showDisplay } from "../displays/displayStore.ts";
import { placeDisplay } from "./placeDisplay.ts";
import { Section } from "./fields.tsx";

/** The displays on the design's floor, and the way to add one. */
export function DisplayList({ design }: { design: Design }) {
  return (
    <Section title="Displays">
      <ul aria-label="Displays">
        {design.displays.map((display) => (
          <li key={display.id} className="flex justify-between py-0.5">
            <button
              className="min-w-0 truncate rounded px-1 text-action underline-offset-2 hover:underline"
              onClick={() => showDisplay(display.id)}
            >
              {display.title ||
                (display.kind === "text" ? display.text.slice(0, 40) : "") ||
                DISPLAY_LABELS[display.kind]}
            </button>
            <span className="text-soft">{DISPLAY_LABELS[display.kind].toLowerCase()}</span>
          </li>
        ))}
      </ul>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="button mt-1">
          <Plus size={14} /> Display
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className="panel float z-50 p-1" align="start">
            {(Object.keys(DISPLAY_LABELS) as DisplayKind[]).map((kind) => (
              <DropdownMenu.Item
                key={kind}
                className="cursor-default rounded px-3 py-1 outline-none data-highlighted:bg-water"
                onSelect={() => void placeDisplay(kind)}
              >
                {DISPLAY_LABELS[kind]}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </Section>
  );
}
