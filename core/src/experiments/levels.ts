import { constantOf } from "./constant.ts";

/** Levels of a factor as they are typed; or what cannot be read. */
export type Levels =
  { readonly ok: true; readonly levels: readonly string[] } | { readonly ok: false; readonly message: string };

/** The most levels that one line may ask for. */
export const MOST_LEVELS = 200;

const RANGE = /^(.+?)\s+to\s+(.+?)\s+(?:by\s+(.+)|in\s+(\d+))$/i;

/**
 * Reads levels: `2, 3, 4`, `60 s, 90 s`, `2 to 10 by 2`, or `60 s to 120 s in 4` for as many evenly apart. Commas in
 * brackets part no levels, so that expressions may be levels too.
 */
export function readLevels(text: string): Levels {
  const levels: string[] = [];
  for (const part of parts(text)) {
    const range = RANGE.exec(part);
    const found = range ? between(range) : { ok: true as const, levels: [part] };
    if (!found.ok) return found;
    levels.push(...found.levels);
    if (levels.length > MOST_LEVELS) return { ok: false, message: `At most ${MOST_LEVELS} levels are taken.` };
  }
  if (levels.length === 0) return { ok: false, message: "Write at least one level, such as 2, 3, 4 or 2 to 10 by 2." };
  return { ok: true, levels };
}

/** What stands between commas or semicolons that no bracket or quotation mark holds. */
function parts(text: string): string[] {
  const found: string[] = [];
  let [depth, from, quoted] = [0, 0, false];
  const take = (to: number) => {
    const part = text.slice(from, to).trim();
    if (part !== "") found.push(part);
    from = to + 1;
  };
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (c === '"') quoted = !quoted;
    else if (quoted) continue;
    else if ("([{".includes(c)) depth += 1;
    else if (")]}".includes(c)) depth -= 1;
    else if ((c === "," || c === ";") && depth === 0) take(i);
  }
  take(text.length);
  return found;
}

/** A number with the unit it is written in, such as 90 and `s`. */
export interface Written {
  readonly number: number;
  readonly unit: string;
  /** SI units in one of the unit. */
  readonly factor: number;
}

/** Reads a number with its unit; undefined where a text is anything else. */
export function writtenNumber(text: string): Written | undefined {
  const match = /^([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*(.*)$/i.exec(text.trim());
  const constant = constantOf(text);
  if (!match || !constant) return undefined;
  const [number, unit] = [Number(match[1]), match[2].trim()];
  const one = constantOf(unit === "" ? "1" : `1 ${unit}`);
  return one ? { number, unit, factor: one.value } : undefined;
}

/** A number as it is written with a unit; the last digits, which are only rounding, are left out. */
export const writeNumber = (number: number, unit: string): string => {
  const text = String(Number(number.toPrecision(12)));
  return unit === "" ? text : /^[/%°]/.test(unit) && unit !== "%" ? `${text}${unit}` : `${text} ${unit}`;
};

function between([, first, last, by, count]: RegExpExecArray): Levels {
  const [low, high] = [first, last].map(writtenNumber);
  const dimensions = [first, last, ...(by === undefined ? [] : [by])].map((t) => constantOf(t)?.dimension.join());
  if (!low || !high) return { ok: false, message: `"${low ? last : first}" is not a number with its unit.` };
  if (dimensions.some((d) => d !== dimensions[0]))
    return { ok: false, message: "The ends and the step must be of one kind, such as times." };
  const end = (high.number * high.factor) / low.factor;
  if (count !== undefined) {
    const n = Number(count);
    if (n < 2) return { ok: false, message: "At least two levels are wanted from one end to the other." };
    if (n > MOST_LEVELS) return { ok: false, message: `At most ${MOST_LEVELS} levels are taken.` };
    return {
      ok: true,
      levels: Array.from({ length: n }, (_, i) =>
        writeNumber(low.number + ((end - low.number) * i) / (n - 1), low.unit),
      ),
    };
  }
  const step = writtenNumber(by);
  const size = step ? (step.number * step.factor) / low.factor : Number.NaN;
  if (!(size * (end - low.number) > 0))
    return { ok: false, message: `Steps of ${by} do not lead from ${first} to ${last}.` };
  const n = Math.floor((end - low.number) / size + 1e-9);
  if (n >= MOST_LEVELS) return { ok: false, message: `At most ${MOST_LEVELS} levels are taken.` };
  return { ok: true, levels: Array.from({ length: n + 1 }, (_, i) => writeNumber(low.number + size * i, low.unit)) };
}
