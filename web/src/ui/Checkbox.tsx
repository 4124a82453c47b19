import { Check } from "lucide-react";
import { Checkbox as Primitive } from "radix-ui";
import type { ReactNode } from "react";

/** A box to tick, with its words. */
export function Checkbox({
  checked,
  disabled,
  onChange,
  id,
  className = "flex items-center gap-2 py-0.5",
  title,
  children,
}: {
  checked: boolean;
  disabled?: boolean;
  onChange: (checked: boolean) => void;
  id?: string;
  className?: string;
  title?: string;
  /** What it says; without, a label elsewhere names it by its id. */
  children?: ReactNode;
}) {
  const box = (
    <Primitive.Root
      id={id}
      checked={checked}
      disabled={disabled}
      onCheckedChange={(state) => onChange(state === true)}
      className="flex h-4 w-4 shrink-0 items-center justify-center rounded border border-soft bg-sheet text-on-action data-[state=checked]:border-action data-[state=checked]:bg-action disabled:opacity-50"
    >
      <Primitive.Indicator>
        <Check size={12} strokeWidth={3} />
      </Primitive.Indicator>
    </Primitive.Root>
  );
  if (children === undefined) return box;
  return (
    <label className={className} data-tip={title}>
      {box} {children}
    </label>
  );
}
