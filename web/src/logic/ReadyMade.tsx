import type { Design } from "@busy-harbor/core";
import { Plus } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useStudy } from "../state/study.ts";
import { READY_MADE } from "./readyMade.ts";

/** Adds a rule: one of the common wishes, to be filled in, or one without steps. */
export function ReadyMade({ design, at, onMade }: { design: Design; at?: string; onMade: (id: string) => void }) {
  const make = (label: string, recipe: (design: Design) => string) => {
    let id = "";
    useStudy.getState().changeDesign(`Add rule: ${label.toLowerCase()}`, (d) => void (id = recipe(d)));
    onMade(id);
  };
  const isEmpty = design.elements.length === 0;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="button">
        <Plus size={14} /> Rule
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          className="panel float z-50 max-h-[min(480px,var(--radix-dropdown-menu-content-available-height))] w-80 overflow-y-auto p-1"
          data-testid="ready-made"
        >
          {READY_MADE.map(({ label, about, make: recipe }) => (
            <DropdownMenu.Item
              key={label}
              disabled={isEmpty}
              className="cursor-pointer rounded px-2 py-1 outline-none data-[disabled]:opacity-50 data-[highlighted]:bg-water"
              onSelect={() => make(label, (d) => recipe(d, at))}
            >
              <span className="block">{label}</span>
              <span className="block text-xs text-soft">{about}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
