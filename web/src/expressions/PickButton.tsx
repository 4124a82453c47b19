import type { ValueType } from "@busy-harbor/core";
import { ChartSpline } from "lucide-react";
import { Popover } from "radix-ui";
import { lazy, Suspense, useState } from "react";
import { useStudy } from "../state/study.ts";

/** Fetched when it is first opened. */
const PickDistribution = lazy(() => import("./PickDistribution.tsx"));

/** Opens the choice of a distribution by what one knows, for the field it stands beside. */
export function PickButton({
  label,
  value,
  wanted,
  onWrite,
}: {
  /** Of the field. */
  label: string;
  value: string;
  wanted: ValueType;
  onWrite: (text: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const button = (
    <button
      type="button"
      className="shrink-0 rounded p-1 text-soft hover:text-action"
      aria-label={`Pick a distribution for ${label.toLowerCase()}`}
      data-tip="Pick a distribution by what you know"
      aria-haspopup="dialog"
      onClick={() => setOpen(true)}
    >
      <ChartSpline size={15} />
    </button>
  );
  // There may be many fields: the popover is there only while it is open.
  if (!open) return button;
  return (
    <Popover.Root open onOpenChange={setOpen}>
      <Popover.Trigger asChild>{button}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="left"
          align="start"
          sideOffset={8}
          collisionPadding={8}
          className="panel float z-50 max-h-(--radix-popover-content-available-height) w-[404px] overflow-y-auto p-4"
          data-testid="pick"
        >
          <Suspense fallback={<div className="h-[420px]" />}>
            <PickDistribution
              text={value}
              wanted={wanted}
              units={useStudy.getState().history!.present.units}
              onWrite={(text) => {
                setOpen(false);
                onWrite(text);
              }}
            />
          </Suspense>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
