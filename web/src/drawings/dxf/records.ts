import { refuse } from "../problem.ts";

/**
 * One record of a DXF file: what begins with code 0, and the pairs of code and value
 * up to the next. Vertices of an old-style polyline are its children.
 */
export class DxfRecord {
  readonly codes: number[] = [];
  readonly values: string[] = [];
  readonly children: DxfRecord[] = [];

  constructor(readonly type: string) {}

  /** The first value of a code. */
  text(code: number): string | undefined {
    const at = this.codes.indexOf(code);
    return at < 0 ? undefined : this.values[at];
  }

  /** The first value of a code as a number; `missing` where there is none. NaN for what is no number. */
  number(code: number, missing = Number.NaN): number {
    const at = this.codes.indexOf(code);
    return at < 0 ? missing : Number.parseFloat(this.values[at]);
  }

  /** All values of a code as numbers. */
  numbers(code: number): number[] {
    return this.values.filter((_, i) => this.codes[i] === code).map(Number.parseFloat);
  }
}

const BROKEN = "Save it again as DXF in text form.";

/**
 * Goes through the records of a file from its first line to its end mark, once:
 * whatever is in it, this ends. Throws a `DrawingProblem` where the pairs break off.
 * `onProgress` is told now and then which share has been read.
 */
export function eachRecord(
  text: string,
  take: (record: DxfRecord) => void,
  onProgress?: (share: number) => void,
): void {
  let at = 0;
  let line = 0;
  let told = 0;
  const next = (): string | undefined => {
    if (at >= text.length) return undefined;
    let end = text.indexOf("\n", at);
    if (end < 0) end = text.length;
    const value = text.slice(at, end);
    at = end + 1;
    line += 1;
    return value.trim();
  };
  let record: DxfRecord | undefined;
  for (;;) {
    const head = next();
    const value = next();
    if (head === undefined || value === undefined)
      return refuse("The file is cut off: its end mark is missing.", BROKEN);
    const code = /^-?\d{1,4}$/.test(head)
      ? Number(head)
      : refuse(`The file is broken at line ${line - 1}: "${head.slice(0, 30)}" stands where a code should.`, BROKEN);
    if (code === 999) continue;
    if (code === 0) {
      if (record) take(record);
      if (value === "EOF") return;
      record = new DxfRecord(value);
      if (onProgress && at - told > text.length / 50) onProgress((told = at) / text.length);
    } else if (record) {
      record.codes.push(code);
      record.values.push(value);
    }
  }
}
