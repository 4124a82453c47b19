/** The text of a whole number from 1 to `most`; undefined where it is none. */
export function wholeUpTo(most: number, text: string): string | undefined {
  const trimmed = text.trim();
  return /^\d{1,9}$/.test(trimmed) && Number(trimmed) >= 1 && Number(trimmed) <= most
    ? String(Number(trimmed))
    : undefined;
}
