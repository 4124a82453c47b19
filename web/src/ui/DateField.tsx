import { format, isValid, parse } from "date-fns";
import { CalendarDays } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { DayPicker } from "react-day-picker";
import { readable, useKept } from "./useKept.ts";

const KEPT = "yyyy-MM-dd";
/** How people write dates; the first is how it is shown. */
const WRITTEN = ["d MMM yyyy", "d MMMM yyyy", KEPT, "d.M.yyyy", "d/M/yyyy"];

const dateOf = (kept: string): Date | undefined => {
  const date = parse(kept, KEPT, new Date(0));
  return isValid(date) ? date : undefined;
};

/** A date from what people type, as yyyy-mm-dd; undefined where it is none. */
export function readDate(text: string): string | undefined {
  for (const written of WRITTEN) {
    const date = parse(text.trim(), written, new Date(0));
    if (isValid(date) && date.getFullYear() >= 1900 && date.getFullYear() < 2200) return format(date, KEPT);
  }
  return undefined;
}

const DATE = readable(readDate, "This is no date. Write it as 3 Jun 2026.");

/** A date: typed, or chosen from a month that opens below it. Text that is no date stays, and the old one holds. */
export function DateField({
  id,
  label,
  value,
  invalid,
  onChange,
  className = "w-40 shrink-0",
}: {
  id?: string;
  label?: string;
  /** As yyyy-mm-dd. */
  value: string;
  invalid?: boolean;
  onChange: (value: string) => void;
  className?: string;
}) {
  const [open, setOpen] = useState(false);
  const date = dateOf(value);
  const kept = useKept({ shown: date ? format(date, WRITTEN[0]) : "", schema: DATE, onChange });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Anchor asChild>
        <span className={`relative flex items-center ${className}`}>
          <input
            id={id}
            aria-label={label}
            className="field pr-8!"
            autoComplete="off"
            placeholder="3 Jun 2026"
            aria-invalid={invalid || kept.problem !== undefined}
            data-tip={kept.problem}
            value={kept.text}
            onChange={(event) => kept.onChange(event.target.value)}
            onBlur={kept.onBlur}
            onKeyDown={(event) => {
              if (event.key !== "ArrowDown") return;
              event.preventDefault();
              setOpen(true);
            }}
          />
          <Popover.Trigger
            className="absolute right-2 text-soft"
            aria-label={`Choose ${label ? label.toLowerCase() : "a date"} from a month`}
          >
            <CalendarDays size={14} />
          </Popover.Trigger>
        </span>
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          aria-label={label ?? "Date"}
          className="panel float months z-50 p-3"
          onOpenAutoFocus={(event) => event.preventDefault()}
        >
          <DayPicker
            mode="single"
            autoFocus
            required
            weekStartsOn={1}
            defaultMonth={date}
            selected={date}
            onSelect={(chosen: Date) => {
              kept.giveUp();
              onChange(format(chosen, KEPT));
              setOpen(false);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
