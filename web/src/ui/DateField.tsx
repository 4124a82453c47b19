import { format, isValid, parse } from "date-fns";
import { CalendarDays } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { DayPicker } from "react-day-picker";

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

/** A date: typed, or chosen from a month that opens below it. Text that is no date stays, and the old one holds. */
export function DateField({
  id,
  label,
  value,
  invalid,
  onChange,
  className = "w-40",
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
  const [typed, setTyped] = useState<string>();
  const date = dateOf(value);
  const isBad = typed !== undefined && readDate(typed) === undefined;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Anchor asChild>
        <span className={`relative flex shrink-0 items-center ${className}`}>
          <input
            id={id}
            aria-label={label}
            className="field pr-8!"
            autoComplete="off"
            placeholder="3 Jun 2026"
            aria-invalid={invalid || isBad}
            data-tip={isBad ? "This is no date. Write it as 3 Jun 2026." : undefined}
            value={typed ?? (date ? format(date, WRITTEN[0]) : "")}
            onChange={(event) => {
              setTyped(event.target.value);
              const read = readDate(event.target.value);
              if (read) onChange(read);
            }}
            onBlur={() => !isBad && setTyped(undefined)}
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
              setTyped(undefined);
              onChange(format(chosen, KEPT));
              setOpen(false);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
