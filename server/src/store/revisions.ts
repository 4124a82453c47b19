/** A text by what differs from the text after it: so many letters are alike at the beginning and at the end. */
export interface Difference {
  readonly start: number;
  readonly end: number;
  readonly middle: string;
}

/** What makes `after` into `before`: small when one stretch was changed, as an edit does. */
export function differenceOf(before: string, after: string): Difference {
  const most = Math.min(before.length, after.length);
  let start = 0;
  while (start < most && before.charCodeAt(start) === after.charCodeAt(start)) start += 1;
  let end = 0;
  while (end < most - start && before.charCodeAt(before.length - 1 - end) === after.charCodeAt(after.length - 1 - end))
    end += 1;
  return { start, end, middle: before.slice(start, before.length - end) };
}

export const applied = ({ start, end, middle }: Difference, after: string): string =>
  after.slice(0, start) + middle + after.slice(after.length - end);
