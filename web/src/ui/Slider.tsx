import { Slider as Primitive } from "radix-ui";
import { memo } from "react";

/** A value set by sliding, or by arrow keys. Drawn anew only when it changes, as it may stand on a page in motion. */
export const Slider = memo(function Slider({
  label,
  value,
  most,
  valueText,
  onChange,
  className = "w-full",
}: {
  label: string;
  value: number;
  /** It goes from 0 to this, in whole steps. */
  most: number;
  /** What the value says, where the number alone does not. */
  valueText?: string;
  onChange: (value: number) => void;
  className?: string;
}) {
  return (
    <Primitive.Root
      className={`relative flex h-5 min-w-0 touch-none items-center ${className}`}
      min={0}
      max={most}
      value={[value]}
      onValueChange={([next]) => onChange(next)}
    >
      <Primitive.Track className="relative h-1.5 grow overflow-hidden rounded-full bg-line">
        <Primitive.Range className="absolute h-full bg-action" />
      </Primitive.Track>
      <Primitive.Thumb
        aria-label={label}
        aria-valuetext={valueText}
        className="block h-4 w-4 rounded-full border-2 border-sheet bg-action shadow"
      />
    </Primitive.Root>
  );
});
