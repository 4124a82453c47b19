import { Command } from "cmdk";
import { ChevronDown } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { groupBy } from "../groupBy.ts";
import type { Option } from "./Choice.tsx";

/** A choice of one from a long list, found by typing part of it. */
export function SearchedChoice<T extends string>({
  options,
  onChoose,
  label,
  children,
}: {
  options: readonly Option<T>[];
  onChoose: (value: T) => void;
  /** Its name, and what the field in which one types asks for. */
  label: string;
  /** What the button says. */
  children: React.ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="button" aria-label={label}>
        {children} <ChevronDown size={14} className="text-soft" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          className="panel float z-50 w-80 overflow-hidden"
          data-testid="choices"
        >
          <Command label={label}>
            <Command.Input
              placeholder={`${label} …`}
              className="w-full border-b border-line bg-transparent px-3 py-2 outline-none"
            />
            <Command.List className="max-h-72 overflow-y-auto p-1">
              <Command.Empty className="px-2 py-3 text-soft">Nothing is called that.</Command.Empty>
              {[...groupBy(options, (o) => o.under ?? "")].map(([under, members]) => (
                <Command.Group
                  key={under}
                  heading={under}
                  className="[&_[cmdk-group-heading]]:caps [&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-1.5"
                >
                  {members.map((o) => (
                    <Command.Item
                      key={o.value}
                      value={`${under} ${o.label} ${o.value}`}
                      className="cursor-pointer rounded px-2 py-1 data-[selected=true]:bg-water"
                      onSelect={() => {
                        setOpen(false);
                        onChoose(o.value);
                      }}
                    >
                      {o.label}
                    </Command.Item>
                  ))}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
