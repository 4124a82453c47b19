import { useState } from "react";
import { readTime } from "./readTime.ts";

/** A time of day. Text that is no time stays, and the old one holds. */
export function TimeField({
  label,
  value,
  onChange,
}: {
  label: string;
  /** As hh:mm. */
  value: string;
  onChange: (value: string) => void;
}) {
  const [typed, setTyped] = useState<string>();
  const isBad = typed !== undefined && readTime(typed) === undefined;
  return (
    <input
      aria-label={label}
      className="field w-20! shrink-0"
      autoComplete="off"
      aria-invalid={isBad}
      data-tip={isBad ? "This is no time of day. Write it as 6:30 or 6.30 pm." : undefined}
      value={typed ?? value}
      onChange={(event) => {
        setTyped(event.target.value);
        const read = readTime(event.target.value);
        // Midnight at the end of a day is the next day's beginning, which another date says.
        if (read && read !== "24:00") onChange(read);
      }}
      onBlur={() => !isBad && setTyped(undefined)}
    />
  );
}
