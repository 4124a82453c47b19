import { useMemo } from "react";
import { numberWithin, useKept } from "./useKept.ts";

/** A number in a small field with its name above. What cannot be read stays as it is typed, with the reason. */
export function NumberBox({
  label,
  value,
  least = -Number.MAX_VALUE,
  most = Number.MAX_VALUE,
  whole = false,
  onChange,
}: {
  label: string;
  value: number;
  least?: number;
  most?: number;
  whole?: boolean;
  onChange: (value: number) => void;
}) {
  const schema = useMemo(() => numberWithin(least, most, whole), [least, most, whole]);
  const kept = useKept({ shown: String(value), schema, onChange });
  return (
    <label className="flex flex-col text-xs text-soft">
      {label}
      <input
        className="field mt-0.5 w-24! text-right text-[13px] text-ink tabular-nums"
        aria-invalid={kept.problem !== undefined}
        data-tip={kept.problem}
        value={kept.text}
        onChange={({ target }) => kept.onChange(target.value)}
        onBlur={kept.onBlur}
      />
    </label>
  );
}
