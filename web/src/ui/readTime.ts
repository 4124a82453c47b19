/** A time of day from what people type, as hh:mm: 6, 6:30, 0630, 6.30 pm, 24:00; undefined where it is none. */
export function readTime(text: string): string | undefined {
  const found = /^\s*(\d{1,2})(?:[:.h]?(\d{2}))?\s*([ap])?\.?\s*(?:m\.?)?\s*$/i.exec(text);
  if (!found) return undefined;
  const [, first, second, half] = found;
  const minutes = Number(second ?? 0);
  let hours = Number(first);
  if (half) {
    if (hours < 1 || hours > 12) return undefined;
    hours = (hours % 12) + (half.toLowerCase() === "p" ? 12 : 0);
  }
  if (minutes > 59 || hours > 24 || (hours === 24 && minutes > 0)) return undefined;
  return `${String(hours).padStart(2, "0")}:${String(minutes).padStart(2, "0")}`;
}
