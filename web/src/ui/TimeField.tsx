import { readTime } from "./readTime.ts";
import { readable, useKept } from "./useKept.ts";

/** Midnight at the end of a day is the next day's beginning, which another date says. */
const readWithinDay = (text: string) => {
  const read = readTime(text);
  return read === "24:00" ? undefined : read;
};
const TIME_OF_DAY = readable(readWithinDay, "This is no time of day. Write it as 6:30 or 6.30 pm.");

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
  const kept = useKept({ shown: value, schema: TIME_OF_DAY, onChange });
  return (
    <input
      aria-label={label}
      className="field w-20! shrink-0"
      autoComplete="off"
      aria-invalid={kept.problem !== undefined}
      data-tip={kept.problem}
      value={kept.text}
      onChange={(event) => kept.onChange(event.target.value)}
      onBlur={kept.onBlur}
    />
  );
}
