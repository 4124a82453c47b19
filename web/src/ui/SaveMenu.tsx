import { Download } from "lucide-react";
import { DropdownMenu } from "radix-ui";

/** Ways to save what there is. */
export function SaveMenu({ ways }: { ways: readonly (readonly [label: string, save: () => void])[] }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="button px-2!" aria-label="Save as a file" data-tip="Save as a file">
        <Download size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className="panel float z-50 p-1">
          {ways.map(([label, save]) => (
            <DropdownMenu.Item
              key={label}
              className="cursor-pointer rounded px-2 py-1 outline-none data-[highlighted]:bg-water"
              onSelect={save}
            >
              {label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
