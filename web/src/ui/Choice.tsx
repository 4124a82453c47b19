import { Check, ChevronDown } from "lucide-react";
import { Select } from "radix-ui";
import { useState } from "react";
import { groupBy } from "../groupBy.ts";

export interface Option<T extends string> {
  readonly value: T;
  readonly label: string;
  /** Heading under which it stands. */
  readonly under?: string;
}

interface Props<T extends string> {
  readonly value: T;
  readonly options: readonly Option<T>[];
  readonly onChange: (value: T) => void;
  /** Its name for assistive technology, where no label names it. */
  readonly label?: string;
  readonly id?: string;
  readonly describedBy?: string;
  readonly invalid?: boolean;
  /** What stands there while nothing is chosen. */
  readonly placeholder?: string;
  readonly className?: string;
}

/** The package takes the empty text for nothing chosen; here it may be a choice like others. */
const EMPTY = "\u2205";
const packed = (value: string) => (value === "" ? EMPTY : value);
const unpacked = <T extends string>(value: string) => (value === EMPTY ? "" : value) as T;

/** A choice of one from a list that opens below it. */
export function Choice<T extends string>({
  value,
  options,
  onChange,
  label,
  id,
  describedBy,
  invalid,
  placeholder,
  className = "",
}: Props<T>) {
  const [open, setOpen] = useState(false);
  const chosen = options.find((o) => o.value === value);
  return (
    <Select.Root
      open={open}
      onOpenChange={setOpen}
      value={chosen ? packed(value) : ""}
      onValueChange={(next) => onChange(unpacked<T>(next))}
    >
      <Select.Trigger
        id={id}
        aria-label={label}
        aria-describedby={describedBy}
        aria-invalid={invalid}
        className={`field flex items-center justify-between gap-1.5 text-left ${className}`}
      >
        <span className={`truncate ${chosen ? "" : "text-soft"}`}>
          <Select.Value placeholder={placeholder ?? "choose"}>{chosen?.label}</Select.Value>
        </span>
        <Select.Icon className="shrink-0 text-soft">
          <ChevronDown size={14} />
        </Select.Icon>
      </Select.Trigger>
      {/* Hundreds may be on a page: their lists are made when they open. */}
      {open && (
        <Select.Portal>
          <Select.Content
            position="popper"
            sideOffset={4}
            collisionPadding={8}
            className="panel float z-50 max-h-[min(360px,var(--radix-select-content-available-height))] max-w-96 min-w-(--radix-select-trigger-width) overflow-hidden"
            data-testid="choices"
          >
            <Select.Viewport className="p-1">
              {[...groupBy(options, (o) => o.under ?? "")].map(([under, members]) => (
                <Select.Group key={under}>
                  {under !== "" && <Select.Label className="caps px-2 pt-1.5 pb-0.5">{under}</Select.Label>}
                  {members.map((o) => (
                    <Select.Item
                      key={o.value}
                      value={packed(o.value)}
                      className="flex cursor-pointer items-center justify-between gap-3 rounded px-2 py-1 outline-none data-[highlighted]:bg-water"
                    >
                      <Select.ItemText>{o.label}</Select.ItemText>
                      <Select.ItemIndicator>
                        <Check size={14} />
                      </Select.ItemIndicator>
                    </Select.Item>
                  ))}
                </Select.Group>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      )}
    </Select.Root>
  );
}
