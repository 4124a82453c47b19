import { Popover } from "radix-ui";
import { lazy, Suspense, useState } from "react";

const ColourPanel = lazy(() => import("./ColourPanel.tsx"));

/** A colour: a patch that opens a field to choose from, by pointer, by arrow keys or by its number. */
export function ColourField({
  id,
  label,
  title,
  value,
  onChange,
  className = "h-7 w-14",
}: {
  id?: string;
  label?: string;
  title?: string;
  /** As #rrggbb. */
  value: string;
  onChange: (value: string) => void;
  className?: string;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        id={id}
        aria-label={label}
        data-tip={title}
        className={`shrink-0 rounded border border-line p-0.5 ${className}`}
      >
        <span className="block h-full w-full rounded-sm" style={{ background: value }} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={8}
          aria-label={label ?? "Colour"}
          className="panel float z-50 flex flex-col gap-2 p-3"
          onKeyDown={(event) => event.key === "Enter" && setOpen(false)}
        >
          <Suspense fallback={<div className="h-[240px] w-[200px]" />}>
            <ColourPanel value={value} onChange={onChange} />
          </Suspense>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
