import type { Range } from "./range.ts";

/** A number and what follows it, such as a unit. */
const MEASURED = /^\s*(-?\d+(?:\.\d+)?)(\D*)$/;

/**
 * The `count` texts that go on from some: numbers with one unit in equal steps go on in these steps (2 min, 4 min, then
 * 6 min); all else is repeated.
 */
export function goOn(texts: readonly string[], count: number): string[] {
  const read = texts.map((t) => MEASURED.exec(t));
  const numbers = read.map((m) => Number(m?.[1]));
  const step = numbers[1] - numbers[0];
  const digits = Math.max(0, ...read.map((m) => m?.[1].split(".")[1]?.length ?? 0));
  const even =
    texts.length > 1 &&
    read.every((m) => m && m[2] === read[0]![2]) &&
    numbers.every((n, i) => i === 0 || Math.abs(n - numbers[i - 1] - step) < 10 ** -(digits + 2));
  return Array.from({ length: count }, (_, i) =>
    even
      ? `${Number((numbers[0] + step * (texts.length + i)).toFixed(digits))}${read[0]![2]}`
      : texts[i % texts.length],
  );
}

/** The cells that a block grows into, downwards or to the right, with what each gets. */
export function filled(
  from: Range,
  to: Range,
  textAt: (row: number, column: number) => string,
): { readonly row: number; readonly column: number; readonly text: string }[] {
  const down = to.bottom > from.bottom;
  const [first, last, next, end] = down
    ? [from.top, from.bottom, from.bottom + 1, to.bottom]
    : [from.left, from.right, from.right + 1, to.right];
  const lines = down ? [from.left, from.right] : [from.top, from.bottom];
  const cells = [];
  for (let line = lines[0]; line <= lines[1]; line++) {
    const texts = [];
    for (let i = first; i <= last; i++) texts.push(down ? textAt(i, line) : textAt(line, i));
    const more = goOn(texts, end - next + 1);
    for (let i = next; i <= end; i++)
      cells.push({ row: down ? i : line, column: down ? line : i, text: more[i - next] });
  }
  return cells;
}
