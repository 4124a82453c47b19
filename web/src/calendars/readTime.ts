/** A time of day from what people type: 6, 6:30, 0630, 24:00. */
export function readTime(text: string): string | undefined {
  const found = /^\s*(\d{1,2})(?:[:.h]?(\d{2}))?\s*$/.exec(text);
  if (!found) return undefined;
  const [hours, minutes] = [Number(found[1]), Number(found[2] ?? 0)];
  if (minutes > 59 || hours > 24 || (hours === 24 && minutes > 0)) return undefined;
  return `${String(hours).padStart(2, "0")}:${String(minutes).padStart(2, "0")}`;
}
