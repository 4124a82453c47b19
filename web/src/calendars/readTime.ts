/** A time of day from what people type: 6, 6:30, 0630, 24:00. */
export function readTime(text: string): string | undefined {
  const found = /^\s*(\d{1,2})(?:[:.h]?(\d{2}))?\s*$/.exec(text);
  if (!found) return undefined;
  const [hours, minutes] = [Number(found[1]), Number(found[2] ?? 0)];
  if (minutes > 59 || hours > 24 || (hours === 24 && minutes > 0)) return undefined;
  return `${String(hours).padStart(2, "0")}:${String(minutes).padStart(2, "0")}`;
}

/** The text of a whole number from 1 to `most`; undefined where it is none. */
export function wholeUpTo(most: number, text: string): string | undefined {
  const trimmed = text.trim();
  return /^\d{1,9}$/.test(trimmed) && Number(trimmed) >= 1 && Number(trimmed) <= most
    ? String(Number(trimmed))
    : undefined;
}
