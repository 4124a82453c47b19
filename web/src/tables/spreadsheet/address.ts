/** A block of cells by the numbers, from 1, of its first and last column and row. */
export interface Block {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** The block of an address such as B3:F20; undefined where a text is none. */
export function blockOf(address: string): Block | undefined {
  const [, left, top, right, bottom] = /^([A-Z]+)(\d+):([A-Z]+)(\d+)$/.exec(address) ?? [];
  if (bottom === undefined) return undefined;
  return { left: numberOf(left), top: Number(top), right: numberOf(right), bottom: Number(bottom) };
}

const numberOf = (letters: string): number =>
  [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0);

/** The letters of a column, from 1. */
export function lettersOf(column: number): string {
  const before = Math.floor((column - 1) / 26);
  return `${before > 0 ? lettersOf(before) : ""}${String.fromCharCode(65 + ((column - 1) % 26))}`;
}
