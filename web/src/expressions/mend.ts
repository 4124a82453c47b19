import type { Problem } from "@busy-harbor/core";

/** The text with a problem's mend written where the problem is; undefined where it has none. */
export function mended(text: string, { start = 0, end = text.length, fix }: Problem): string | undefined {
  return fix === undefined || end > text.length ? undefined : text.slice(0, start) + fix + text.slice(end);
}
